import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { event, original, standing } from '../../test/make';
import { applyDecisions } from '../decisions';
import type { Original } from '../originals';
import { RATES } from '../time';
import { examine, indexOriginals, isNamed, lineMet, pair, pairCut, READY_RULES, type Rules, rulesSchema, withOriginals } from '.';

/** Originals are looked up by reel and name and not one by one: whatever that leaves out must be what nobody would take. */
const REELS = ['A001', 'a-001', 'B002', '', 'AX'];
const NAMES = ['A001C001', 'A001C001_proxy', 'a001_c001', 'B002C007', 'harbour'];

const originals = fc.array(
  fc.record({
    reel: fc.constantFrom(...REELS),
    clip: fc.constantFrom(...NAMES),
    file: fc.constantFrom(...NAMES.map((n) => `${n}.mov`)),
    start: fc.integer({ min: 0, max: 4000 }),
    frames: fc.integer({ min: 1, max: 600 }),
    kind: fc.constantFrom('movie', 'movie', 'movie', 'still', 'sound'),
    timed: fc.boolean(),
    rate: fc.constantFrom(RATES['24'], RATES['25'], RATES['23.976']),
  }),
  { maxLength: 12 },
);
const events = fc.record({
  reel: fc.constantFrom(...REELS),
  clipName: fc.constantFrom(...NAMES, ''),
  fileName: fc.constantFrom(...NAMES.map((n) => `${n}.mxf`), ''),
  source: fc.integer({ min: 0, max: 4000 }),
});
const rules = fc.record({
  name: fc.constantFrom('exact', 'loose', 'off'),
  reel: fc.constantFrom('exact', 'loose', 'off'),
  timecode: fc.constantFrom('must', 'off'),
  need: fc.constantFrom('either', 'both'),
  rates: fc.constantFrom('label', 'real-time', 'frame-count'),
});

describe('candidates, whatever is asked and whatever there is', () => {
  it('are all that meet the rules, and all that are called as the event', () => {
    fc.assert(
      fc.property(events, originals, rules, ({ source, ...words }, made, asked) => {
        const there = made.map(({ file, clip, timed, ...o }, i): Original => {
          const start = timed ? o.start : 0;
          return original(`/v/${i}/${file}`, {
            ...o,
            start,
            clipName: clip,
            fileName: file,
            hasTimecode: timed,
            clock: o.rate,
          } as Partial<Original>);
        });
        const cut = standing([event('V1/1', 0, 20, source, words)]);
        const parsed: Rules = rulesSchema.parse(asked);
        const [found] = pair(cut, there, { rules: parsed });
        const [listed] = cut.tracks[0]?.events ?? [];
        const byHand = there
          .filter((o) => o.kind !== 'sound')
          .map((o) => {
            const asking = { event: listed as NonNullable<typeof listed>, tail: 0, recordRate: cut.rate, framing: null, looks: [] };
            const looked = examine(asking, o, parsed.rates);
            return { ...looked, line: lineMet(parsed, looked) };
          })
          .filter((c) => c.line !== null || isNamed(c.name));
        expect(found?.contenders.map((c) => c.original.path).sort()).toEqual(byHand.map((c) => c.original.path).sort());
        for (const c of found?.contenders ?? []) expect(c).toEqual(byHand.find((b) => b.original === c.original));
      }),
      { numRuns: 400 },
    );
  });
  it('are the same whether all is paired anew or only what a change touches: other originals, rules, decisions', () => {
    fc.assert(
      fc.property(
        events,
        originals,
        originals,
        fc.constantFrom(...READY_RULES),
        fc.boolean(),
        ({ source, ...words }, made, more, asked, shift) => {
          const there = (clips: typeof made, from: string) =>
            clips.map(({ file, clip, timed, ...o }, i) =>
              original(`/${from}/${i}/${file}`, { ...o, clipName: clip, fileName: file, hasTimecode: timed } as Partial<Original>),
            );
          const [first, added] = [there(made, 'v'), there(more, 'w')];
          const removed = first.slice(0, 2).map((o) => o.path);
          const cut = standing([event('V1/1', 0, 20, source, words), event('V1/2', 20, 20, source + 100, words)]);
          const changed = shift ? applyDecisions(cut, [{ kind: 'shift', scope: { of: 'cut' }, frames: 40 }]).list : cut;
          const before = pairCut(cut, indexOriginals(first), { rules: null });
          const index = withOriginals(before.index, added, removed);
          const again = pairCut(changed, index, { rules: asked }, before);
          const anew = pairCut(changed, indexOriginals([...first.slice(2), ...added]), { rules: asked });
          expect(again.pairings).toEqual(anew.pairings);
        },
      ),
      { numRuns: 300 },
    );
  });
  it('are the same by an index made before', () => {
    fc.assert(
      fc.property(events, originals, ({ source, ...words }, made) => {
        const there = made.map(({ file, clip, ...o }, i) => original(`/v/${i}/${file}`, { ...o, clipName: clip } as Partial<Original>));
        const cut = standing([event('V1/1', 0, 20, source, words), event('V1/2', 20, 20, source + 100, words)]);
        expect(pair(cut, indexOriginals(there))).toEqual(pair(cut, there));
      }),
    );
  });
});
