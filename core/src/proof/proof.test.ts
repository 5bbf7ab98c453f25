import { describe, expect, it } from 'vitest';
import {
  align,
  correlate,
  describeFinding,
  detailOf,
  enlarged,
  findPictureArea,
  findReframe,
  GRID,
  GRID_SIZE,
  judge,
  judgeStill,
  prepare,
  REACH,
  searchFor,
  WHOLE,
} from '.';

/** A picture in motion, drawn by formula: discs with edges that drift over a slope, so that no two frames are alike. */
function scene(seed: number, n: number): Uint8Array {
  const out = new Uint8Array(GRID_SIZE);
  for (let y = 0, i = 0; y < GRID.height; y++)
    for (let x = 0; x < GRID.width; x++, i++) {
      let v = 70 + y;
      for (let k = 1; k <= 9; k++) {
        const cx = 48 + 46 * Math.sin(seed * k + n * 0.017 * k);
        const cy = 27 + 24 * Math.cos(seed * 1.7 * k + n * 0.013 * (k + 1));
        const inside = 4 + (k % 4) * 2 - Math.hypot(x - cx, y - cy);
        v += (k % 2 ? 75 : -60) * Math.max(0, Math.min(1, inside + 0.5));
      }
      out[i] = Math.max(0, Math.min(255, v));
    }
  return out;
}

/** What a reference render does to a picture: bars, colour, contrast, noise from compression. */
function asReference(picture: Uint8Array): Uint8Array {
  return picture.map((v, i) => {
    const y = Math.floor(i / GRID.width);
    if (y < 7 || y >= GRID.height - 7) return 16;
    return Math.max(16, Math.min(235, 0.72 * v + 20 + 5 * Math.sin(i * 12.9898)));
  });
}

const references = (seed: number, first: number, count: number) =>
  Array.from({ length: count }, (_, k) => asReference(scene(seed, first + k)));

describe('the picture area', () => {
  it('leaves out the letterbox, and its soft edge', () => {
    expect(findPictureArea(references(1, 0, 8))).toEqual({ left: 0, top: 8, right: GRID.width, bottom: GRID.height - 8 });
  });
  it('is not fooled by a burn-in printed on a bar', () => {
    const burnt = references(1, 0, 8).map((r) => r.map((v, i) => (Math.floor(i / GRID.width) === 50 && i % GRID.width < 30 ? 230 : v)));
    expect(findPictureArea(burnt).bottom).toBe(GRID.height - 8);
  });
  it('is the whole where everything is black', () => {
    expect(findPictureArea([new Uint8Array(GRID_SIZE)])).toEqual(WHOLE);
  });
});

describe('correlation', () => {
  const area = findPictureArea(references(1, 0, 8));
  it('is 1 for the same picture, and survives colour, contrast and compression', () => {
    const picture = prepare(scene(1, 5), area);
    expect(correlate(picture, picture)).toBeCloseTo(1, 5);
    expect(correlate(picture, prepare(asReference(scene(1, 5)), area))).toBeGreaterThan(0.9);
  });
  it('is low for another picture and 0 for a blank one', () => {
    expect(correlate(prepare(scene(1, 5), area), prepare(scene(2, 5), area))).toBeLessThan(0.5);
    expect(correlate(prepare(scene(1, 5), area), prepare(new Uint8Array(GRID_SIZE).fill(90), area))).toBe(0);
  });
});

const area1 = findPictureArea(references(1, 0, 8));
const [shown, sources] = [
  references(1, 100, 24),
  new Map(Array.from({ length: 130 }, (_, k) => [50 + k, prepare(scene(1, 50 + k), area1)])),
];

function proveSlip(slip: number, available: (n: number) => boolean = () => true) {
  const area = area1;
  const samples = shown.map((r, k) => ({ reference: prepare(r, area), sourceFrame: 100 + k - slip }));
  const alignment = align(samples, (n) => (available(n) ? (sources.get(n) ?? null) : null));
  if (!alignment) throw new Error('nothing to align');
  return { ...judge(alignment, detailOf(scene(1, 100), area)), alignment };
}

describe('slips', () => {
  it('of every size within reach are found exactly; frames is what must be added to the source in', () => {
    for (let slip = -REACH; slip <= REACH; slip++) {
      const { verdict, findings } = proveSlip(slip);
      if (slip === 0) expect({ verdict, findings }).toEqual({ verdict: 'same', findings: [] });
      else expect({ slip, findings }).toEqual({ slip, findings: [{ kind: 'slipped', frames: slip }] });
    }
  });
  it('are found where the source ends beside the event', () => {
    expect(proveSlip(3, (n) => n >= 97 && n < 124).findings).toEqual([{ kind: 'slipped', frames: 3 }]);
  });
  it('of a picture that does not move cannot be told, and it is said so', () => {
    const area = findPictureArea(references(3, 0, 8));
    const still = prepare(scene(3, 0), area);
    const alignment = align(
      Array.from({ length: 20 }, (_, k) => ({ reference: prepare(asReference(scene(3, 0)), area), sourceFrame: k })),
      () => still,
    );
    expect(alignment && judge(alignment, detailOf(scene(1, 0), WHOLE))).toMatchObject({
      verdict: 'uncertain',
      findings: [{ kind: 'cannot-tell' }],
    });
  });
  it('have no answer where the source has no frame at all', () => {
    expect(align([{ reference: prepare(scene(1, 0), WHOLE), sourceFrame: 0 }], () => null)).toBeNull();
  });
});

describe('another picture', () => {
  it('is told from the right one', () => {
    const samples = Array.from({ length: 12 }, (_, k) => ({ reference: prepare(asReference(scene(1, k)), WHOLE), sourceFrame: k }));
    const alignment = align(samples, (n) => prepare(scene(7, n), WHOLE));
    expect(alignment && judge(alignment, detailOf(scene(1, 0), WHOLE))).toMatchObject({
      verdict: 'differs',
      findings: [{ kind: 'wrong-picture' }],
    });
  });
  it('is found in the clip it came from, at its exact frame', () => {
    const area = findPictureArea(references(5, 0, 8));
    const search = searchFor(references(5, 40, 20).map((r, k) => ({ reference: prepare(r, area), sourceFrame: 200 + k })));
    for (let n = 0; n < 120; n++) search.offer(prepare(scene(5, n), area), n);
    expect(search.finish()?.sourceFrame).toBe(40);
    for (let n = 0; n < 120; n++) search.offer(prepare(scene(6, n), area), n);
    expect(search.finish()?.score).toBeLessThan(0.6);
  });
});

describe('a soft picture', () => {
  /** Fog: broad light that drifts, less than a code value from one neighbourhood to the next. */
  const fog = (n: number) =>
    Uint8Array.from(
      { length: GRID_SIZE },
      (_, i) => 130 + 20 * Math.sin((i % GRID.width) / 30 + n * 0.05) + 12 * Math.cos(Math.floor(i / GRID.width) / 18),
    );
  const samples = Array.from({ length: 12 }, (_, k) => ({ reference: prepare(asReference(fog(k)), area1), sourceFrame: k }));
  const alignment = (source: (n: number) => Uint8Array) => {
    const found = align(samples, (n) => prepare(source(n), area1));
    if (!found) throw new Error('nothing to align');
    return found;
  };
  it('has hardly any detail, a sharp one has plenty', () => {
    expect(detailOf(fog(3), area1)).toBeLessThan(2);
    expect(detailOf(scene(1, 3), area1)).toBeGreaterThan(10);
  });
  it('is never called another picture for a low score, nor a slip: that cannot be told', () => {
    const { verdict, findings } = judge({ ...alignment(fog), best: { offset: 7, score: 0.3 }, atZero: 0.2 }, detailOf(fog(3), area1));
    expect([verdict, findings]).toMatchObject(['uncertain', [{ kind: 'cannot-tell', why: 'too-soft' }]]);
    expect(judge(alignment(fog), detailOf(fog(3), area1)).verdict).not.toBe('differs');
    expect(judgeStill(0.3, 0.6).verdict).toBe('uncertain');
  });
  it('in place of a sharp one is another picture all the same', () => {
    expect(
      judge(
        alignment((n) => scene(1, n)),
        detailOf(scene(1, 3), area1),
      ),
    ).toMatchObject({ verdict: 'differs', findings: [{ kind: 'wrong-picture' }] });
    expect(judgeStill(0.3, 15).verdict).toBe('differs');
  });
});

describe('a reposition the list lost', () => {
  it('is measured: scale within 2 %, position within 1 % of the frame', () => {
    for (const [scale, x, y] of [
      [1.25, 0.06, -0.05],
      [1.4, 0, 0.1],
      [1.1, -0.03, 0],
    ] as const) {
      const found = findReframe(asReference(enlarged(scene(4, 9), scale, x, y)), scene(4, 9), findPictureArea(references(4, 0, 8)));
      expect(Math.abs(found.scale - scale)).toBeLessThan(0.025);
      expect(Math.abs(found.x - x)).toBeLessThan(0.012);
      expect(Math.abs(found.y - y)).toBeLessThan(0.012);
    }
  });
  it('is none where the frame fits', () => {
    expect(findReframe(asReference(scene(4, 9)), scene(4, 9), findPictureArea(references(4, 0, 8))).scale).toBeLessThan(1.02);
  });
});

it('findings are said in words', () => {
  expect(describeFinding({ kind: 'slipped', frames: 3 })).toBe('Slipped: the reference shows the source 3 frames later');
  expect(describeFinding({ kind: 'slipped', frames: -1 })).toBe('Slipped: the reference shows the source 1 frame earlier');
  expect(describeFinding({ kind: 'wrong-picture', path: null, sourceStartFrame: null, sourceIn: null })).toContain('none of the originals');
});
