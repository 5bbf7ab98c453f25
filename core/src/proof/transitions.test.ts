import { describe, expect, it } from 'vitest';
import { scene } from '../../test/scenes';
import { type CutPictures, cutFinding, describeFinding, GRID, GRID_SIZE, type Passage, wholeMask } from '.';

/** What a reference render does to a picture: temporary contrast, noise from compression. */
const asReference = (picture: Uint8Array): Uint8Array => picture.map((v, i) => 0.72 * v + 20 + 5 * Math.sin(i * 12.9898));

/** How much of the incoming picture is seen at a point, by how far the transition has come: drawn here, not by the product's own patterns. */
type Join = (x: number, y: number, come: number) => boolean;
const RIGHTWARD: Join = (x, _, come) => x < come;
const LEFTWARD: Join = (x, _, come) => x > 1 - come;
const DOWNWARD: Join = (_, y, come) => y < come;
const IRIS: Join = (x, y, come) => Math.hypot((x - 0.5) * (16 / 9), y - 0.5) < (come * Math.hypot(16 / 9, 1)) / 2;

/** The cut at 100 from one scene to another, as a reference shows it that goes over in a way of its own. */
function wiped(join: Join, start: number, length: number) {
  return (n: number) => {
    const come = n < start ? 0 : n >= start + length ? 1 : (n - start + 1) / (length + 1);
    const [a, b] = [scene(3, n), scene(5, n)];
    return a.map((v, i) =>
      join(((i % GRID.width) + 0.5) / GRID.width, (Math.floor(i / GRID.width) + 0.5) / GRID.height, come) ? (b[i] as number) : v,
    );
  };
}

const mixed = (start: number, length: number) => (n: number) => {
  const share = n < start ? 0 : n >= start + length ? 1 : (n - start + 1) / (length + 1);
  const b = scene(5, n);
  return scene(3, n).map((v, i) => v * (1 - share) + (b[i] as number) * share);
};

const black = new Uint8Array(GRID_SIZE).fill(16);
const faded =
  (start: number, length: number, before: (n: number) => Uint8Array, to = 5) =>
  (n: number) => {
    if (n < start) return before(n);
    const share = Math.min(1, (n - start + 1) / (length + 1));
    return scene(to, n).map((v) => 16 + (v - 16) * share);
  };

const cut = (shown: (n: number) => Uint8Array, listed: Passage | null, more: Partial<CutPictures> = {}) =>
  cutFinding({
    cut: 100,
    from: 70,
    to: 150,
    reference: (n) => asReference(shown(n)),
    leaving: (n) => scene(3, n),
    incoming: (n) => scene(5, n),
    listed,
    mask: wholeMask(),
    ...more,
  });

const wipe = (wipeCode: string, durationFrames: number, reverse = false): Passage => ({
  type: 'wipe',
  durationFrames,
  offsetFrames: 0,
  wipeCode,
  ...(reverse ? { reverse } : {}),
});
const dissolve = (durationFrames: number): Passage => ({ type: 'dissolve', durationFrames, offsetFrames: 0, wipeCode: null });

// SMPTE ST 258 names wipes by number; 1 runs from the left edge, 2 from the top, 119 is a circle (numbers as in W3C SMIL 2.0, from memory).
const KNOWN = [
  ['from left to right', RIGHTWARD, '001', false],
  ['from right to left', LEFTWARD, '001', true],
  ['from the top down', DOWNWARD, '002', false],
  ['as a circle from the middle', IRIS, '119', false],
] as const;

describe('a wipe', () => {
  it.each(KNOWN)('%s that the list has so is no finding', (_, join, code, reverse) => {
    expect(cut(wiped(join, 100, 20), wipe(code, 20, reverse))).toBeNull();
  });
  // TRADE.md, the usual dirt: wipes that come back in another direction, and special transitions that come back as a dissolve.
  it.each(KNOWN)('%s where the list dissolves, or cuts, is told with its pattern, direction and length', (_, join, wipeCode, reverse) => {
    for (const listed of [dissolve(20), null]) {
      const found = cut(wiped(join, 100, 20), listed);
      expect(found).toMatchObject({ kind: 'transition-differs', expected: listed, measured: { type: 'wipe', wipeCode } });
      if (found?.kind !== 'transition-differs') return;
      expect(found.measured?.reverse ?? false).toBe(reverse);
      expect(Math.abs((found.measured?.durationFrames ?? 0) - 20)).toBeLessThanOrEqual(1);
      expect(Math.abs(found.measured?.offsetFrames ?? 9)).toBeLessThanOrEqual(1);
    }
  });
  it('in another direction, of another pattern or of another length is told', () => {
    expect(cut(wiped(LEFTWARD, 100, 20), wipe('001', 20))).toMatchObject({ measured: { wipeCode: '001', reverse: true } });
    expect(cut(wiped(DOWNWARD, 100, 20), wipe('001', 20))).toMatchObject({ measured: { wipeCode: '002' } });
    expect(cut(wiped(RIGHTWARD, 100, 12), wipe('001', 20))).toMatchObject({ measured: { wipeCode: '001', durationFrames: 12 } });
    expect(cut(wiped(RIGHTWARD, 92, 20), wipe('001', 20))).toMatchObject({ kind: 'cut-moved', frames: -8 });
  });
  it('that is a dissolve or a cut in the reference is told so', () => {
    expect(cut(mixed(100, 20), wipe('001', 20))).toMatchObject({ measured: { type: 'dissolve', durationFrames: 20, wipeCode: null } });
    expect(cut(mixed(100, 0), wipe('001', 20))).toMatchObject({ kind: 'transition-differs', measured: null });
  });
  it('of a pattern that is not drawn is held against its length and against a dissolve, and its pattern is left alone', () => {
    expect(cut(wiped(IRIS, 100, 20), wipe('999', 20))).toBeNull();
    expect(cut(mixed(100, 0), wipe('999', 20))).toMatchObject({ measured: null });
  });
  it('is named in words with its pattern and direction', () => {
    const found = cut(wiped(LEFTWARD, 100, 20), dissolve(20));
    expect(found && describeFinding(found)).toMatch(
      /^Transition differs: a wipe 001 run in reverse of (19|20|21) frames in the reference, a dissolve of 20 frames in the list$/,
    );
  });
});

describe('a fade', () => {
  it('in from black that the list has so is no finding', () => {
    const first: Partial<CutPictures> = { black: 'leaving', first: true, from: 100 };
    expect(
      cut(
        faded(100, 24, () => black),
        { ...dissolve(24), from: 'black' },
        first,
      ),
    ).toBeNull();
  });
  it('in over other frames, or none, is told', () => {
    const first: Partial<CutPictures> = { black: 'leaving', first: true, from: 100 };
    expect(
      cut(
        faded(100, 12, () => black),
        { ...dissolve(24), from: 'black' },
        first,
      ),
    ).toMatchObject({
      kind: 'transition-differs',
      measured: { type: 'dissolve', durationFrames: 12, from: 'black' },
    });
    expect(
      cut(
        faded(100, 0, () => black),
        { ...dissolve(24), from: 'black' },
        first,
      ),
    ).toMatchObject({ measured: null });
  });
  it('in that the list has as a cut is told', () => {
    expect(
      cut(
        faded(100, 16, (n) => scene(3, n)),
        null,
      ),
    ).toMatchObject({
      kind: 'transition-differs',
      expected: null,
      measured: { type: 'dissolve', durationFrames: 16, offsetFrames: 0, from: 'black' },
    });
  });
  it('out into black is told by how the picture that leaves grows weaker', () => {
    const out = (length: number) => (n: number) => {
      const share = n < 100 ? 0 : Math.min(1, (n - 99) / (length + 1));
      return scene(3, n).map((v) => 16 + (v - 16) * (1 - share));
    };
    expect(cut(out(20), dissolve(20), { black: 'incoming' })).toBeNull();
    expect(cut(out(10), dissolve(20), { black: 'incoming' })).toMatchObject({ measured: { durationFrames: 10 } });
  });
});
