import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { event, original, standing } from '../../test/make';
import type { ListEvent } from '../edit';
import type { Original } from '../originals';
import { evidenceText, indexOriginals, type PictureLook, pair, pairCut, READY_RULES } from '.';

/** What a finishing editor expects of pictures once they were compared (common practice; TRADE.md section 3). */
const clip = (file: string, more: Partial<Original> = {}) => original(file, { start: 86_400, frames: 240, ...more });
const asked = (more: Partial<ListEvent> = {}) => event('V1/1', 0, 48, 86_424, more);
const [twin, other] = ['/v/A001/A001C001.mov', '/v/exports/A001C001.mov'];
const found = (path: string, sourceStartFrame: number, more: Partial<Extract<PictureLook, { is: 'found' }>> = {}): PictureLook => ({
  path,
  is: 'found',
  sourceStartFrame,
  range: [0, 0],
  altered: false,
  score: 0.93,
  ...more,
});
const cutOf = (events: ListEvent[]) => standing(events);
const first = (looks: readonly PictureLook[], originals: Original[], more: Partial<ListEvent> = {}) =>
  pair(cutOf([asked(more)]), originals, { looksAt: new Map([['V1/1', looks]]) })[0];

describe('a picture that was compared', () => {
  it('settles which of two clips of one name and timecode it is', () => {
    const two = [clip(twin), clip(other)];
    expect(pair(cutOf([asked()]), two)[0]?.state).toBe('contested');
    const settled = first([found(twin, 24, { altered: true }), found(other, 24)], two);
    expect([settled?.state, settled?.chosen?.original.path]).toEqual(['proposed', other]);
  });
  it('of both leaves the choice to a person', () => {
    expect(first([found(twin, 24), found(other, 24)], [clip(twin), clip(other)])?.state).toBe('contested');
  });
  it('that is another makes a candidate doubtful, whatever its names say', () => {
    expect(first([{ path: twin, is: 'another', score: 0.1, best: null }], [clip(twin)])?.state).toBe('doubtful');
  });
  it('leads to a clip that nothing else leads to, at the frame where it was found', () => {
    const lost = { reel: 'AX', clipName: '', fileName: '' };
    const stray = clip('/v/C/0001.mov', { reel: '', clipName: '0001', start: 0 });
    expect(first([], [stray], lost)?.state).toBe('unpaired');
    expect(first([found(stray.path, 117)], [stray], lost)).toMatchObject({ state: 'proposed', chosen: { sourceStartFrame: 117 } });
  });
  it('does not outvote a reel that conflicts', () => {
    const strange = clip('/v/B001/B001C009.mov', { reel: 'B001', clipName: 'B001C009' });
    expect(first([found(strange.path, 24)], [strange])?.state).toBe('doubtful');
  });
  it('a few frames aside stays a proposal, and says how many: the slip is for the proof', () => {
    const aside = first([found(twin, 27, { range: [-1, 1] })], [clip(twin)]);
    expect([aside?.state, aside?.chosen?.picture.grade, aside?.chosen?.sourceStartFrame]).toEqual(['proposed', 'aside', 24]);
    expect(aside?.chosen && evidenceText(aside.chosen.picture)).toBe('agrees with the reference by 93 %, 3 frames later');
    expect(first([found(twin, 25, { range: [-1, 1] })], [clip(twin)])?.chosen?.picture.grade).toBe('exact');
  });
  it('may be asked for by rules, which then take nothing that was not compared', () => {
    const rules = READY_RULES.find((set) => set.name === 'Picture alone') ?? null;
    const wish = (looks: readonly PictureLook[]) => ({ rules, looksAt: new Map([['V1/1', looks]]) });
    expect(pair(cutOf([asked()]), [clip(twin)], wish([]))[0]?.state).toBe('doubtful');
    expect(pair(cutOf([asked()]), [clip(twin)], wish([found(twin, 24)]))[0]?.state).toBe('proposed');
  });
  it('changes no more than what pairing anew with it would give', () => {
    const look = fc.constantFrom<readonly PictureLook[]>(
      [],
      [found(twin, 24)],
      [found(other, 24, { altered: true })],
      [{ path: twin, is: 'open' }],
      [{ path: other, is: 'another', score: 0.2, best: 0.9 }],
    );
    fc.assert(
      fc.property(look, look, (before, now) => {
        const cut = cutOf([asked()]);
        const index = indexOriginals([clip(twin), clip(other)]);
        const wish = (looks: readonly PictureLook[]) => ({ looksAt: new Map([['V1/1', looks]]) });
        const again = pairCut(cut, index, wish(now), pairCut(cut, index, wish(before)));
        expect(again.pairings).toEqual(pair(cut, index, wish(now)));
      }),
      { numRuns: 25 },
    );
  });
});
