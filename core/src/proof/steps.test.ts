import { describe, expect, it } from 'vitest';
import { asideAt } from '../conform';
import { stepsOf } from '.';

/** A cut of ten events of 30 frames, and a reference that shows frame `pace(n)` of the conform at n; `slipped` events show their source aside. */
const events = Array.from({ length: 10 }, (_, i) => ({ alone: Array.from({ length: 30 }, (_, k) => i * 30 + k) }));
const eventAt = (n: number) => Math.floor(n / 30);
function referenceOf(pace: (n: number) => number, slipped: ReadonlyMap<number, number> = new Map()) {
  return (record: number, by: number) => {
    const shown = pace(record + by);
    if (shown < 0 || shown >= 300) return null;
    if (eventAt(shown) !== eventAt(record)) return 0.05;
    // Each frame from the right one costs a fifth of the agreement.
    return Math.max(0.1, 0.98 - 0.2 * Math.abs(shown - record + (slipped.get(eventAt(record)) ?? 0)));
  };
}

describe('a reference', () => {
  it('that keeps pace has no steps', () => {
    expect(
      stepsOf(
        events,
        referenceOf((n) => n),
      ),
    ).toEqual([]);
  });
  it('that lost a frame runs earlier from there on, to the frame', () => {
    expect(
      stepsOf(
        events,
        referenceOf((n) => (n >= 100 ? n + 1 : n)),
      ),
    ).toEqual([{ from: 101, by: -1 }]);
  });
  it('that doubled three runs later', () => {
    const steps = stepsOf(
      events,
      referenceOf((n) => (n < 75 ? n : n < 78 ? 75 : n - 3)),
    );
    expect(steps).toMatchObject([{ by: 3 }]);
    expect(Math.abs((steps[0]?.from ?? 0) - 75)).toBeLessThanOrEqual(3);
    expect([asideAt(steps, 60), asideAt(steps, 200)]).toEqual([0, 3]);
  });
  it('may lose some twice', () => {
    const steps = stepsOf(
      events,
      referenceOf((n) => n + (n >= 70 ? 1 : 0) + (n >= 180 ? 1 : 0)),
    );
    expect(steps.map((s) => s.by)).toEqual([-1, -2]);
  });
  it('is not at fault where events slipped, be it all by the same', () => {
    expect(
      stepsOf(
        events,
        referenceOf(
          (n) => n,
          new Map([
            [3, 2],
            [4, 2],
            [5, 2],
            [6, 2],
            [8, -4],
          ]),
        ),
      ),
    ).toEqual([]);
  });
});
