import { execFileSync } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import {
  acceptPairs,
  applyDecisions,
  compile,
  type Decision,
  type EditList,
  formatTimecode,
  type Original,
  onEvent,
  type Pairing,
  pair,
  RATES,
  type ReturnClip,
  readEdl,
  standingList,
  USUAL_RETURN,
} from '@gemello/core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { closePictures, grabPicture, HALF, makeProxies, probeMovie, scan, writeReturn } from '../src';
import { clipMaker } from '../src/tasks/clips';
import { otherPictures as lookAt } from '../src/tasks/clips-seen';
import { numberIn, RASTER, writeClip, writeFrames } from './footage';
import { prove } from './proving';

const going = { aborted: false };
const quiet = () => {};
const tc = (n: number) => formatTimecode(n, RATES['24']);

let folder: string;
let originals: Original[];
let reference: Original;
const at = (clip: string) => originals.find((o) => o.clipName === clip)?.path ?? '';

/** Two takes; the cut shows 20..60 of the first and 30..60 of the second. Frame n of take two carries 1000 + n. */
beforeAll(() => {
  folder = mkdtempSync(path.join(tmpdir(), 'gemello-'));
  const base = { writer: 'intra-8bit', rate: RATES['24'], frames: 100 } as const;
  writeClip(path.join(folder, 'cards', 'A001C001.mov'), { ...base, reel: 'A001', start: '01:00:00:00' });
  writeClip(path.join(folder, 'cards', 'A001C002.mov'), { ...base, reel: 'A001', start: '02:00:00:00' }, 1000);
  writeClip(path.join(folder, 'a.mov'), { ...base, reel: '', start: '10:00:00:00', frames: 40 }, 20);
  writeClip(path.join(folder, 'b.mov'), { ...base, reel: '', start: '10:00:00:00', frames: 30 }, 1030);
  // The reference is put together by the ffmpeg program, not by Gemello: letterbox, another raster, heavy compression.
  const graph =
    '[0:v][1:v]concat=n=2:v=1,scale=160:90,drawbox=y=0:h=10:color=black:t=fill,drawbox=y=80:h=10:color=black:t=fill,format=yuv420p';
  execFileSync('ffmpeg', [
    '-v',
    'error',
    '-y',
    '-i',
    path.join(folder, 'a.mov'),
    '-i',
    path.join(folder, 'b.mov'),
    '-filter_complex',
    graph,
    '-timecode',
    '10:00:00:00',
    '-c:v',
    'libx264',
    '-crf',
    '30',
    path.join(folder, 'reference.mp4'),
  ]);
  reference = probeMovie(path.join(folder, 'reference.mp4'));
  ({ originals } = scan({ folders: [path.join(folder, 'cards')] }, quiet, going));
});
afterAll(() => {
  closePictures();
  rmSync(folder, { recursive: true });
});

const cut = (first = 20, second = 30): EditList =>
  readEdl(
    `TITLE: CUT
001  A001  V  C  ${tc(86_400 + first)} ${tc(86_400 + first + 40)} 10:00:00:00 10:00:01:16
002  A001  V  C  ${tc(172_800 + second)} ${tc(172_800 + second + 30)} 10:00:01:16 10:00:02:22
`,
    { rate: RATES['24'] },
  );
const pairs = (first = 20, second = 30): Decision[] => [
  { kind: 'pair', event: 'V1/1', original: at('A001C001'), sourceStartFrame: first },
  { kind: 'pair', event: 'V1/2', original: at('A001C002'), sourceStartFrame: second },
];
const settled = (list: EditList, decisions: readonly Decision[]) => applyDecisions(list, decisions).list;
const proof = (decisions: Decision[]) =>
  prove({ list: settled(cut(), decisions), originals, reference, cache: null, only: null }, quiet, going);

describe('a proof against a reference that the ffmpeg program made', () => {
  it('finds nothing where the conform is right', () => {
    const { events, framesCompared } = proof(pairs());
    expect(events.map((e) => [e.verdict, e.findings])).toEqual([
      ['same', []],
      ['same', []],
    ]);
    expect(framesCompared).toBe(70);
  });
  it('finds a slip with its exact number of frames, and the mend proves', () => {
    const slipped = pairs(20 - 4, 30 + 7);
    expect(proof(slipped).events.map((e) => e.findings)).toMatchObject([
      [{ kind: 'slipped', frames: 4 }],
      [{ kind: 'slipped', frames: -7 }],
    ]);
    const mended: Decision[] = [
      ...slipped,
      { kind: 'slip', event: 'V1/1', original: at('A001C001'), sourceStartFrame: 20 },
      { kind: 'slip', event: 'V1/2', original: at('A001C002'), sourceStartFrame: 30 },
    ];
    expect(proof(mended).events.map((e) => e.verdict)).toEqual(['same', 'same']);
  });
  it('tells a wrong take and finds the right one, at its exact frame', () => {
    const wrong: Decision[] = [{ kind: 'pair', event: 'V1/1', original: at('A001C002'), sourceStartFrame: 20 }, ...pairs().slice(1)];
    expect(proof(wrong).events[0]).toMatchObject({
      verdict: 'differs',
      findings: [{ kind: 'wrong-picture', path: at('A001C001'), sourceStartFrame: 20, sourceIn: tc(86_420) }],
    });
  });
  it('leaves what is not paired unchecked', () => {
    expect(proof([]).events.map((e) => e.verdict)).toEqual(['unchecked', 'unchecked']);
  });
  it('of chosen events leaves the others alone', () => {
    const { events } = prove(
      { list: settled(cut(), pairs()), originals, reference, cache: path.join(folder, 'cache'), only: ['V1/2'] },
      quiet,
      going,
    );
    expect(events.map((e) => e.event)).toEqual(['V1/2']);
    // The small pictures of the reference and of both originals, each made once.
    expect(readdirSync(path.join(folder, 'cache'))).toHaveLength(3);
  });
  it('stops when asked', () => {
    expect(() => prove({ list: settled(cut(), pairs()), originals, reference, cache: null, only: null }, quiet, { aborted: true })).toThrow(
      'Stopped',
    );
  });
});

describe('a return', () => {
  const cdl = { slope: [0.5, 0.5, 0.5], offset: [0, 0, 0], power: [1, 1, 1], saturation: 1 } as const;
  const write = (name: string, extra: Decision[] = [], render = true) =>
    writeReturn(
      {
        list: settled(cut(), [...pairs(), ...extra]),
        originals,
        folder: path.join(folder, name),
        asked: { ...USUAL_RETURN, handles: 12 },
        title: 'BACK',
        render,
      },
      quiet,
      going,
    );
  const ffprobe = (file: string) =>
    JSON.parse(
      execFileSync('ffprobe', [
        '-v',
        'error',
        '-count_packets',
        '-show_entries',
        'stream=nb_read_packets,codec_name,pix_fmt:stream_tags',
        '-of',
        'json',
        file,
      ]).toString(),
    ).streams;

  it('writes clips whose timecode, reel and frame count the ffprobe program confirms', () => {
    const result = write('out');
    expect(result.problems).toEqual([]);
    const [video, data] = ffprobe(path.join(folder, 'out', 'A001C001.mov'));
    // 40 frames and 12 of handle at each side, from frame 20 - 12 = 8 of the source.
    expect(video).toMatchObject({ nb_read_packets: '64', codec_name: 'prores', pix_fmt: 'yuv422p10le', tags: { timecode: '01:00:00:08' } });
    expect(data.tags).toMatchObject({ reel_name: 'A001', timecode: '01:00:00:08' });
  });
  it('holds exactly the frames it names', () => {
    const clip = probeMovie(path.join(folder, 'out', 'A001C002.mov'));
    for (const n of [0, 12, clip.frames - 1]) {
      const picture = grabPicture(clip, n, RASTER.width, RASTER.height);
      expect(picture && numberIn(picture.pixels, picture.width, picture.height)).toBe(1018 + n);
    }
  });
  it('writes a list line by line as reckoned by hand', () => {
    expect(readFileSync(path.join(folder, 'out', 'BACK.edl'), 'utf8').split('\n')).toEqual([
      'TITLE: BACK',
      'FCM: NON-DROP FRAME',
      '001  A001     V     C        01:00:00:20 01:00:02:12 10:00:00:00 10:00:01:16',
      '* FROM CLIP NAME: A001C001',
      '* SOURCE FILE: A001C001.mov',
      '002  A001     V     C        02:00:01:06 02:00:02:12 10:00:01:16 10:00:02:22',
      '* FROM CLIP NAME: A001C002',
      '* SOURCE FILE: A001C002.mov',
      '',
    ]);
  });
  it('asked again renders nothing again; with a new grade only the clip that has it', () => {
    const before = statSync(path.join(folder, 'out', 'A001C001.mov')).mtimeMs;
    expect(write('out').clips.map((c) => c.reused)).toEqual([true, true]);
    expect(statSync(path.join(folder, 'out', 'A001C001.mov')).mtimeMs).toBe(before);
    expect(write('out', [{ kind: 'grade', scope: onEvent('V1/2'), cdl }]).clips.map((c) => c.reused)).toEqual([true, false]);
  });
  it('writes a clip anew that was damaged meanwhile, though its name, length and timecode are as planned', () => {
    const file = path.join(folder, 'out', 'A001C001.mov');
    const bytes = readFileSync(file);
    bytes.fill(0, bytes.length >> 1, (bytes.length >> 1) + 64);
    writeFileSync(file, bytes);
    const again = write('out', [{ kind: 'grade', scope: onEvent('V1/2'), cdl }]);
    expect([again.clips.map((c) => c.reused), again.problems]).toEqual([[false, true], []]);
  });
  it('is a problem where a clip shows other pictures than were meant', () => {
    const graded: Decision = { kind: 'grade', scope: onEvent('V1/2'), cdl };
    const [first, second] = write('out', [graded]).clips;
    const conform = compile(settled(cut(), [...pairs(), graded]), originals);
    const otherPictures = (clip: ReturnClip, original: Original, written: Original) =>
      lookAt(clipMaker(conform, 'intra')(clip, original), written);
    if (!first || !second) throw new Error('two clips were written');
    const of = (clipName: string) => originals.find((o) => o.clipName === clipName) as Original;
    const [one, two] = [of('A001C001'), of('A001C002')];
    expect(otherPictures(first, one, probeMovie(first.path))).toEqual([]);
    expect(otherPictures(second, two, probeMovie(second.path))).toEqual([]);
    // A frame aside; ungraded where a grade was meant; another original.
    const { given } = first;
    expect(otherPictures({ ...first, given: { in: given.in + 1, out: given.out + 1 } }, one, probeMovie(first.path))).toHaveLength(3);
    expect(otherPictures({ ...second, cdl: null }, two, probeMovie(second.path))).toHaveLength(3);
    expect(otherPictures(first, two, probeMovie(first.path))[0]?.message).toBe('shows another picture than was meant at its frame 0');
  });
  it('bakes the grade in: half the slope is half the code values', () => {
    const mean = (clip: Original, n: number) => {
      const pixels = grabPicture(clip, n, RASTER.width, RASTER.height)?.pixels ?? new Uint8Array(1);
      return pixels.reduce((sum, v) => sum + v, 0) / pixels.length;
    };
    const source = originals.find((o) => o.clipName === 'A001C002') as Original;
    expect(mean(probeMovie(path.join(folder, 'out', 'A001C002.mov')), 20) / mean(source, 38)).toBeCloseTo(0.5, 1);
    expect(readFileSync(path.join(folder, 'out', 'BACK.ccc'), 'utf8')).toContain('<Slope>0.5 0.5 0.5</Slope>');
  });
  it('of a drop-frame source keeps its count: ten minutes are 17 982 frames (SMPTE ST 12-1)', () => {
    const df = RATES['29.97df'];
    writeClip(path.join(folder, 'df', 'C1.mov'), { writer: 'intra-8bit', rate: df, start: '00:09:59;00', reel: 'D1', frames: 90 });
    const { originals: found } = scan({ folders: [path.join(folder, 'df')] }, quiet, going);
    const list = readEdl('FCM: DROP FRAME\n001  D1  V  C  00:10:00;10 00:10:01;10 01:00:00;00 01:00:01;00', { rate: df });
    const decisions: Decision[] = [{ kind: 'pair', event: 'V1/1', original: found[0]?.path ?? '', sourceStartFrame: 40 }];
    writeReturn(
      {
        list: settled(list, decisions),
        originals: found,
        folder: path.join(folder, 'df-out'),
        asked: { ...USUAL_RETURN, handles: 10 },
        title: 'DF',
        render: true,
      },
      quiet,
      going,
    );
    const [video, data] = ffprobe(path.join(folder, 'df-out', 'C1.mov'));
    expect([video.nb_read_packets, video.tags.timecode, data.tags.reel_name]).toEqual(['50', '00:10:00;00', 'D1']);
    expect(readFileSync(path.join(folder, 'df-out', 'DF.edl'), 'utf8')).toContain('00:10:00;10 00:10:01;10 01:00:00;00 01:00:01;00');
  });
  it('only as a list writes no clip', () => {
    write('listed', [], false);
    expect(readdirSync(path.join(folder, 'listed')).sort()).toEqual(['BACK-pairs.csv', 'BACK.aaf', 'BACK.edl', 'BACK.otio', 'BACK.xml']);
  });
  it('is never written beside originals', () => {
    expect(() => write('cards')).toThrow('holds originals');
    expect(readdirSync(path.join(folder, 'cards'))).toHaveLength(2);
  });
  it('that is stopped leaves no half-written clip under a clip name', () => {
    let polls = 0;
    const soon = {
      get aborted() {
        return ++polls > 30;
      },
    };
    expect(() =>
      writeReturn(
        {
          list: settled(cut(), pairs()),
          originals,
          folder: path.join(folder, 'halted'),
          asked: { ...USUAL_RETURN, handles: 12 },
          title: 'BACK',
          render: true,
        },
        quiet,
        soon,
      ),
    ).toThrow('Stopped');
    expect(readdirSync(path.join(folder, 'halted')).filter((f) => f.startsWith(HALF))).toEqual([]);
    expect(readdirSync(path.join(folder, 'halted')).filter((f) => f.endsWith('.mov')).length).toBeLessThan(2);
  });
  it('does not take a foreign record in its folder for its own', () => {
    writeFileSync(path.join(folder, 'listed', 'return.json'), 'nonsense');
    expect(write('listed').clips.every((c) => !c.reused)).toBe(true);
  });
});

it('numbered frames that are missing leave all others in their places: seen, proposed, proved and returned', () => {
  const run = path.join(folder, 'gappy', 'S004');
  writeFrames(run, 30);
  for (const number of [1011, 1012, 1015]) rmSync(path.join(run, `S004.000${number}.dpx`));
  const found = scan({ folders: [path.join(folder, 'gappy')] }, quiet, going).originals;
  const [clip] = found as [Original];
  expect(clip.warnings[0]?.message).toContain('3 numbered frames are missing: 1011–1012, 1015.');
  const numberAt = (of: Original, n: number) => {
    const picture = grabPicture(of, n, RASTER.width, RASTER.height);
    return picture && numberIn(picture.pixels, picture.width, picture.height);
  };
  expect([9, 10, 11, 12, 13, 14, 29].map((n) => numberAt(clip, n))).toEqual([9, null, null, 12, 13, null, 29]);

  const list = readEdl(`TITLE: GAPS\n001  S004  V  C  ${tc(345_600 + 8)} ${tc(345_600 + 15)} 10:00:00:00 10:00:00:07`, {
    rate: RATES['24'],
  });
  const [proposed] = pair(standingList(list), found);
  expect(proposed).toMatchObject({ state: 'short', chosen: { sourceStartFrame: 8, length: { missingInside: 3 } } });
  const { clips, warnings, problems } = writeReturn(
    {
      list: settled(list, acceptPairs([proposed as Pairing], 'best')),
      originals: found,
      folder: path.join(folder, 'held'),
      asked: { ...USUAL_RETURN, handles: 0 },
      title: 'GAPS',
      render: true,
    },
    quiet,
    going,
  );
  expect([problems, warnings.map((w) => w.code)]).toEqual([[], ['frames-missing']]);
  const returned = probeMovie(clips[0]?.path ?? '');
  // Each missing frame is filled with the picture before it.
  expect([0, 1, 2, 3, 4, 5, 6].map((n) => numberAt(returned, n))).toEqual([8, 9, 9, 9, 12, 13, 13]);

  const light = makeProxies(
    { clips: [{ original: clip, into: 'x' }], folder: path.join(folder, 'light'), codec: 'proxy-8bit', size: '640', burnIn: false },
    quiet,
    going,
  );
  const copy = probeMovie(light.made[0]?.copy ?? '');
  expect([copy.frames, copy.start]).toEqual([30, clip.start]);
  expect([9, 10, 11, 12, 14, 15].map((n) => numberAt(copy, n))).toEqual([9, 9, 9, 12, 13, 15]);

  writeClip(path.join(folder, 'gaps.mov'), { writer: 'intra-8bit', rate: RATES['24'], reel: '', start: '10:00:00:00', frames: 24 }, 4);
  const { events } = prove(
    {
      list: settled(
        readEdl(`TITLE: GAPS\n001  S004  V  C  ${tc(345_600 + 4)} ${tc(345_600 + 28)} 10:00:00:00 10:00:01:00`, { rate: RATES['24'] }),
        [{ kind: 'pair', event: 'V1/1', original: clip.path, sourceStartFrame: 4 }],
      ),
      originals: found,
      reference: probeMovie(path.join(folder, 'gaps.mov')),
      cache: null,
      only: null,
    },
    quiet,
    going,
  );
  // The others are right, which is no proof of what is not there.
  expect(events[0]).toMatchObject({ verdict: 'differs', framesCompared: 21, findings: [{ kind: 'picture-missing', frames: 3 }] });
  expect(events[0]?.score).toBeGreaterThan(0.95);
});

it('a card that runs over midnight is paired, proved and returned whole (TRADE.md, matching)', () => {
  const day = 24 * 86_400;
  const base = { writer: 'intra-8bit', rate: RATES['24'] } as const;
  writeClip(path.join(folder, 'night', 'N001C001.mov'), { ...base, reel: 'N001', start: '23:59:57:00', frames: 120 });
  writeClip(path.join(folder, 'night-a.mov'), { ...base, reel: '', start: '10:00:00:00', frames: 84 }, 36);
  const found = scan({ folders: [path.join(folder, 'night')] }, quiet, going).originals;
  // 23:59:58:12 is frame 36 of the clip; 00:00:00:12 its frame 84.
  const text = `TITLE: NIGHT
001  N001  V  C  23:59:58:12 00:00:00:12 10:00:00:00 10:00:02:00
002  N001  V  C  00:00:00:12 00:00:02:00 10:00:02:00 10:00:03:12
`;
  const read = readEdl(text, { rate: RATES['24'] });
  expect(read.tracks[0]?.events[0]).toMatchObject({ retime: { kind: 'natural' }, source: { in: day - 36, out: day + 12 } });
  expect(read.notices).toEqual([]);
  const pairings = pair(standingList(read), found);
  expect(pairings.map((p) => [p.state, p.chosen?.sourceStartFrame])).toEqual([
    ['proposed', 36],
    ['proposed', 84],
  ]);
  const list = settled(read, acceptPairs(pairings, 'unambiguous'));
  const nightly = probeMovie(path.join(folder, 'night-a.mov'));
  const { events } = prove({ list, originals: found, reference: nightly, cache: null, only: null }, quiet, going);
  expect(events.map((e) => e.verdict)).toEqual(['same', 'same']);
  const back = writeReturn(
    { list, originals: found, folder: path.join(folder, 'night-out'), asked: { ...USUAL_RETURN, handles: 6 }, title: 'N', render: true },
    quiet,
    going,
  );
  expect([back.problems, back.clips.map((c) => formatTimecode(c.start, c.rate))]).toEqual([[], ['23:59:58:06', '00:00:00:06']]);
  const edl = readFileSync(path.join(folder, 'night-out', 'N.edl'), 'utf8');
  expect(edl).toContain('23:59:58:12 00:00:00:12 10:00:00:00 10:00:02:00');
  expect(edl).toContain('00:00:00:12 00:00:02:00 10:00:02:00 10:00:03:12');
});
