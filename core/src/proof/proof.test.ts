import { describe, expect, it } from 'vitest';
import { scene } from '../../test/scenes';
import {
  AS_IT_IS,
  agreement,
  agreementLaid,
  bestRamp,
  cannotTell,
  comparable,
  cutFinding,
  describeFinding,
  type EventPictures,
  explain,
  GRID,
  GRID_SIZE,
  judge,
  type Laid,
  layerBox,
  layReference,
  likelyFits,
  maskOf,
  NATIVE,
  NATIVE_SIZE,
  PRINTED,
  pictureBox,
  placesIn,
  placesOf,
  printOf,
  refined,
  runFrom,
  type Share,
  shareOf,
  soughtPrint,
  warped,
  wholeMask,
} from '.';

/** What a reference render does to a picture: temporary colour, contrast, noise from compression. */
const asReference = (picture: Uint8Array): Uint8Array =>
  picture.map((v, i) => Math.max(16, Math.min(235, 0.72 * v + 20 + 5 * Math.sin(i * 12.9898))));

const mask = wholeMask();

/** An event of 48 frames from frame 60 of a clip of 200, as the reference shows it. */
function event(shown: (k: number) => Uint8Array, more: Partial<EventPictures> = {}): EventPictures {
  return {
    core: Array.from({ length: 30 }, (_, i) => i + 9),
    length: 48,
    reference: (k) => asReference(shown(k)),
    source: (n) => (n >= 0 && n < 200 ? scene(1, n) : null),
    sourceFrames: 200,
    expected: (k) => 60 + k,
    speed: 1,
    listed: 1,
    natural: 1,
    still: false,
    mask,
    ...more,
  };
}

function findings(p: EventPictures) {
  const explanation = explain(p);
  if (!explanation) throw new Error('nothing to compare');
  return judge(p, explanation);
}

const laid = (more: Partial<Laid>): Laid => ({ ...AS_IT_IS, ...more });
const laidScene = (more: Partial<Laid>) => (k: number) => Uint8Array.from(warped(scene(1, 60 + k), laid(more)));

describe('the agreement of two pictures', () => {
  it('is not moved by exposure, contrast and noise, which always differ', () => {
    expect(agreement(comparable(asReference(scene(1, 60)), mask), comparable(scene(1, 60), mask))).toBeGreaterThan(0.6);
  });
  it('is next to nothing between unrelated pictures, and zero for one without structure', () => {
    expect(Math.abs(agreement(comparable(scene(1, 60), mask), comparable(scene(7, 20), mask)))).toBeLessThan(0.3);
    expect(agreement(comparable(scene(1, 60), mask), comparable(new Uint8Array(GRID_SIZE).fill(80), mask))).toBe(0);
  });
});

describe('an event', () => {
  it('that is as the reference shows it is the same', () => {
    expect(findings(event((k) => scene(1, 60 + k)))).toEqual({ verdict: 'same', findings: [] });
  });
  // TRADE.md, proving: right shot, wrong part.
  it.each([1, -1, 3, 24, -40, 90])('that slipped by %i frames is told to the frame, as far as the original goes', (frames) => {
    const { verdict, findings: found } = findings(event((k) => scene(1, 60 + k + frames)));
    expect(verdict).toBe('differs');
    expect(found).toMatchObject([{ kind: 'slipped', frames }]);
  });
  // Cut-point speeds of the trade: half, slower, faster, reverse, freeze.
  it.each([0.5, 0.8, 1.25, 2, -1, 0])('that runs at speed %f is told to a hundredth', (measured) => {
    const { findings: found } = findings(event((k) => scene(1, Math.floor(measured < 0 ? 110 - k : 60 + measured * k))));
    expect(found).toMatchObject([{ kind: 'speed-differs', expected: 1 }]);
    expect(found[0]?.kind === 'speed-differs' && Math.abs(found[0].measured - measured)).toBeLessThanOrEqual(
      0.01 * Math.max(1, Math.abs(measured)),
    );
  });
  it.each([
    { scale: 1.2, x: 0.04, y: -0.03 },
    { scale: 0.7, x: 0.05, y: 0 },
    { scale: 1, x: 0.06, y: 0.02 },
    { scale: 1.1, rotation: 4 },
  ])('that was reframed to %o is told within 1 %, half a percent of the width and 0.3 degrees', (more) => {
    const { findings: found } = findings(event(laidScene(more)));
    expect(found.map((f) => f.kind)).toEqual(['reframed']);
    const [f] = found;
    if (f?.kind !== 'reframed') return;
    const wanted = laid(more);
    expect(Math.abs(f.scale / wanted.scale - 1)).toBeLessThan(0.01);
    expect(Math.max(Math.abs(f.x - wanted.x), Math.abs(f.y - wanted.y))).toBeLessThan(0.006);
    expect(Math.abs(f.rotation - wanted.rotation)).toBeLessThan(0.3);
  });
  it.each(['horizontal', 'vertical'] as const)('that is mirrored %sly is told', (flip) => {
    expect(findings(event(laidScene({ flip }))).findings).toMatchObject([{ kind: 'mirrored', axis: flip }]);
  });
  it('that shows another picture is told, and not explained away', () => {
    expect(findings(event((k) => scene(7, 20 + k)))).toMatchObject({
      verdict: 'differs',
      findings: [{ kind: 'wrong-picture', path: null }],
    });
  });
  it('of a picture that does not move cannot be told, with the slips that would all look the same (TRADE.md: say so instead of guessing)', () => {
    const still = (n: number) => (n >= 0 && n < 200 ? scene(1, 60) : null);
    const found = findings(event(() => scene(1, 60), { source: still }));
    expect(found).toMatchObject({ verdict: 'uncertain', findings: [{ kind: 'cannot-tell', why: 'still' }] });
    expect(found.findings[0]?.kind === 'cannot-tell' && found.findings[0].range).toEqual([-24, 24]);
  });
  it('of fog is too soft to be told', () => {
    const fog = (n: number) => scene(1, n).map((v) => 120 + (v - 120) * 0.02);
    expect(findings(event((k) => fog(300 + 3 * k), { source: fog }))).toMatchObject({ verdict: 'uncertain' });
  });
});

describe('a cut', () => {
  const cut = (shown: (n: number) => Uint8Array, listed: number) => {
    const passage = listed === 0 ? null : { type: 'dissolve', durationFrames: listed, offsetFrames: 0, wipeCode: null };
    return cutFinding({
      cut: 100,
      from: 70,
      to: 140,
      reference: (n) => asReference(shown(n)),
      leaving: (n) => scene(3, n),
      incoming: (n) => scene(5, n),
      listed: passage,
      mask,
    });
  };
  const mixed = (start: number, length: number) => (n: number) => {
    const share = n < start ? 0 : n >= start + length ? 1 : (n - start + 1) / (length + 1);
    const [a, b] = [scene(3, n), scene(5, n)];
    return a.map((v, i) => v * (1 - share) + (b[i] as number) * share);
  };
  it('that is where the list has it is no finding, nor is a dissolve', () => {
    expect(cut(mixed(100, 0), 0)).toBeNull();
    expect(cut(mixed(100, 24), 24)).toBeNull();
  });
  it.each([1, -1, 7, -12])('that lies %i frames later in the reference is told to the frame', (frames) => {
    expect(cut(mixed(100 + frames, 0), 0)).toMatchObject({ kind: 'cut-moved', edge: 'in', frames });
  });
  it('that should dissolve, or should not, or over other frames, is told with both', () => {
    expect(cut(mixed(100, 0), 24)).toMatchObject({ kind: 'transition-differs', expected: { durationFrames: 24 }, measured: null });
    expect(cut(mixed(100, 16), 0)).toMatchObject({ expected: null, measured: { type: 'dissolve', durationFrames: 16, offsetFrames: 0 } });
    expect(cut(mixed(100, 12), 24)).toMatchObject({ measured: { durationFrames: 12, offsetFrames: 0 } });
  });
  it('between pictures that are alike tells nothing', () => {
    expect(shareOf(scene(3, 50), scene(3, 50), scene(3, 50), mask).weight).toBe(0);
    expect(
      bestRamp(
        new Map<number, Share>([
          [1, { share: 0, weight: 1 }],
          [2, { share: 1, weight: 1 }],
        ]),
      ),
    ).toMatchObject({ start: 2, frames: 0 });
  });
});

it('something that lies over the picture is found as a box', () => {
  const frames = Array.from({ length: 8 }, (_, n) => scene(1, n * 5));
  const over = frames.map((f) =>
    f.map((v, i) =>
      i % GRID.width >= 30 && i % GRID.width < 60 && Math.floor(i / GRID.width) >= 20 && Math.floor(i / GRID.width) < 32
        ? ((i * 7) % 3) * 110
        : v,
    ),
  );
  const box = layerBox(over, frames, mask);
  expect(box && [box.x, box.y, box.width, box.height].map((v, i) => Math.round(v * (i % 2 ? GRID.height : GRID.width)))).toEqual([
    30, 20, 30, 12,
  ]);
  expect(layerBox(frames.map(asReference), frames, mask)).toBeNull();
});

describe('a reference', () => {
  /** The picture of 400 x 300 small inside, from (52, 42) on, 320 x 180, as shares. */
  const inset = { left: 0.13, top: 0.14, width: 0.8, height: 0.6 };
  const shown = (n: number) => {
    const out = new Uint8Array(NATIVE_SIZE).fill(16);
    const [w, h] = [Math.round(inset.width * NATIVE.width), Math.round(inset.height * NATIVE.height)];
    const [left, top] = [Math.round(inset.left * NATIVE.width), Math.round(inset.top * NATIVE.height)];
    // The points of this raster are higher than wide in a frame of 4:3.
    const tall = Math.round((w * 9) / 16);
    const picture = scene(2, n, { width: w, height: tall });
    for (let y = 0; y < h; y++) {
      const from = Math.floor(((y + 0.5) * tall) / h) * w;
      out.set(picture.subarray(from, from + w), (y + top) * NATIVE.width + left);
    }
    return out;
  };
  it('that shows the picture small inside another shape after leader is laid: where in it, and from which frame', () => {
    const native = (n: number) => (n < 0 || n >= 300 ? null : n < 48 ? new Uint8Array(NATIVE_SIZE).fill(16) : shown(n - 48));
    const frames = Array.from({ length: 30 }, (_, i) => native(i * 10) as Uint8Array);
    const box = pictureBox(frames);
    const probes = Array.from({ length: 10 }, (_, i) => ({ at: i * 20, luma: scene(2, i * 20) }));
    const heads = [0, ...Array.from({ length: 70 }, (_, i) => i + 1)];
    const found = layReference(native, box, likelyFits(box, 16 / 9, 4 / 3), heads, probes);
    expect(found.head).toBe(48);
    for (const side of ['left', 'top', 'width', 'height'] as const) expect(Math.abs(found.fit[side] - inset[side])).toBeLessThan(0.03);
  });
  it('between bars is compared without them, and a burn-in on a bar is no picture', () => {
    const barred = Array.from({ length: 6 }, (_, n) => {
      const frame = scene(2, n * 9, NATIVE);
      return frame.map((_v, i) => {
        const y = Math.floor(i / NATIVE.width);
        return y < 14 || y >= 94 ? (y > 98 && y < 104 && i % NATIVE.width < 40 ? 230 : 16) : (frame[i] as number);
      });
    });
    const box = pictureBox(barred);
    expect([box.top, box.bottom].map((v) => Math.round(v * NATIVE.height))).toEqual([14, 94]);
    const compared = maskOf(box, { left: 0, top: 0, width: 1, height: 1 });
    expect([compared[6 * GRID.width], compared[27 * GRID.width]]).toEqual([0, 1]);
  });
});

describe('a place in the frame', () => {
  it('is found at any scale, and refined to a fraction of a point', () => {
    const wanted = laid({ scale: 1.33, x: 0.08, y: -0.05, rotation: 3 });
    const match = { reference: warped(scene(4, 10), wanted), source: scene(4, 10) };
    const best = placesOf(match, [''], mask)
      .map((l) => refined([match], l, mask))
      .sort((a, b) => agreementLaid([match], b, mask) - agreementLaid([match], a, mask))[0] as Laid;
    expect(Math.abs(best.scale - 1.33)).toBeLessThan(0.01);
    expect(Math.abs(best.x - 0.08) + Math.abs(best.y + 0.05)).toBeLessThan(0.008);
    expect(Math.abs(best.rotation - 3)).toBeLessThan(0.3);
  });
});

describe('prints', () => {
  const printsFrom = (take: number, frames: number) =>
    Int8Array.from(Array.from({ length: Math.ceil(frames / PRINTED) }, (_, i) => [...printOf(scene(take, i * PRINTED))]).flat());
  /** Pictures of the reference from frame `at` of a take on, where the list put frame 500. */
  const runs = (take: number, at: number) =>
    [0, 10, 20].map((k) => runFrom(500 + k, (n) => soughtPrint(asReference(scene(take, at + n - 500)), mask)));
  it('one of each sixth frame is enough to find a picture to the frame', () => {
    for (const at of [33, 34, 35, 36, 37, 38]) expect(placesIn(runs(9, at), printsFrom(9, 90))[0]?.frame).toBe(at - 500);
  });
  it('of another take agree less by far', () => {
    expect(placesIn(runs(9, 33), printsFrom(9, 90))[0]?.score).toBeGreaterThan(0.8);
    expect(placesIn(runs(9, 33), printsFrom(8, 90))[0]?.score).toBeLessThan(0.5);
  });
  it('are told by what the reference shows of the cut alone', () => {
    const part = wholeMask().map((_, i) => (i % GRID.width < 30 || i < 12 * GRID.width ? 0 : 1));
    const barred = (k: number) => asReference(scene(9, 33 + k)).map((v, i) => (part[i] ? v : 16));
    const sought = [0, 10, 20].map((k) => runFrom(k, (n) => soughtPrint(barred(n), part)));
    expect(placesIn(sought, printsFrom(9, 90))[0]?.frame).toBe(33);
  });
});

describe('a finding in words', () => {
  it.each([
    [{ kind: 'slipped', frames: -2 } as const, 'Slipped: the reference shows the source 2 frames earlier'],
    [{ kind: 'cut-moved', edge: 'in', frames: 1 } as const, 'Cut moved: in the reference its in point lies 1 frame later'],
    [{ kind: 'speed-differs', expected: 1, measured: 0 } as const, 'Speed differs: a freeze in the reference, 100 % in the list'],
    [cannotTell('still', [-3, 2]), 'The picture hardly moves here: slips from -3 to +2 would all look the same'],
  ])('%o', (finding, text) => {
    expect(describeFinding(finding)).toBe(text);
  });
});
