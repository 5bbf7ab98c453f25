import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { type EditList, EMPTY_LIST, FILLING, formatOfName, type ListFormat, lossesIn, newEvent, RATES, type Rate } from '../src';

/**
 * AAF files that we write, read by the Python reference implementation of the format (PyPI pyaaf2, core/test/aaf_read.py). What is expected
 * is reckoned by hand from the cut below.
 */
const here = path.dirname(fileURLToPath(import.meta.url));
const python = (script: string, ...args: string[]): string =>
  execFileSync(path.join(here, '..', '..', '.venv', 'bin', 'python'), [path.join(here, script), ...args], {
    encoding: 'utf8',
    stdio: ['ignore', 'pipe', 'pipe'],
    maxBuffer: 1 << 28,
  });
const aaf = formatOfName('a.aaf') as ListFormat;
const rate = RATES['25'] as Rate;

let folder: string;
beforeAll(() => {
  folder = mkdtempSync(path.join(tmpdir(), 'gemello-aaf-'));
});
afterAll(() => rmSync(folder, { recursive: true }));

const START = 90_000;
const event = (number: string, from: number, length: number, more: object) =>
  newEvent({
    key: `k${number}`,
    number,
    kind: 'clip',
    reel: 'A011',
    clipName: 'pans',
    fileName: 'A011C001.mov',
    mediaPath: 'file:///media/A011C001.mov',
    sourceRate: rate,
    record: { in: START + from, out: START + from + length },
    source: { in: 900_000 + from, out: 900_000 + from + length },
    ...more,
  } as Parameters<typeof newEvent>[0]);
const dissolve = (duration: number, before: number) => ({
  transitionIn: { type: 'dissolve', duration, before, from: 'previous', wipeCode: null },
});

const CUT: EditList = {
  ...EMPTY_LIST,
  format: 'edl',
  title: 'SALT & WIND',
  rate,
  start: START,
  notes: ['Editor: reel two', 'windy'],
  tracks: [
    {
      name: 'V1',
      kind: 'picture',
      events: [
        event('001', 0, 50, {
          notes: ['Scene: pans', 'ask for the wide one'],
          markers: [{ record: START + 10, colour: null, text: 'dust' }],
        }),
        event('002', 50, 40, {
          reel: 'B004',
          clipName: 'gulls',
          fileName: 'B004C002.mxf',
          mediaPath: '',
          source: { in: 500_000, out: 500_040 },
          ...dissolve(12, 5),
        }),
        // At double speed, from 100 to 120: 40 frames of source.
        event('003', 100, 20, { source: { in: 700_000, out: 700_040 }, retime: { kind: 'constant', speed: { num: 2, den: 1 } } }),
        // Backwards: its last frame comes first.
        event('004', 120, 20, { source: { in: 800_000, out: 800_020 }, retime: { kind: 'constant', speed: { num: -1, den: 1 } } }),
        event('005', 140, 10, { source: { in: 810_000, out: 810_001 }, retime: { kind: 'freeze' } }),
        event('006', 150, 30, { transitionIn: { type: 'wipe', duration: 10, before: 0, from: 'previous', wipeCode: '017' } }),
      ],
    },
    {
      name: 'V2',
      kind: 'picture',
      events: [event('007', 20, 25, { kind: 'title', reel: '', clipName: 'THE SALT YEAR', fileName: '', mediaPath: '' })],
    },
    {
      name: 'A1',
      kind: 'sound',
      events: [event('008', 0, 50, { reel: 'S001', clipName: 'wind', fileName: 'S001T01.wav', mediaPath: '' })],
    },
  ],
};

interface Part {
  is: string;
  length: number;
  clip?: string;
  file?: string;
  path?: string | null;
  tape?: string;
  timecode?: number;
  cut?: number;
  operation?: string;
  parameters?: Record<string, string>;
  /** Of those that change on the way: how, and from where to where. */
  changing?: Record<string, [way: string, points: [time: number, value: number][]]>;
  of?: Part;
}
interface Read {
  cuts: {
    title: string;
    slots: { name: string | null; kind?: string; start?: number; fps?: number; parts?: Part[]; markers?: unknown[] }[];
  }[];
  mobs: number;
  ids: string[];
  classes: string[];
}
const readOf = (name: string, list: EditList): Read => {
  const file = path.join(folder, name);
  writeFileSync(file, aaf.write(list));
  return JSON.parse(python('aaf_read.py', file))[0];
};

describe('the AAF file that a cut is written as', () => {
  it('has its tracks, start and title, gaps where nothing stands, and as many frames as the transitions need', () => {
    const [cut] = readOf('cut.aaf', CUT).cuts;
    expect(cut?.title).toBe('SALT & WIND');
    expect(cut?.slots.map((s) => [s.name, s.kind ?? null])).toEqual([
      [null, null],
      ['V1', 'Picture'],
      ['V2', 'Picture'],
      ['A1', 'Sound'],
      [null, null],
    ]);
    expect(cut?.slots[0]).toMatchObject({ start: START, fps: 25, drop: false });
    expect(cut?.slots[1]?.parts?.map((p) => [p.is, p.length])).toEqual([
      // 50 frames, and 7 that the dissolve takes after its cut.
      ['clip', 57],
      ['transition', 12],
      ['clip', 45],
      ['gap', 10],
      ['effect', 20],
      ['effect', 20],
      // 10 frames, and 10 under the wipe.
      ['effect', 20],
      ['transition', 10],
      ['clip', 30],
    ]);
    expect(cut?.slots[4]?.markers).toEqual([[10, 'dust']]);
  });
  it('leads from each clip to its file with its path, and to the tape with the timecode of its first frame', () => {
    const parts = readOf('cut.aaf', CUT).cuts[0]?.slots[1]?.parts ?? [];
    expect(parts[0]).toMatchObject({
      clip: 'pans',
      file: 'A011C001.mov',
      path: 'file:///media/A011C001.mov',
      tape: 'A011',
      timecode: 900_000,
    });
    // Five frames earlier than the event: the dissolve begins there.
    expect(parts[2]).toMatchObject({ clip: 'gulls', file: 'B004C002.mxf', path: null, tape: 'B004', timecode: 499_995 });
  });
  it('keeps speeds, freezes and the pattern of a wipe as parameters, and titles by what they say', () => {
    const [, pictures, titles] = readOf('cut.aaf', CUT).cuts[0]?.slots ?? [];
    const effects = pictures?.parts?.filter((p) => p.is === 'effect') ?? [];
    // The ratio is length out over length in; the map beside it says which frame of the input is seen at the first frame and past the last.
    expect(
      effects.map((p) => [p.operation, p.parameters?.SpeedRatio, p.changing?.PARAM_SPEED_OFFSET_MAP_U?.[1], p.of?.timecode, p.of?.length]),
    ).toEqual([
      [
        'Motion Control',
        '1/2',
        [
          [0, 0],
          [20, 40],
        ],
        700_000,
        40,
      ],
      [
        'Motion Control',
        '-1',
        [
          [0, 19],
          [20, -1],
        ],
        800_000,
        20,
      ],
      [
        'Motion Control',
        '20',
        [
          [0, 0],
          [20, 0],
        ],
        810_000,
        1,
      ],
    ]);
    const joins = pictures?.parts?.filter((p) => p.is === 'transition') ?? [];
    expect(joins.map((p) => [p.operation, p.cut])).toEqual([
      ['OperationDef_VideoDissolve', 5],
      ['OperationDef_SMPTEVideoWipe', 0],
    ]);
    expect(titles?.parts?.[1]).toMatchObject({ length: 25, parameters: { ParameterDef_TitleText: 'THE SALT YEAR' } });
  });
  it('has sizes, opacity and mirrors as effects around the clip, and says what of a place it cannot', () => {
    const still = { scaleX: 1, scaleY: 1, x: 0, y: 0, rotation: 0, crop: FILLING.crop, opacity: 1 };
    const keys = [
      { ...still, record: 0 },
      { ...still, record: 10, opacity: 0.25 },
    ];
    const placed = (more: object) => ({ placement: { ...FILLING, ...more } });
    const events = [
      event('001', 0, 20, placed({ scaleX: 1.5, scaleY: 1.25, flipX: true })),
      event('002', 20, 20, placed({ keys })),
      event('003', 40, 20, { ...placed({ flipX: true, flipY: true }), retime: { kind: 'freeze' }, source: { in: 810_000, out: 810_001 } }),
      event('004', 60, 20, placed({ scaleX: 2, scaleY: 2, x: 0.25 })),
      event('005', 80, 20, placed({ rotation: 10 })),
    ];
    const list: EditList = { ...CUT, tracks: [{ name: 'V1', kind: 'picture', events }] };
    const parts = readOf('placed.aaf', list).cuts[0]?.slots[1]?.parts ?? [];
    expect(parts[0]).toMatchObject({
      ...{ operation: 'OperationDef_Flop', length: 20 },
      of: {
        operation: 'OperationDef_VideoScale',
        parameters: { ParameterDef_ScaleX: '3/2', ParameterDef_ScaleY: '5/4' },
        of: { clip: 'pans' },
      },
    });
    expect(parts[1]?.changing).toEqual({
      ParameterDef_OpacityLevel: [
        'InterpolationDef_Linear',
        [
          [0, 1],
          [0.5, 0.25],
        ],
      ],
    });
    expect(parts[2]).toMatchObject({ operation: 'OperationDef_FlipFlop', of: { operation: 'Motion Control' } });
    expect(lossesIn(list, aaf).map((n) => [n.code, n.event])).toEqual([
      ['cannot-carry-placement', 'k005'],
      ['cannot-carry-part-placement', 'k004'],
    ]);
    const back = aaf.read(aaf.write(list)).tracks[0]?.events.map((e) => e.placement);
    expect(back).toEqual([...events.slice(0, 3).map((e) => e.placement), { ...FILLING, scaleX: 2, scaleY: 2 }, null]);
  });
  it('is read again as it was, with nothing lost', () => {
    expect(lossesIn(CUT, aaf)).toEqual([]);
    const back = aaf.read(aaf.write(CUT));
    expect(back.tracks.map((t) => t.events.map((e) => [e.number, e.kind, e.clipName, e.reel, e.source, e.notes]))).toEqual(
      CUT.tracks.map((t) =>
        t.events.map((e) => [e.number, e.kind, e.clipName, e.reel, e.kind === 'title' ? { in: 0, out: 25 } : e.source, e.notes]),
      ),
    );
    expect(back.notes).toEqual(CUT.notes);
  });
  it('is the same to the byte each time, with other identities where the cut is another', () => {
    expect(aaf.write(CUT)).toEqual(aaf.write(structuredClone(CUT)));
    const [one, same, other] = [readOf('1.aaf', CUT), readOf('2.aaf', CUT), readOf('3.aaf', { ...CUT, title: 'OTHER' })];
    expect(same.ids).toEqual(one.ids);
    expect(other.ids.filter((id) => !one.ids.includes(id))).toHaveLength(1);
    // A clip, a file and a tape for three pictures' sources in two files, and one of sound.
    expect(one.mobs).toBe(1 + 3 * 3);
  });
  it('describes every class that it uses, as the reference implementation has them', () => {
    const { classes } = readOf('cut.aaf', CUT);
    expect(classes).toContain('DescriptiveMarker');
    expect(JSON.parse(python('aaf_baseline.py'))).toEqual(
      JSON.parse(readFileSync(path.join(here, '..', 'src', 'lists', 'aaf', 'baseline.json'), 'utf8')),
    );
  });
  const many = (count: number): EditList => ({
    ...CUT,
    tracks: [{ name: 'V1', kind: 'picture', events: Array.from({ length: count }, (_, i) => event(String(i), i * 10, 10, {})) }],
  });
  it.each([0, 1, 2, 30, 1000])('is a compound file as MS-CFB wants it, by the olefile library: %i events', (count) => {
    const file = path.join(folder, 'compound.aaf');
    writeFileSync(file, aaf.write(count === 0 ? CUT : many(count)));
    expect(JSON.parse(python('aaf_compound.py', file)).storages).toBeGreaterThan(count);
    // The check sees what it is for: what lies left and right of the entry in the middle has changed places.
    const bytes = readFileSync(file);
    const directory = 4096 * (1 + bytes.readUInt32LE(48));
    const middle = directory + 128 * bytes.readUInt32LE(directory + 76);
    const [left, right] = [bytes.readUInt32LE(middle + 68), bytes.readUInt32LE(middle + 72)];
    bytes.writeUInt32LE(right, middle + 68);
    bytes.writeUInt32LE(left, middle + 72);
    writeFileSync(file, bytes);
    expect(() => python('aaf_compound.py', file)).toThrow();
  });
  it('grows evenly with the cut, beyond what one sector of each table holds', () => {
    const [hundred, thousand, more] = [100, 1000, 4000].map((n) => aaf.write(many(n)).length) as [number, number, number];
    expect((more - thousand) / 3000 / ((thousand - hundred) / 900)).toBeCloseTo(1, 1);
    const { cuts } = readOf('many.aaf', many(4000));
    expect(cuts[0]?.slots[1]?.parts).toHaveLength(4000);
    expect(cuts[0]?.slots[1]?.parts?.at(-1)?.timecode).toBe(900_000 + 39_990);
  });
  it('can be told from what is written at another rate, drop frame included', () => {
    const drop = readOf('drop.aaf', { ...CUT, rate: RATES['29.97df'], tracks: [] }).cuts[0]?.slots[0];
    expect(drop).toMatchObject({ rate: '30000/1001', fps: 30, drop: true });
  });
});
