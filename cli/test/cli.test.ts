import { execFileSync, spawnSync } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { RATES } from '@gemello/core';
import { HALF } from '@gemello/media/plain';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { numberIn, RASTER, writeClip } from '../../media/test/footage';

const bin = fileURLToPath(new URL('../bin/gemello.mjs', import.meta.url));

function gemello(...args: string[]): { code: number | null; json: () => any; out: string; err: string } {
  const { status, stdout, stderr } = spawnSync(process.execPath, [bin, ...args], { encoding: 'utf8', maxBuffer: 1 << 26 });
  return { code: status, json: () => JSON.parse(stdout), out: stdout, err: stderr };
}

let folder: string;
let list: string;
let cards: string;
let reference: string;
beforeAll(() => {
  folder = mkdtempSync(path.join(tmpdir(), 'gemello-'));
  cards = path.join(folder, 'cards');
  const clip = { writer: 'intra-8bit', rate: RATES['25'], reel: 'A001', frames: 80 } as const;
  writeClip(path.join(cards, 'A001C001.mov'), { ...clip, start: '01:00:00:00' });
  reference = path.join(folder, 'reference.mov');
  // The reference shows frames 23..53, where the list says 20..50: a slip of three frames.
  writeClip(reference, { ...clip, reel: '', start: '10:00:00:00', frames: 30 }, 23);
  list = path.join(folder, 'cut.edl');
  writeFileSync(
    list,
    `TITLE: CUT
FCM: NON-DROP FRAME
001  A001     V     C        01:00:00:20 01:00:02:00 10:00:00:00 10:00:01:05
* FROM CLIP NAME: A001C001
`,
  );
});
afterAll(() => rmSync(folder, { recursive: true }));

const withMedia = () => ['--originals', cards, '--rate', '25', '--json'];

describe('the contract', () => {
  it('read: timecodes as text, rate as numbers, exit 0 where nothing is open', () => {
    const { code, json } = gemello('read', list, '--rate', '25', '--json');
    expect(code).toBe(0);
    expect(json()).toMatchObject({
      format: 'edl',
      title: 'CUT',
      rate: { num: 25, den: 1, dropFrame: false },
      startTimecode: '10:00:00:00',
      durationFrames: 30,
      tracks: [
        {
          name: 'V1',
          kind: 'picture',
          events: [
            {
              number: '001',
              reel: 'A001',
              clipName: 'A001C001',
              sourceIn: '01:00:00:20',
              sourceOut: '01:00:02:00',
              recordOut: '10:00:01:05',
              durationFrames: 30,
              speed: 1,
              freeze: false,
              reverse: false,
              transitionIn: null,
            },
          ],
        },
      ],
      notices: [],
    });
  });
  it('scan: originals with exclusive timecode out', () => {
    const { code, json } = gemello('scan', cards, '--json');
    expect(code).toBe(0);
    expect(json().originals).toMatchObject([
      {
        reel: 'A001',
        clipName: 'A001C001',
        timecodeIn: '01:00:00:00',
        timecodeOut: '01:00:03:05',
        frames: 80,
        raster: { width: 256, height: 144 },
      },
    ]);
  });
  it('pair: state, source start frame counted from 0 in the file, evidence', () => {
    const { code, json } = gemello('pair', list, ...withMedia());
    expect(code).toBe(0);
    const { pairs, summary } = json();
    expect(pairs).toMatchObject([
      { event: '001', track: 'V1', state: 'proposed', sourceStartFrame: 20, missingHead: 0, missingTail: 0, shiftFrames: 0 },
    ]);
    expect(pairs[0].evidence.map((e: { criterion: string }) => e.criterion)).toContain('reel');
    expect(summary.proposed).toBe(1);
  });
  it('pair: exit 1 where something is open', () => {
    const empty = mkdtempSync(path.join(folder, 'empty-'));
    const { code, json } = gemello('pair', list, '--originals', empty, '--rate', '25', '--json');
    expect([code, json().pairs[0].state]).toEqual([1, 'unpaired']);
  });
  it('pair: a reel an hour off is named, taken with --infer or shifted by hand, and then proposed or accepted', () => {
    const own = path.join(folder, 'hour');
    const clip = { writer: 'intra-8bit', rate: RATES['25'], reel: 'A001', frames: 80 } as const;
    writeClip(path.join(own, 'A001C001.mov'), { ...clip, start: '11:00:00:00' });
    writeClip(path.join(own, 'A001C002.mov'), { ...clip, start: '11:00:10:00' });
    const off = path.join(folder, 'hour.edl');
    writeFileSync(
      off,
      `TITLE: OFF
001  A001     V     C        10:00:00:20 10:00:02:00 10:00:00:00 10:00:01:05
* FROM CLIP NAME: A001C001
002  A001     V     C        10:00:11:00 10:00:12:00 10:00:01:05 10:00:02:05
* FROM CLIP NAME: A001C002
`,
    );
    const pair = (...more: string[]) => gemello('pair', off, '--originals', own, '--rate', '25', '--json', ...more);
    const before = pair();
    expect(before.json().summary).toMatchObject({ doubtful: 2 });
    expect(before.json().causes).toMatchObject([{ text: expect.stringContaining('+01:00:00:00'), exceptions: [] }]);
    const states = (run: ReturnType<typeof pair>) => run.json().pairs.map((p: any) => [p.state, p.sourceStartFrame, p.shiftFrames]);
    const shifted = [20, 25].map((frame) => ['proposed', frame, 90_000]);
    const inferred = pair('--infer');
    expect(states(inferred)).toEqual(shifted);
    expect(inferred.json().inferred).toHaveLength(1);
    expect(states(pair('--shift', 'A001=+01:00:00:00'))).toEqual(shifted);
    const csv = path.join(folder, 'pairs.csv');
    const page = path.join(folder, 'pairs.html');
    const done = pair('--infer', '--accept-unambiguous', '--csv', csv, '--report', page);
    expect([done.code, done.json().summary.paired]).toEqual([0, 2]);
    expect(readFileSync(csv, 'utf8').split('\r\n')[1]).toContain('A001C001.mov,A001,11:00:00:20,20');
    expect(readFileSync(page, 'utf8').match(/<img alt="A001C00\d" src="data:image\/jpeg;base64,[\w+/=]{200,}">/g)).toHaveLength(2);
    for (const wrong of [
      ['--shift', 'soon'],
      ['--shift', 'Z9=+5'],
      ['--prefer', 'largset'],
      ['--csv', path.join(folder, 'nowhere', 'x.csv')],
    ]) {
      const refused = gemello('pair', off, '--originals', own, '--rate', '25', ...wrong);
      expect([refused.code, refused.out]).toEqual([2, '']);
      expect(refused.err).toMatch(/largset|no reel Z9|no folder|soon/);
    }
    // What is asked on the command line counts before what was decided, after causes were taken too.
    const decided = path.join(folder, 'names.json');
    writeFileSync(decided, JSON.stringify([{ kind: 'rules', rules: { lines: [{ name: 'exact', timecode: 'off' }] } }]));
    const strict = ['--decisions', decided, '--rules', 'Card and clock', '--infer'];
    expect(states(pair(...strict))).toEqual(shifted);
    expect(states(pair('--rules', 'Names alone')).map(([state]: string[]) => state)).toEqual(['short', 'short']);
  });
  it('cuts: the shots of a movie, and a list of them that reads back', () => {
    const two = path.join(folder, 'two.mov');
    const shots = ['testsrc2', 'smptehdbars'].flatMap((source) => ['-f', 'lavfi', '-t', '0.8', '-i', `${source}=s=320x180:r=25`]);
    const joined = ['-filter_complex', '[0:v][1:v]concat=n=2:v=1', '-timecode', '10:00:00:00', '-c:v', 'libx264', '-pix_fmt', 'yuv420p'];
    execFileSync('ffmpeg', ['-v', 'error', '-y', ...shots, ...joined, two]);
    const out = path.join(folder, 'two.edl');
    const { code, json } = gemello('cuts', two, '--out', out, '--json');
    expect([code, json().marks]).toMatchObject([0, [{ kind: 'cut', frame: 20, timecode: '10:00:00:20' }]]);
    const events = gemello('read', out, '--rate', '25', '--json').json().tracks[0].events;
    expect(events.map((e: { recordIn: string; sourceIn: string }) => [e.recordIn, e.sourceIn])).toEqual([
      ['10:00:00:00', '10:00:00:00'],
      ['10:00:00:20', '10:00:00:20'],
    ]);
    const marks = path.join(folder, 'marks.txt');
    writeFileSync(marks, '10:00:00:12\n11:00:00:00\n');
    const given = gemello('cuts', two, '--marks', marks, '--json');
    expect([given.code, given.json().marks]).toMatchObject([1, [{ frame: 12 }]]);
    expect(given.err).toContain('line 2: 11:00:00:00 is not inside the movie, which goes from 10:00:00:00 to 10:00:01:15.');
    expect(gemello('cuts', two, '--threshold', '2')).toMatchObject({ code: 2 });
  });
  it('pair --reference: pictures speak for or against candidates, and lead to what nothing else leads to', () => {
    const pictures = (args: string[]) =>
      gemello('pair', ...args, '--reference', reference, ...withMedia())
        .json()
        .pairs.map((p: { evidence: { criterion: string }[] }) => p.evidence.find((e) => e.criterion === 'picture'));
    // The reference shows the source three frames later than the list has it.
    expect(pictures([list])).toMatchObject([{ result: 'loosely', grade: 'aside', detail: expect.stringMatching(/3 frames later$/) }]);
    const nameless = path.join(folder, 'nameless.edl');
    writeFileSync(
      nameless,
      readFileSync(list, 'utf8')
        .replace(/A001(?= )/g, 'AX  ')
        .replace(/^\*.*$/gm, ''),
    );
    const { pairs } = gemello('pair', nameless, '--reference', reference, ...withMedia()).json();
    expect(pairs).toMatchObject([{ state: 'proposed', sourceStartFrame: 20, original: { reel: 'A001' } }]);
  });
  it('pair --by-picture: every shot of a reference found in the originals, without a list and with one', () => {
    const { code, json, err } = gemello('pair', '--by-picture', '--reference', reference, '--originals', cards, '--json');
    expect(err).not.toContain('rror');
    expect([code, json().summary]).toEqual([0, { proposed: 1, contested: 0, unpaired: 0, exempt: 0 }]);
    expect(json().pairs).toMatchObject([
      { state: 'proposed', recordIn: '10:00:00:00', recordOut: '10:00:01:05', sourceStartFrame: 23, speed: 1, original: { reel: 'A001' } },
    ]);
    const out = path.join(folder, 'found.edl');
    const listed = gemello('pair', list, '--by-picture', '--reference', reference, ...withMedia(), '--list', out);
    const key = gemello('read', list, '--rate', '25', '--json').json().tracks[0].events[0].key;
    expect(listed.json().pairs).toMatchObject([{ key, event: '001', sourceStartFrame: 23 }]);
    expect(gemello('read', out, '--rate', '25', '--json').json().tracks[0].events).toMatchObject([
      { reel: 'A001', sourceIn: '01:00:00:23' },
    ]);
    expect(gemello('pair', '--originals', cards)).toMatchObject({ code: 2, err: expect.stringContaining('pair takes a list') });
    expect(gemello('pair', '--by-picture', '--originals', cards)).toMatchObject({
      code: 2,
      err: expect.stringContaining('--by-picture needs --reference'),
    });
  });
  it('proof: the slip with its exact number of frames, exit 1', () => {
    const { code, json } = gemello('proof', list, '--reference', reference, ...withMedia());
    expect(code).toBe(1);
    expect(json()).toMatchObject({
      events: [{ event: '001', track: 'V1', verdict: 'differs', findings: [{ kind: 'slipped', frames: 3 }] }],
      summary: { differs: 1 },
    });
  });
  it('return: clips with handles, list and table; the grade of a file is used', () => {
    const grades = path.join(folder, 'g.cc');
    writeFileSync(grades, '<ColorCorrection id="001"><SOPNode><Slope>0.5 0.5 0.5</Slope></SOPNode></ColorCorrection>');
    const out = path.join(folder, 'out');
    const { code, json } = gemello('return', list, '--out', out, '--handles', '10', '--grades', grades, ...withMedia());
    expect(code).toBe(0);
    expect(json()).toMatchObject({
      clips: [{ fileName: 'A001C001.mov', headHandle: 10, tailHandle: 10, cdl: { slope: [0.5, 0.5, 0.5] } }],
      problems: [],
    });
    expect(readdirSync(out).sort()).toEqual([
      'A001C001.mov',
      'CUT_RETURN-cc',
      'CUT_RETURN-pairs.csv',
      'CUT_RETURN-report.csv',
      'CUT_RETURN-report.html',
      'CUT_RETURN-report.pdf',
      'CUT_RETURN.aaf',
      'CUT_RETURN.ccc',
      'CUT_RETURN.cdl',
      'CUT_RETURN.edl',
      'CUT_RETURN.otio',
      'CUT_RETURN.xml',
      'return.json',
    ]);
    expect(
      execFileSync('ffprobe', [
        '-v',
        'error',
        '-select_streams',
        'v',
        '-show_entries',
        'stream=nb_frames',
        '-of',
        'csv=p=0',
        path.join(out, 'A001C001.mov'),
      ])
        .toString()
        .trim(),
    ).toBe('50');
  });
  /** The number that a picture of the footage carries, in a PNG, by the program ffmpeg and not by Gemello. */
  const numberOf = (png: string, left = 0) => {
    const { width, height } = RASTER;
    const raw = execFileSync('ffmpeg', [
      '-v',
      'error',
      '-i',
      png,
      '-vf',
      `crop=${width}:${height}:${left}:0`,
      '-f',
      'rawvideo',
      '-pix_fmt',
      'rgb24',
      '-',
    ]);
    return numberIn(new Uint8Array(raw), width, height);
  };
  it('frames: PNGs of 16 bits, named by record timecode, showing exactly the frame', () => {
    const out = path.join(folder, 'stills');
    const { code, json } = gemello('frames', list, '--at', '10:00:00:00,10:00:01:04', '--out', out, ...withMedia());
    expect(code).toBe(0);
    expect(readdirSync(out).sort()).toEqual(['10-00-00-00.png', '10-00-01-04.png']);
    expect([numberOf(path.join(out, '10-00-00-00.png')), numberOf(path.join(out, '10-00-01-04.png'))]).toEqual([20, 49]);
    expect(json().assumed).toMatchObject([{ event: '001', state: 'proposed', sourceStartFrame: 20, key: expect.stringMatching(/^k/) }]);
    expect(
      execFileSync('ffprobe', [
        '-v',
        'error',
        '-show_entries',
        'stream=pix_fmt,width',
        '-of',
        'csv=p=0',
        path.join(out, '10-00-00-00.png'),
      ]).toString(),
    ).toContain('256,rgb48be');
  });
  it('frames: facing shows the reference at the left, the conform at the right', () => {
    const out = path.join(folder, 'facing');
    gemello('frames', list, '--at', '10:00:00:02', '--out', out, '--show', 'facing', '--reference', reference, ...withMedia());
    const still = path.join(out, '10-00-00-02.png');
    expect([numberOf(still), numberOf(still, RASTER.width)]).toEqual([25, 22]);
  });
  it('frames: outside the cut, without a reference, or no timecode: exit 2 and a line that says why', () => {
    const asked = (...args: string[]) => gemello('frames', list, '--out', path.join(folder, 'none'), ...args, ...withMedia());
    for (const [args, why] of [
      [['--at', '09:00:00:00'], 'which goes from 10:00:00:00 to 10:00:01:05'],
      [['--at', 'noon'], 'is no timecode'],
      [['--at', '10:00:00:00', '--show', 'split'], 'needs --reference'],
    ] as const) {
      const { code, err } = asked(...args);
      expect([code, err.includes(why)]).toEqual([2, true]);
    }
  });
  it('render: the whole conform as one movie with its timecode, checked by ffprobe', () => {
    const out = path.join(folder, 'whole.mov');
    const sound = path.join(folder, 'guide.wav');
    execFileSync('ffmpeg', ['-v', 'error', '-f', 'lavfi', '-i', 'sine=frequency=440:duration=1.2', '-c:a', 'pcm_s16le', sound]);
    const { code, json } = gemello('render', list, '--out', out, '--sound', sound, ...withMedia());
    expect(code).toBe(0);
    expect(json()).toMatchObject({ frames: 30, raster: RASTER, missing: [], mixed: [], assumed: [{ event: '001' }] });
    const { streams } = JSON.parse(
      execFileSync('ffprobe', [
        '-v',
        'error',
        '-count_packets',
        '-show_entries',
        'stream=codec_type,codec_name,nb_read_packets,pix_fmt:stream_tags=timecode',
        '-of',
        'json',
        out,
      ]).toString(),
    );
    expect(streams[0]).toMatchObject({
      codec_name: 'prores',
      nb_read_packets: '30',
      pix_fmt: 'yuv422p10le',
      tags: { timecode: '10:00:00:00' },
    });
    expect(streams.map((s: any) => s.codec_type)).toContain('audio');
    execFileSync('ffmpeg', ['-v', 'error', '-i', out, '-vf', 'select=eq(n\\,29)', '-frames:v', '1', path.join(folder, 'last.png')]);
    expect(numberOf(path.join(folder, 'last.png'))).toBe(49);
  });
  it('render --mix: the final mix is laid by the sound of the reference, and said how; another one is refused', () => {
    const words = (seed: number, seconds: number) =>
      `aevalsrc=random(${seed})*lt(mod(t*(3+sin(t*${1 + seed})+sin(t*t*${0.11 + seed / 9}))\\,1)\\,0.5)*(0.4+0.3*sin(t*${2 + seed})):s=48000:d=${seconds}`;
    const sound = (name: string, seed: number, more: string[]) => {
      const file = path.join(folder, name);
      execFileSync('ffmpeg', ['-v', 'error', '-y', '-f', 'lavfi', '-i', words(seed, 12), ...more, file]);
      return file;
    };
    const guide = sound('guide.wav', 1, ['-c:a', 'pcm_s16le']);
    const mix = sound('mix.wav', 1, ['-af', 'adelay=1500:all=1,volume=0.5,highpass=120', '-c:a', 'pcm_s24le']);
    const other = sound('other.wav', 4, ['-c:a', 'pcm_s16le']);
    // A cut of ten seconds, and its reference with the guide sound.
    const long = path.join(folder, 'long');
    writeClip(path.join(long, 'A002C001.mov'), {
      writer: 'intra-8bit',
      rate: RATES['25'],
      reel: 'A002',
      start: '02:00:00:00',
      frames: 250,
    });
    const heard = path.join(folder, 'heard.mov');
    writeClip(heard, {
      writer: 'intra-8bit',
      rate: RATES['25'],
      reel: '',
      start: '10:00:00:00',
      frames: 250,
      sound: [{ path: guide, from: 0, to: 10 }],
    });
    const cut = path.join(folder, 'long.edl');
    writeFileSync(cut, 'TITLE: LONG\n001  A002     V     C        02:00:00:00 02:00:10:00 10:00:00:00 10:00:10:00\n');
    const out = path.join(folder, 'mixed.mov');
    const with_ = (file: string) =>
      gemello('render', cut, '--out', out, '--originals', long, '--rate', '25', '--json', '--mix', file, '--reference', heard);
    const { code, json } = with_(mix);
    expect(code).toBe(0);
    expect(Math.abs(json().mix.offset + 1.5)).toBeLessThan(0.003);
    expect(json().mix.says).toMatch(/^The mix begins 1\.50\d s before the cut/);
    // What is heard in the movie is the mix from a second and a half on, to within a millisecond: by ffmpeg, sample by sample.
    const samples = (file: string, ...more: string[]) =>
      new Int16Array(
        new Uint8Array(
          execFileSync('ffmpeg', ['-v', 'error', ...more, '-i', file, '-map', '0:a:0', '-ac', '1', '-f', 's16le', '-'], {
            maxBuffer: 1 << 26,
          }),
        ).buffer,
      );
    const [is, meant] = [samples(out), samples(mix, '-ss', '1.5')];
    const alike = (lag: number) => {
      let [product, a, b] = [0, 0, 0];
      for (let i = 48_000; i < 144_000; i++) {
        const [x, y] = [is[i] as number, meant[i + lag] as number];
        product += x * y;
        a += x * x;
        b += y * y;
      }
      return product / Math.sqrt(a * b);
    };
    expect(Math.max(...Array.from({ length: 97 }, (_, i) => alike(i - 48)))).toBeGreaterThan(0.99);
    const refused = with_(other);
    expect([refused.code, refused.err]).toEqual([2, expect.stringContaining('does not sound like the guide sound')]);
    expect(gemello('render', cut, '--out', out, '--originals', long, '--rate', '25', '--mix', mix).err).toContain(
      '--mix needs --guide or --reference',
    );
  });
  it('return: frames with the lists that are asked for; what cannot go together is refused by name', () => {
    const out = path.join(folder, 'frames');
    const { code, json } = gemello(
      'return',
      list,
      '--out',
      out,
      '--handles',
      '10',
      '--codec',
      'tiff',
      '--lists',
      'edl,otio',
      ...withMedia(),
    );
    expect(code).toBe(0);
    expect(json().problems).toEqual([]);
    // From 01:00:00:10 at 25, counted in frames since midnight; 30 frames and ten on each side.
    expect(readdirSync(path.join(out, 'A001C001')).sort().slice(0, 2)).toEqual(['A001C001.0090010.tif', 'A001C001.0090011.tif']);
    expect(readdirSync(path.join(out, 'A001C001'))).toHaveLength(50);
    expect(json().lists.filter((name: string) => /\.(edl|otio|xml)$/.test(name))).toEqual(['CUT_RETURN.otio', 'CUT_RETURN.edl']);
    const refused = (...more: string[]) => gemello('return', list, '--out', path.join(folder, 'none'), ...more, ...withMedia()).err;
    expect(refused('--lists', 'pdf,edl')).toContain('--lists pdf,edl: pdf is none; there are aaf, otio, xml, edl.');
    expect(refused('--burn-in', '{name}')).toContain('Choose H.264 or HEVC');
    expect(refused('--codec', 'dpx', '--sound', 'original')).toContain('Numbered frames have no sound');
    expect(refused('--sound', 'reference')).toContain('--sound reference needs --reference');
    expect(refused('--burn-size', 'big')).toContain('there are small, usual, large');
  });
  it('return --check: a folder alone, and against its list and originals; what is missing or named otherwise is told, exit 1', () => {
    const out = path.join(folder, 'checked');
    expect(gemello('return', list, '--out', out, '--handles', '10', '--template', '{event}_{source}', ...withMedia()).code).toBe(0);
    expect(readdirSync(out)).toContain('001_A001C001.mov');
    const alone = gemello('return', '--check', out, '--json');
    expect([alone.code, alone.json().lists.length, alone.json().clips, alone.json().problems]).toEqual([0, 4, 1, []]);
    const against = (...more: string[]) =>
      gemello('return', list, '--check', out, '--template', '{event}_{source}', ...withMedia(), ...more);
    expect([against('--handles', '10').code, against('--handles', '10').json().problems]).toEqual([0, []]);
    // Other handles were promised than are there.
    expect(against('--handles', '12').json().problems).toContainEqual(expect.objectContaining({ fileName: '001_A001C001.mov' }));
    renameSync(path.join(out, '001_A001C001.mov'), path.join(out, 'elsewhere.mov'));
    const moved = gemello('return', '--check', out, '--json');
    expect(moved.code).toBe(1);
    expect(moved.json().problems.map((p: any) => p.message)).toEqual(
      Array(4).fill(expect.stringContaining('leads to no clip of the return')),
    );
    expect(readdirSync(out).filter((f) => f.startsWith(HALF))).toEqual([]);
  });
  it('render: a review with burn-in, another size; what has no original is named, exit 1', () => {
    const out = path.join(folder, 'review.mp4');
    const { code, json } = gemello('render', list, '--out', out, '--accept', 'none', '--burn-in', '--size', '128x72', ...withMedia());
    expect(code).toBe(1);
    expect(json()).toMatchObject({ frames: 30, missing: [{ event: '001', frames: 30 }], assumed: [] });
    expect(readdirSync(folder).filter((f) => f.startsWith(HALF))).toEqual([]);
    expect(gemello('render', list, '--out', path.join(cards, 'A001C001.mov'), ...withMedia()).err).toContain('is an original');
  });
  it('--decisions: what was decided is taken before anything is assumed, and by another reading of the list too', () => {
    const key = gemello('read', list, '--rate', '25', '--json').json().tracks[0].events[0].key;
    const original = path.join(cards, 'A001C001.mov');
    const file = path.join(folder, 'decided.json');
    const pair = { kind: 'pair', event: key, original, sourceStartFrame: 20 };
    writeFileSync(file, JSON.stringify([pair, { kind: 'slip', event: key, original, sourceStartFrame: 23 }]));
    const proof = gemello('proof', list, '--reference', reference, '--decisions', file, ...withMedia());
    expect([proof.code, proof.json().events[0].verdict, proof.json().assumed]).toEqual([0, 'same', []]);
    const out = path.join(folder, 'decided');
    gemello('frames', list, '--at', '10:00:00:00', '--out', out, '--decisions', file, ...withMedia());
    expect(numberOf(path.join(out, '10-00-00-00.png'))).toBe(23);
    expect(gemello('pair', list, '--decisions', file, ...withMedia()).json().pairs[0]).toMatchObject({
      state: 'paired',
      sourceStartFrame: 23,
    });
  });
  it('--decisions: what finds no event is told and nothing is moved, exit 1; what is no file of decisions is exit 2', () => {
    const file = path.join(folder, 'strange.json');
    writeFileSync(file, JSON.stringify([{ kind: 'exempt', event: 'kelsewhere', exempt: true }]));
    const { code, json, err } = gemello('render', list, '--out', path.join(folder, 'r.mp4'), '--decisions', file, ...withMedia());
    expect([code, json().notTaken]).toEqual([1, ['event kelsewhere: needs no original; the list has no event that is certainly this one']]);
    expect(err).toContain('not taken: event kelsewhere');
    writeFileSync(file, '{"decisions": 3}');
    expect(gemello('proof', list, '--reference', reference, '--decisions', file, ...withMedia()).code).toBe(2);
  });
  it('convert: into the format of the extension, and back, with the same events', () => {
    const [otio, xml, edl] = ['c.otio', 'c.xml', 'c.edl'].map((n) => path.join(folder, n)) as [string, string, string];
    expect(gemello('convert', list, otio, '--rate', '25').code).toBe(0);
    expect(gemello('convert', otio, xml).code).toBe(0);
    expect(gemello('convert', xml, edl).code).toBe(0);
    const events = (file: string) =>
      gemello('read', file, '--rate', '25', '--json')
        .json()
        .tracks[0].events.map((e: any) => [e.reel, e.clipName, e.sourceIn, e.sourceOut, e.recordIn, e.recordOut]);
    for (const file of [otio, xml, edl]) expect(events(file)).toEqual(events(list));
  });
  it('convert: says what the target cannot carry, exit 1', () => {
    const graded = path.join(folder, 'graded.edl');
    writeFileSync(graded, `${readFileSync(list, 'utf8')}* ASC_SAT 0.5\n`);
    const { code, json } = gemello('convert', graded, path.join(folder, 'g.xml'), '--rate', '25', '--json');
    expect(code).toBe(1);
    expect(json().notices).toContainEqual(expect.objectContaining({ severity: 'lost', code: 'cannot-carry-cdl' }));
  });
  it('read: several files are the layers of one cut; a clean list says so', () => {
    const upper = path.join(folder, 'cut_V2.edl');
    writeFileSync(upper, readFileSync(list, 'utf8').replace('A001', 'B001'));
    const { code, json } = gemello('read', list, upper, '--rate', '25', '--json');
    expect([code, json().tracks.map((t: any) => [t.name, t.events[0].reel])]).toEqual([
      0,
      [
        ['V1', 'A001'],
        ['V2', 'B001'],
      ],
    ]);
    expect(gemello('read', list, '--rate', '25').out).toContain('clean: everything');
  });
  it('read: a table by the columns that are named, and one of several cuts in a file', () => {
    const sheet = path.join(folder, 'sheet.csv');
    writeFileSync(sheet, 'Source in,Source out,One,Two\n10,34,A7,x\n');
    expect(
      gemello('read', sheet, '--rate', '25', '--columns', 'reel=One,sourceIn=Source in,sourceOut=Source out', '--json').json().tracks[0]
        .events[0].reel,
    ).toBe('A7');
    const several = path.join(folder, 'several.xml');
    const one = (name: string) => `<sequence><name>${name}</name><rate><timebase>25</timebase></rate></sequence>`;
    writeFileSync(several, `<xmeml version="5">${one('FIRST')}${one('SECOND')}</xmeml>`);
    const { json } = gemello('read', several, '--sequence', '2', '--json');
    expect([json().title, json().sequences.map((s: any) => s.name)]).toEqual(['SECOND', ['FIRST', 'SECOND']]);
  });
  it('convert: several layers, short reels with their table, numbered anew, under another title', () => {
    const upper = path.join(folder, 'cut_V2.edl');
    writeFileSync(upper, readFileSync(list, 'utf8').replace('A001 ', 'B004_20260401_LEFT '));
    const out = path.join(folder, 'apart.edl');
    const { json } = gemello(
      'convert',
      list,
      upper,
      out,
      '--rate',
      '25',
      '--layers-apart',
      '--reel-length',
      '8',
      '--number-anew',
      '--title',
      'NEW',
      '--json',
    );
    expect(json().files.map((f: string) => path.basename(f))).toEqual(['apart_V1.edl', 'apart_V2.edl', 'apart_reels.csv']);
    expect(json().reels).toEqual([{ original: 'B004_20260401_LEFT', written: 'B004_202' }]);
    expect(readFileSync(path.join(folder, 'apart_V2.edl'), 'utf8')).toMatch(/^TITLE: NEW\n.*\n002 {2}B004_202 /);
  });
  it('convert: a bundle, and out of one', () => {
    const [bundle, back] = [path.join(folder, 'b.otioz'), path.join(folder, 'b.edl')] as [string, string];
    expect(gemello('convert', list, bundle, '--rate', '25').code).toBe(0);
    expect(gemello('convert', bundle, back).code).toBe(0);
    expect(readFileSync(back, 'utf8')).toContain('001  A001     V     C        01:00:00:20');
  });
  it('text is readable without --json, and progress is kept off stdout', () => {
    const { out, err } = gemello('pair', list, '--originals', cards, '--rate', '25');
    expect(out).toContain('1 proposed');
    expect(err).toContain('scan');
  });
});

describe('bad input: exit 2, one clear line, nothing half-written', () => {
  const brokenBundle = () => {
    const file = path.join(folder, 'broken.otioz');
    writeFileSync(file, Buffer.from('504b030414000000', 'hex'));
    return file;
  };
  const lines = (err: string) => err.split('\n').filter((l) => l !== '' && !l.startsWith('scan'));
  it.each([
    ['a list that is not there', () => ['read', '/nowhere.edl'], 'no file'],
    ['a list that is none', () => ['read', reference], 'not a list'],
    ['a target of no known format', () => ['convert', list, path.join(folder, 'x.docx')], 'no format'],
    ['a list written over itself', () => ['convert', list, list], 'over itself'],
    ['a raster that is none', () => ['read', list, '--raster', 'wide'], 'no raster'],
    ['columns that are none', () => ['read', list, '--columns', 'colour=x'], '--columns'],
    ['reels of no length', () => ['convert', list, path.join(folder, 'x.edl'), '--reel-length', '2'], '--reel-length'],
    ['an archive cut off', () => ['read', brokenBundle()], 'not whole'],
    ['a rate that is none', () => ['read', list, '--rate', 'fast'], 'no frame rate'],
    ['a folder that is not there', () => ['scan', '/nowhere'], 'no folder'],
    ['a missing option', () => ['pair', list], '--originals'],
    ['a command that is none', () => ['polish'], 'unknown command'],
    ['rules that are none', () => ['pair', list, '--originals', cards, '--rules', '{"name":7}'], '--rules'],
    ['a reference that is no movie', () => ['proof', list, '--originals', cards, '--reference', list], 'cut.edl'],
    [
      'a name of clips that takes in nothing',
      () => ['return', list, '--originals', cards, '--out', path.join(folder, 'never'), '--template', 'x'],
      '--template',
    ],
    ['a return without a list', () => ['return'], '--check'],
    ['a check of a folder that is no return', () => ['return', '--check', cards], 'no list'],
    ['handles below zero', () => ['return', list, '--originals', cards, '--out', path.join(folder, 'never'), '--handles=-3'], '--handles'],
    ['a return beside originals', () => ['return', list, '--originals', cards, '--out', cards, '--rate', '25'], 'originals'],
  ])('%s', (_, args, says) => {
    const { code, err, out } = gemello(...args());
    expect([code, out]).toEqual([2, '']);
    expect(lines(err)).toHaveLength(1);
    expect(err).toContain(says);
  });
  it('leaves the originals as they were and makes no folder', () => {
    expect(readdirSync(cards)).toEqual(['A001C001.mov']);
    expect(readdirSync(folder)).not.toContain('never');
    expect(readFileSync(list, 'utf8')).toContain('TITLE: CUT');
  });
});
