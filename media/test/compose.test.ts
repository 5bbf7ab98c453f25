import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import {
  applyDecisions,
  compile,
  type Decision,
  FILLING,
  LUT_BETWEEN,
  type LutBetween,
  type Original,
  type Placement,
  pictureAt,
  type Transition,
  WIPE_CODES,
  type WipeLook,
  wipeMask,
  wipePattern,
} from '@gemello/core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { dissolve, event, list } from '../../core/test/make';
import { compositionOf, openCompositor, openSources, probeMovie, toRgb48 } from '../src';

/**
 * Our compositor against FFmpeg's own filters on the same frames. Both take the frames from the same files; nothing of
 * ours is in what it is held against. PSNR over all channels, in dB, of 16-bit values.
 */
const folder = mkdtempSync(path.join(tmpdir(), 'gemello-compose-'));
const [WIDTH, HEIGHT] = [320, 180];
let a: Original;
let b: Original;
let small: Original;
let keyed: Original;

const ffmpeg = (...args: string[]) => execFileSync('ffmpeg', ['-v', 'error', '-y', ...args], { maxBuffer: 1 << 28 });
const make = (name: string, source: string, ...codec: string[]): Original => {
  const file = path.join(folder, name);
  ffmpeg('-f', 'lavfi', '-i', source, '-frames:v', '24', '-colorspace', 'bt709', '-color_range', 'tv', ...codec, file);
  return probeMovie(file);
};
const PRORES = ['-c:v', 'prores_ks', '-profile:v', '3', '-pix_fmt', 'yuv422p10le'];

beforeAll(() => {
  // Smooth moving pictures: a hard pixel pattern would measure the resampler's ringing and not the geometry.
  const soft = ',gblur=sigma=1.5';
  a = make('a.mov', `testsrc2=size=${WIDTH}x${HEIGHT}:rate=24${soft}`, ...PRORES);
  b = make('b.mov', `mandelbrot=size=${WIDTH}x${HEIGHT}:rate=24${soft}`, ...PRORES);
  small = make('small.mov', `testsrc=size=256x192:rate=24${soft}`, ...PRORES);
  keyed = make('keyed.mov', `color=c=red@0.5:size=${WIDTH}x${HEIGHT}:rate=24,format=rgba`, '-c:v', 'qtrle');
});
afterAll(() => rmSync(folder, { recursive: true }));

const compositor = openCompositor(openSources(1, 64 * 1024 * 1024, 'missing'));
afterAll(() => compositor.close());

type Events = Parameters<typeof list>[number];
/** What we draw of a cut at a record frame; each event is paired with the original of its key's letter. */
function drawn(tracks: Events[], at: number, decisions: Decision[] = [], frame = { width: WIDTH, height: HEIGHT }) {
  const byKey: Record<string, Original> = { a, b, s: small, k: keyed };
  const pairs = tracks.flat().flatMap((e): Decision[] => {
    const original = byKey[e.key[0] ?? ''];
    return original && e.kind === 'clip' ? [{ kind: 'pair', event: e.key, original: original.path, sourceStartFrame: 0 }] : [];
  });
  const cut = { ...list(...tracks), framing: { raster: frame, pixelAspect: 1, fields: null } };
  const conform = compile(applyDecisions(cut, [...pairs, ...decisions]).list, [a, b, small, keyed]);
  const { canvas, drawing } = compositor.draw(compositionOf(pictureAt(conform, at), conform.frame), frame.width, frame.height);
  return { pixels: toRgb48(canvas), drawing };
}

/** What FFmpeg's filters make of frames of the files: `graph` ends in `[out]`. */
function filtered(graph: string, at: number, ...inputs: Original[]): Uint16Array {
  const raw = ffmpeg(
    ...inputs.flatMap((o) => ['-i', o.path]),
    '-filter_complex',
    `${graph};[out]select=eq(n\\,${at})[one]`,
    '-map',
    '[one]',
    '-sws_flags',
    'bicubic+accurate_rnd+full_chroma_int',
    '-frames:v',
    '1',
    '-f',
    'rawvideo',
    '-pix_fmt',
    'rgb48le',
    '-',
  );
  return new Uint16Array(new Uint8Array(raw).buffer);
}

/** `where` says which pixels count; all when it is left out. */
function psnr(x: Uint16Array, y: Uint16Array, where: (column: number, row: number) => boolean = () => true): number {
  expect(x.length).toBe(y.length);
  let [sum, count] = [0, 0];
  for (let i = 0; i < x.length; i++) {
    const pixel = Math.floor(i / 3);
    if (!where(pixel % WIDTH, Math.floor(pixel / WIDTH))) continue;
    sum += ((x[i] as number) - (y[i] as number)) ** 2;
    count++;
  }
  return sum === 0 ? Number.POSITIVE_INFINITY : 10 * Math.log10(65535 ** 2 / (sum / count));
}

const place = (more: Partial<Placement>): Placement => ({ ...FILLING, ...more });
const RGB = 'scale=in_color_matrix=bt709:in_range=tv:out_range=pc:flags=bicubic+accurate_rnd+full_chroma_int,format=gbrp16';

describe('a picture by itself', () => {
  it('is that frame, to the last of its ten bits', () => {
    const { pixels } = drawn([[event('a', 0, 24, 0)]], 7);
    expect(psnr(pixels, filtered(`[0:v]${RGB}[out]`, 7, a))).toBeGreaterThan(60);
    // More than 256 levels are left of ten bits.
    expect(new Set(pixels).size).toBeGreaterThan(600);
  });
  it('is another one a frame later: numbers are exact', () => {
    const right = filtered(`[0:v]${RGB}[out]`, 8, a);
    expect(psnr(drawn([[event('a', 0, 24, 0)]], 8).pixels, right)).toBeGreaterThan(
      psnr(drawn([[event('a', 0, 24, 0)]], 9).pixels, right) + 10,
    );
  });
  it('of another raster fits as the rule says: inside, filling, stretched, pixel for pixel (filters scale, pad, crop)', () => {
    const one = [[event('s', 0, 24, 0)]];
    const rule = (fit: 'inside' | 'fill' | 'stretch' | 'one-to-one'): Decision[] => [{ kind: 'fit', scope: { of: 'cut' }, fit }];
    const scaled = (size: string) =>
      `[0:v]scale=${size}:in_color_matrix=bt709:in_range=tv:out_range=pc:flags=bicubic+accurate_rnd+full_chroma_int,format=gbrp16`;
    const held = {
      inside: `${scaled('240:180')},pad=320:180:40:0[out]`,
      fill: `${scaled('320:240')},crop=320:180:0:30[out]`,
      stretch: `${scaled('320:180')}[out]`,
      'one-to-one': `${scaled('256:192')},crop=256:180:0:6,pad=320:180:32:0[out]`,
    } as const;
    for (const fit of ['inside', 'fill', 'stretch', 'one-to-one'] as const)
      expect(psnr(drawn(one, 5, rule(fit)).pixels, filtered(held[fit], 5, small)), fit).toBeGreaterThan(40);
  });
});

describe('a placement', () => {
  it('half as large, in a corner, over what stays visible around it (filters scale, overlay)', () => {
    const inset = place({ scaleX: 0.5, scaleY: 0.5, x: 0.25, y: -0.25 });
    const { pixels } = drawn([[event('a', 0, 24, 0)], [event('b', 0, 24, 0, { placement: inset })]], 6);
    const graph = `[0:v]${RGB}[x];[1:v]scale=160:90:in_color_matrix=bt709:in_range=tv:out_range=pc:flags=bicubic+accurate_rnd+full_chroma_int,format=gbrp16[y];[x]format=gbrp[x8];[y]format=gbrp[y8];[x8][y8]overlay=160:0:format=gbrp[out]`;
    expect(psnr(pixels, filtered(graph, 6, a, b))).toBeGreaterThan(40);
  });
  it('cropped shows what is below (filters crop, overlay)', () => {
    const cropped = place({ crop: { left: 0.25, right: 0, top: 0.5, bottom: 0 } });
    const { pixels } = drawn([[event('a', 0, 24, 0)], [event('b', 0, 24, 0, { placement: cropped })]], 6);
    const graph = `[0:v]${RGB},format=gbrp[x];[1:v]${RGB},format=gbrp,crop=240:90:80:90[y];[x][y]overlay=80:90:format=gbrp[out]`;
    expect(psnr(pixels, filtered(graph, 6, a, b))).toBeGreaterThan(40);
  });
  it('half transparent mixes with what is below (filter blend)', () => {
    const { pixels } = drawn([[event('a', 0, 24, 0)], [event('b', 0, 24, 0, { placement: place({ opacity: 0.5 }) })]], 6);
    const graph = `[0:v]${RGB}[x];[1:v]${RGB}[y];[x][y]blend=all_mode=average[out]`;
    expect(psnr(pixels, filtered(graph, 6, a, b))).toBeGreaterThan(40);
  });
  it('mirrored both ways (filters hflip, vflip)', () => {
    const { pixels } = drawn([[event('a', 0, 24, 0, { placement: place({ flipX: true, flipY: true }) })]], 6);
    expect(psnr(pixels, filtered(`[0:v]${RGB},hflip,vflip[out]`, 6, a))).toBeGreaterThan(50);
  });
  it('turned about its middle, clockwise (filter rotate: it samples linearly and cuts its edges hard, so its inside is compared)', () => {
    const { pixels } = drawn([[event('a', 0, 24, 0, { placement: place({ rotation: 10 }) })]], 6);
    const turned = (angle: number) => filtered(`[0:v]${RGB},format=gbrp,rotate=${angle}*PI/180:bilinear=1:c=black[out]`, 6, a);
    const inside = (x: number, y: number) => x > 60 && x < 260 && y > 30 && y < 150;
    expect(psnr(pixels, turned(10), inside)).toBeGreaterThan(40);
    expect(psnr(pixels, turned(-10), inside)).toBeLessThan(20);
  });
  it('enlarged beyond the frame, moved by parts of a pixel (filters scale, crop on whole pixels)', () => {
    const { pixels } = drawn([[event('a', 0, 24, 0, { placement: place({ scaleX: 1.5, scaleY: 1.5 }) })]], 6);
    const graph =
      '[0:v]scale=480:270:in_color_matrix=bt709:in_range=tv:out_range=pc:flags=bicubic+accurate_rnd+full_chroma_int,format=gbrp16,crop=320:180:80:45[out]';
    expect(psnr(pixels, filtered(graph, 6, a))).toBeGreaterThan(40);
    const moved = drawn([[event('a', 0, 24, 0, { placement: place({ x: 0.5 / WIDTH }) })]], 6).pixels;
    const still = drawn([[event('a', 0, 24, 0)]], 6).pixels;
    const shifted = drawn([[event('a', 0, 24, 0, { placement: place({ x: 1 / WIDTH }) })]], 6).pixels;
    const between = still.map((v, i) => ((v + (shifted[i] as number)) / 2) | 0);
    expect(psnr(moved, between)).toBeGreaterThan(38);
  });
  it('that moves is where its keys put it at each frame', () => {
    const keys = [
      { ...FILLING, record: 0, x: 0 },
      { ...FILLING, record: 10, x: 0.5 },
    ];
    const { pixels } = drawn([[event('a', 0, 24, 0, { placement: place({ keys }) })]], 5);
    const graph = `[0:v]${RGB},crop=240:180:0:0,pad=320:180:80:0[out]`;
    expect(psnr(pixels, filtered(graph, 5, a))).toBeGreaterThan(40);
  });
});

describe('a transition', () => {
  /** xfade over one frame more, begun one frame early, has at our k-th frame a progress of (k + 1)/(N + 1). */
  const xfade = (kind: string, frames: number, cutAt: number) =>
    `[0:v]trim=end_frame=${cutAt + frames},setpts=PTS-STARTPTS,${RGB},settb=1/24[x];[1:v]${RGB},settb=1/24[y];[x][y]xfade=transition=${kind}:duration=${(frames + 1) / 24}:offset=${(cutAt - 1) / 24}[out]`;
  const [CUT, LENGTH] = [8, 7];
  const joined = (join: Partial<Transition>) => [
    [event('a', 0, CUT, 0), event('b', CUT, 12, 0, { transitionIn: { ...dissolve(LENGTH), ...join } })],
  ];
  // b begins one frame into xfade's second input, which starts with the transition one frame before ours.
  const late: Decision = { kind: 'slip', event: 'b', original: '', sourceStartFrame: 1 };
  const atFrame = (join: Partial<Transition>, k: number) => drawn(joined(join), CUT + k, [{ ...late, original: b.path } as Decision]);

  it('mixes by (k + 1)/(N + 1) (filter xfade, fade)', () => {
    for (const k of [0, 3, LENGTH - 1])
      expect(psnr(atFrame({}, k).pixels, filtered(xfade('fade', LENGTH, CUT), CUT + k, a, b)), `frame ${k}`).toBeGreaterThan(40);
  });
  it('wipes along and across as the filter does (xfade; the line at the edge left out: its edge is hard), and aslant', () => {
    const wipe = (code: string, reverse = false): Partial<Transition> => ({
      type: 'wipe',
      wipeCode: code,
      look: { reverse, softness: 0, border: null },
    });
    const pairs: [Partial<Transition>, string][] = [
      [wipe('001'), 'wiperight'],
      [wipe('001', true), 'wipeleft'],
      [wipe('002'), 'wipedown'],
      [wipe('002', true), 'wipeup'],
    ];
    // At half its way the edge lies in the middle.
    const offEdge = (x: number, y: number) => Math.abs(x - WIDTH / 2) > 1 && Math.abs(y - HEIGHT / 2) > 1;
    for (const [join, kind] of pairs)
      expect(psnr(atFrame(join, 3).pixels, filtered(xfade(kind, LENGTH, CUT), CUT + 3, a, b), offEdge), kind).toBeGreaterThan(40);
    // Aslant, at half its way, one corner shows the incoming picture and the opposite one what leaves.
    const corners = { '041': [0, 0], '042': [1, 0] } as const;
    for (const [code, [right, down]] of Object.entries(corners))
      for (const reverse of [false, true]) {
        const { pixels } = atFrame(wipe(code, reverse), 3);
        const near = (x: number, y: number) => Math.abs(x / WIDTH - right) + Math.abs(y / HEIGHT - down) < 0.6;
        const far = (x: number, y: number) => Math.abs(x / WIDTH - right) + Math.abs(y / HEIGHT - down) > 1.4;
        const [leaving, incoming] = [filtered(`[0:v]${RGB}[out]`, CUT + 3, a), filtered(`[0:v]${RGB}[out]`, 4, b)];
        expect(psnr(pixels, incoming, reverse ? far : near)).toBeGreaterThan(40);
        expect(psnr(pixels, leaving, reverse ? near : far)).toBeGreaterThan(40);
      }
  });
  it('from black comes up out of it, and a black event takes the picture away', () => {
    const up = drawn([[event('a', 0, 24, 0, { transitionIn: dissolve(7, 'black') })]], 3).pixels;
    const graph = `[0:v]${RGB},lutrgb=r=val/2:g=val/2:b=val/2[out]`;
    expect(psnr(up, filtered(graph, 3, a))).toBeGreaterThan(40);
    const down = drawn([[event('a', 0, 8, 0), event('x', 8, 12, 0, { kind: 'black', transitionIn: dissolve(7) })]], 11).pixels;
    expect(psnr(down, filtered(graph, 11, a))).toBeGreaterThan(40);
  });
  it('as a key lays the incoming over the leaving picture with its own alpha', () => {
    const { pixels } = drawn([[event('a', 0, 8, 0), event('k', 8, 12, 0, { transitionIn: { ...dissolve(7), type: 'key' } })]], 9);
    const graph = `[0:v]${RGB},format=gbrap[x];[1:v]format=gbrap[y];[x][y]overlay=format=gbrp[out]`;
    expect(psnr(pixels, filtered(graph, 9, a, keyed))).toBeGreaterThan(38);
  });
  it('whose pattern is not drawn is mixed, and said', () => {
    const { drawing } = drawn(joined({ type: 'wipe', wipeCode: '555' }), CUT + 2);
    expect(drawing.mixed).toEqual(['b']);
  });
});

describe('wipes by their SMPTE number', () => {
  const plain: WipeLook = { reverse: false, softness: 0, border: null };
  const mask = (code: number, share: number, look = plain) =>
    wipeMask(wipePattern({ type: 'wipe', wipeCode: String(code) }) as NonNullable<ReturnType<typeof wipePattern>>, look, share, 96, 54);
  const sum = (values: Float32Array) => values.reduce((x, y) => x + y, 0);
  it('begin with nothing, end with everything, and only grow', () => {
    for (const code of WIPE_CODES)
      for (const look of [plain, { ...plain, reverse: true }, { ...plain, softness: 0.2 }]) {
        const steps = [0, 0.25, 0.5, 0.75, 1].map((share) => sum(mask(code, share, look).incoming));
        expect(steps[0], `${code}`).toBeLessThan(96 * 54 * 0.001);
        expect(steps[4], `${code}`).toBeGreaterThan(96 * 54 * 0.999);
        expect([...steps].sort((x, y) => x - y)).toEqual(steps);
      }
  });
  it('a bar from the left has come half way at half its time; a soft edge is as wide as it says', () => {
    const { incoming } = mask(1, 0.5, { ...plain, softness: 0.25 });
    const row = [...incoming.subarray(0, 96)];
    expect(row[10]).toBe(1);
    expect(row[85]).toBe(0);
    expect(row.filter((v) => v > 0 && v < 1).length).toBe(24);
  });
  it('a clock turns from twelve; an iris is round whatever the frame', () => {
    const at = ({ incoming }: { incoming: Float32Array }, x: number, y: number) => incoming[y * 96 + x];
    expect([at(mask(201, 0.25), 70, 10), at(mask(201, 0.25), 70, 44), at(mask(201, 0.25), 20, 10)]).toEqual([1, 0, 0]);
    const iris = mask(119, 0.3);
    const reach = (n: number, step: (i: number) => [number, number]) => {
      let i = 0;
      while (i < n && (at(iris, ...step(i)) ?? 0) > 0.5) i++;
      return i;
    };
    expect(Math.abs(reach(48, (i) => [48 + i, 27]) - reach(27, (i) => [48, 27 + i]))).toBeLessThanOrEqual(1);
  });
  it('a border lies over both, on the edge', () => {
    const { border } = mask(1, 0.5, { ...plain, border: { width: 0.1, colour: [1, 1, 1] } });
    expect(sum((border as Float32Array).subarray(0, 96))).toBeCloseTo(9.6, 0);
  });
});

describe('a grade', () => {
  it.each(LUT_BETWEEN)('by a LUT is that of the filter lut3d, %s', (between) => {
    const at = [0, 0.5, 1];
    const warm = at.flatMap((z) => at.flatMap((y) => at.map((x) => `${x ** 0.8} ${y * z} ${Math.round(x) * y * z}`)));
    const file = path.join(folder, 'warm.cube');
    writeFileSync(file, `LUT_3D_SIZE 3\n${warm.join('\n')}\n`);
    const lut: Decision = { kind: 'lut', scope: { of: 'cut' }, lut: file, between };
    const { pixels } = drawn([[event('a', 0, 24, 0)]], 5, [lut]);
    const likeness = (how: LutBetween) => psnr(pixels, filtered(`[0:v]${RGB},lut3d=file=${file}:interp=${how}[out]`, 5, a));
    for (const how of LUT_BETWEEN) {
      if (how === between) expect(likeness(how)).toBeGreaterThan(50);
      else expect(likeness(how)).toBeLessThan(45);
    }
  });
  it('by a LUT that is not there is refused with its path', () => {
    const lut: Decision = { kind: 'lut', scope: { of: 'cut' }, lut: '/nowhere.cube' };
    expect(() => drawn([[event('a', 0, 24, 0)]], 5, [lut])).toThrow('/nowhere.cube is not here');
  });
});

describe('what has no picture of its own', () => {
  it('a title is drawn over the picture below and says what it covers; over nothing it stands on a slate', () => {
    const title = event('t', 0, 24, 0, { kind: 'title', clipName: 'THE SALT YEAR' });
    const over = drawn([[event('a', 0, 24, 0)], [title]], 5);
    expect(over.drawing.covered).toHaveLength(1);
    const [area] = over.drawing.covered;
    const plain = drawn([[event('a', 0, 24, 0)]], 5).pixels;
    for (let i = 0; i < plain.length; i += 3) {
      const [x, y] = [((i / 3) % WIDTH) / WIDTH, Math.floor(i / 3 / WIDTH) / HEIGHT];
      const inside = area && x >= area.left - 0.01 && x <= area.right + 0.01 && y >= area.top - 0.01 && y <= area.bottom + 0.01;
      if (!inside && over.pixels[i] !== plain[i]) throw new Error(`changed at ${x}, ${y}`);
    }
    const alone = drawn([[title]], 5);
    expect(alone.drawing.covered).toEqual([]);
    expect(new Set(alone.pixels).size).toBeGreaterThan(1);
    const speck = event('a', 0, 24, 0, { placement: place({ scaleX: 0.05, scaleY: 0.05, x: 0.43, y: 0.43 }) });
    expect(drawn([[speck], [title]], 5).drawing.covered).toHaveLength(1);
  });
  it('bars are bars, black hides, a movie baked for a title is laid with its alpha', () => {
    const bars = drawn([[event('x', 0, 24, 0, { kind: 'bars' })]], 5).pixels;
    expect([bars[0], bars[1], bars[2]]).toEqual([49151, 49151, 49151]);
    const black = drawn([[event('a', 0, 24, 0)], [event('x', 0, 24, 0, { kind: 'black' })]], 5).pixels;
    expect(black.every((v) => v === 0)).toBe(true);
    const title = event('t', 0, 24, 0, { kind: 'title' });
    const bake: Decision = { kind: 'bake', event: 't', bake: { original: keyed.path, sourceStartFrame: 0 } };
    const baked = drawn([[event('a', 0, 24, 0)], [title]], 5, [bake]).pixels;
    const graph = `[0:v]${RGB},format=gbrap[x];[1:v]format=gbrap[y];[x][y]overlay=format=gbrp[out]`;
    expect(psnr(baked, filtered(graph, 5, a, keyed))).toBeGreaterThan(38);
  });
  it('a missing original and a frame that is not there are drawn as such, and named', () => {
    const { drawing } = drawn([[event('z', 0, 24, 0)]], 5);
    expect(drawing.missing).toEqual(['z']);
    const beyond = drawn([[event('a', 0, 60, 0)]], 40);
    expect(beyond.drawing.missing).toEqual(['a']);
  });
});
