import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { anyCut, CUTS } from '../../test/cuts';
import { back, untold } from '../../test/untold';
import { LIST_FORMATS } from './registry';
import { writeList } from './writing';

/** Every format against every other over cuts that use everything: what a list becomes is the same, or each difference is told. */
/** What each format has no place for, by its nature. */
const WITHOUT: Record<string, readonly string[]> = {
  otio: ['overlaps', 'links'],
  aaf: ['cdl', 'placement', 'part-placement', 'marker-colours', 'keys', 'links', 'overlaps', 'wipe-looks', 'black', 'part-frames'],
  xmeml: ['part-placement', 'cdl', 'numbers', 'keys', 'wipe-looks', 'marker-colours', 'list-notes', 'cut-points', 'part-frames'],
  edl: ['placement', 'switched-off', 'numbers', 'mixed-rates', 'wipe-looks', 'keyed-speed', 'links', 'part-frames', 'reels'],
  table: [
    'dissolves',
    'wipes',
    'keys',
    'placement',
    'cdl',
    'switched-off',
    'title',
    'mixed-rates',
    'kinds',
    'keyed-speed',
    'markers',
    'list-notes',
    'links',
    'part-frames',
  ],
};
/**
 * What is lost only where a cut is at odds with itself: transitions that run into each other or begin before frame 0, a clip whose
 * reel is called as black is, a colour without a text; of a speed that changes, what a transition takes from its head. Seldom: in one of
 * five of such cuts at most.
 */
const SELDOM: Record<string, readonly string[]> = {
  otio: ['transitions'],
  aaf: ['transitions', 'numbers', 'source', 'early-transitions', 'keyed-speed'],
  xmeml: ['switched-off', 'notes', 'transitions'],
  edl: [
    'transitions',
    'early-transitions',
    'events',
    'source',
    'kinds',
    'markers',
    'marker-colours',
    'notes',
    'black',
    'source-lengths',
    'clip-names',
  ],
  table: ['early-transitions', 'record', 'source', 'notes', 'source-counting', 'source-lengths'],
};

describe('what a list becomes in another format', () => {
  for (const format of LIST_FORMATS)
    it(`is the same as ${format.title}, or told`, () => {
      fc.assert(
        fc.property(anyCut, (cut) => {
          expect(untold(cut, format)).toEqual([]);
        }),
        { numRuns: CUTS, seed: 11 },
      );
    });
  for (const format of LIST_FORMATS)
    it(`lacks in ${format.title} what that has no place for, and nothing else`, () => {
      const found = new Map<string, number>();
      const cuts = fc.sample(anyCut, { numRuns: CUTS, seed: 13 });
      for (const cut of cuts)
        for (const { code } of writeList(cut, format, `cut.${format.extensions[0]}`).notices) {
          const what = code.replace('cannot-carry-', '');
          if (what !== 'no-text' && !WITHOUT[format.name]?.includes(what)) found.set(what, (found.get(what) ?? 0) + 1);
        }
      expect([...found.keys()].filter((what) => !SELDOM[format.name]?.includes(what))).toEqual([]);
      for (const [what, times] of found) expect({ what, often: times > cuts.length / 5 }).toEqual({ what, often: false });
    });
  for (const from of LIST_FORMATS)
    it(`is so too on the way from ${from.title} to each of the others`, () => {
      fc.assert(
        fc.property(anyCut, (cut) => {
          const read = back(from, cut, writeList(cut, from, `cut.${from.extensions[0]}`).files[0]?.bytes);
          for (const to of LIST_FORMATS) expect({ to: to.name, untold: untold(read, to) }).toEqual({ to: to.name, untold: [] });
        }),
        { numRuns: Math.ceil(CUTS / 4), seed: 12 },
      );
    });
});
