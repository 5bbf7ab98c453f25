import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { dissolve, event, original, standing } from '../../test/make';
import { frameAt, runOf } from '../conform';
import { NATURAL, type Retime } from '../edit';
import { fraction, RATES } from '../time';
import { pair } from '.';

/** Any way a source may run: forward, back, held, between keys. */
const retime = fc.oneof(
  fc.constant<Retime>(NATURAL),
  fc.constant<Retime>({ kind: 'freeze' }),
  fc
    .tuple(fc.integer({ min: -400, max: 400 }), fc.integer({ min: 1, max: 100 }))
    .filter(([num]) => num !== 0)
    .map(([num, den]): Retime => ({ kind: 'constant', speed: fraction(num, den) })),
  fc.tuple(fc.integer({ min: 5, max: 60 }), fc.integer({ min: 0, max: 80 })).map(
    ([at, source]): Retime => ({
      kind: 'keyed',
      keys: [
        { record: 0, source: 0 },
        { record: at, source },
        { record: 100, source: source + 20 },
      ],
    }),
  ),
);

describe('an event asks for the frames that its time map uses, and for no others', () => {
  it('however its source runs, at whatever rate, with its dissolves at either end', () => {
    fc.assert(
      fc.property(
        retime,
        fc.integer({ min: 2, max: 90 }),
        fc.integer({ min: 1, max: 90 }),
        fc.integer({ min: 0, max: 200 }),
        fc.integer({ min: 1, max: 240 }),
        fc.constantFrom(RATES['24'], RATES['25'], RATES['29.97']),
        fc.boolean(),
        (how, length, source, start, frames, rate, joined) => {
          const first = event('V1/1', 0, length, 1000, { retime: how, source: { in: 1000, out: 1000 + source } });
          const next = event('V1/2', length, 40, 5000, { reel: 'Z9', transitionIn: joined ? dissolve(12) : null });
          const cut = standing([first, next]);
          const clip = original('/v/A001C001.mov', { rate, clock: rate, frames });
          const pairs = { original: clip.path, sourceStartFrame: start, acceptedAt: start, rate };
          const paired = {
            ...cut,
            tracks: cut.tracks.map((t) => ({ ...t, events: t.events.map((e, i) => (i === 0 ? { ...e, pair: pairs } : e)) })),
          };
          const [found] = pair(paired, [clip]);
          const run = runOf(first, cut.rate, rate);
          const used = Array.from({ length: length + (joined ? 12 : 0) }, (_, n) => start + frameAt(run, n));
          const lacking = used.some((frame) => frame < 0 || frame >= frames);
          expect(found?.state).toBe(lacking ? 'short' : 'paired');
          const { missingHead, missingTail, spare } = found?.chosen?.length ?? {};
          if (!lacking) expect(spare).toEqual({ head: Math.min(...used), tail: frames - 1 - Math.max(...used) });
          else expect([(missingHead ?? 0) > 0, (missingTail ?? 0) > 0]).toEqual([Math.min(...used) < 0, Math.max(...used) >= frames]);
        },
      ),
      { numRuns: 600 },
    );
  });
});
