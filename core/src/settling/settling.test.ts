import { describe, expect, it } from 'vitest';
import { DIRT, type Dirt, figuresOf, madeJob } from '../../test/jobs';
import { event, list, original } from '../../test/make';
import { applyDecisions, type Decision } from '../decisions';
import type { EditList } from '../edit';
import type { Original } from '../originals';
import { indexOriginals } from '../pairing';
import { RATES } from '../time';
import { inferAll, proposals, proposalText, settlingOf } from '.';

const laid = (cut: EditList, originals: readonly Original[], decisions: readonly Decision[] = []) =>
  settlingOf(cut, decisions, indexOriginals(originals));
/** A clip of reel A001 by its number, at so many seconds of the day, 500 frames long. */
const clip = (n: number, second: number, more: Partial<Original> = {}) =>
  original(`/v/A001/A001C00${n}.mov`, { start: second * 24, frames: 500, ...more });
const HOUR = 3600;
const cards = [clip(1, 10 * HOUR), clip(2, 10 * HOUR + 40), clip(3, 10 * HOUR + 90)];
/** Events of the clips, each from so many frames into it, their labels shifted. */
const cutOf = (shift: (clip: Original, into: number) => number, more = {}) =>
  list(
    cards.map((c, i) =>
      event(`V1/${i + 1}`, i * 20, 20, shift(c, 100 + 30 * i), { reel: c.reel, clipName: c.clipName, fileName: c.fileName, ...more }),
    ),
  );
const states = (s: ReturnType<typeof laid>) => s.paired.pairings.map((p) => p.state);
const starts = (s: ReturnType<typeof laid>) => s.paired.pairings.map((p) => p.chosen?.sourceStartFrame);
const said = (s: ReturnType<typeof laid>) => proposals(s).map((p) => proposalText(p, RATES['24']));

describe('timecode that disagrees by one cause (TRADE.md, matching)', () => {
  it('a whole reel an hour off is told by the clips that its names find, and settled once', () => {
    const before = laid(
      cutOf((c, into) => c.start + into - HOUR * 24),
      cards,
    );
    expect(states(before)).toEqual(['doubtful', 'doubtful', 'doubtful']);
    expect(proposals(before)).toMatchObject([
      { cause: { reading: { kind: 'shift', frames: HOUR * 24 }, clips: 3 }, exceptions: [], certain: true },
    ]);
    const { settled } = inferAll(before);
    expect([states(settled), starts(settled)]).toEqual([
      ['proposed', 'proposed', 'proposed'],
      [100, 130, 160],
    ]);
    expect(settled.paired.pairings[0]?.chosen?.shiftFrames).toBe(HOUR * 24);
    expect(settled.decisions).toEqual([{ kind: 'shift', scope: { of: 'reel', reel: 'A001' }, frames: HOUR * 24 }]);
  });
  it('a list that counts from zero counts from the first frame of each clip', () => {
    const { settled, taken } = inferAll(
      laid(
        cutOf((_, into) => into),
        cards,
      ),
    );
    expect([taken.length, states(settled), starts(settled)]).toEqual([1, ['proposed', 'proposed', 'proposed'], [100, 130, 160]]);
    expect(settled.paired.pairings[1]?.chosen?.shiftFrames).toBe(cards[1]?.start);
  });
  it('a reel of 25 whose labels were counted at 24 is carried frame for frame', () => {
    const at25 = cards.map((c) => ({ ...c, rate: RATES['25'], clock: RATES['25'], start: (c.start / 24) * 25 }));
    const cut = list(
      at25.map((c, i) =>
        event(`V1/${i + 1}`, i * 20, 20, c.start + 50, { clipName: c.clipName, fileName: c.fileName, rateMode: 'frame-for-frame' }),
      ),
    );
    const { settled } = inferAll(laid(cut, at25));
    expect([states(settled), starts(settled)]).toEqual([
      ['proposed', 'proposed', 'proposed'],
      [50, 50, 50],
    ]);
  });
  it('an odd shift is told as far as the lengths of the clips tell it, and never taken by itself', () => {
    const before = laid(
      cutOf((c, into) => c.start + into - 7777),
      cards,
    );
    const [found] = proposals(before);
    expect(found).toMatchObject({ certain: false, decisions: [], cause: { reading: { kind: 'between' } } });
    const { least = 0, most = 0 } = (found?.cause as { reading?: { least: number; most: number } } | undefined)?.reading ?? {};
    expect([least <= 7777, most >= 7777]).toEqual([true, true]);
    expect(inferAll(before).taken).toEqual([]);
  });
  it('what agrees as it is counts as an exception, and then nothing is taken by itself', () => {
    const shifted = cutOf((c, into) => c.start + into - HOUR * 24);
    const [track] = shifted.tracks;
    const right = event('V1/9', 100, 20, (cards[0]?.start ?? 0) + 5, { clipName: 'A001C001', fileName: 'A001C001.mov' });
    const cut = { ...shifted, tracks: [{ name: 'V1', kind: 'picture' as const, events: [...(track?.events ?? []), right] }] };
    const [found] = proposals(laid(cut, cards));
    expect(found).toMatchObject({ events: ['V1/1', 'V1/2', 'V1/3'], exceptions: ['V1/9'], certain: false });
    // Taken by a person it is settled event by event, and the one that agrees stays.
    const after = laid(cut, cards, found?.decisions);
    expect(states(after)).toEqual(['proposed', 'proposed', 'proposed', 'proposed']);
  });
  it('an hour off, the clips of a reel that are called otherwise are not found by chance', () => {
    const typed = { clipName: 'wind pump at dawn', fileName: '' };
    const cut = list([
      event('V1/1', 0, 20, (cards[0]?.start ?? 0) + 100, typed),
      event('V1/2', 20, 20, 9 * HOUR * 24, typed),
      event('V1/3', 40, 20, 9 * HOUR * 24 + 1000, typed),
    ]);
    const found = laid(cut, cards).paired.pairings[0];
    expect([found?.state, found?.doubt]).toEqual(['doubtful', 'reel-timecode']);
  });
  it('that was refused is not proposed again, until that is undone', () => {
    const cut = cutOf((c, into) => c.start + into - HOUR * 24);
    const [found] = proposals(laid(cut, cards));
    const refused: Decision[] = [{ kind: 'refuse-cause', cause: found?.id ?? '', text: 'an hour off' }];
    expect(proposals(laid(cut, cards, refused))).toEqual([]);
    expect(proposals(laid(cut, cards))).toHaveLength(1);
  });
});

describe('names and reels that follow one pattern', () => {
  it('reel fields that hold the first six characters of the file name are one pattern', () => {
    const files = cards.map((c, i) => ({
      ...c,
      reel: '',
      path: `/v/DAY_1/K4477${i}_x.mov`,
      fileName: `K4477${i}_x.mov`,
      clipName: `K4477${i}_x`,
    }));
    const cut = list(
      files.map((c, i) => event(`V1/${i + 1}`, i * 20, 20, c.start + 100, { reel: c.fileName.slice(0, 6), clipName: '', fileName: '' })),
    );
    const before = laid(cut, files);
    expect(states(before)).toEqual(['unpaired', 'unpaired', 'unpaired']);
    expect(said(before)).toEqual(['Reels of the list are the first 6 characters of the file name.']);
    expect(states(inferAll(before).settled)).toEqual(['proposed', 'proposed', 'proposed']);
  });
  it('eight characters, as classic lists cut reels, need no word (SMPTE ST 258)', () => {
    const files = cards.map((c, i) => ({
      ...c,
      reel: '',
      path: `/v/DAY_1/K447755${i}_x.mov`,
      fileName: `K447755${i}_x.mov`,
      clipName: `K447755${i}_x`,
    }));
    const cut = list(
      files.map((c, i) => event(`V1/${i + 1}`, i * 20, 20, c.start + 100, { reel: c.fileName.slice(0, 8), clipName: '', fileName: '' })),
    );
    expect(states(laid(cut, files))).toEqual(['proposed', 'proposed', 'proposed']);
  });
  it('names with more around them are learnt where timecode agrees, and from pairs that were accepted', () => {
    const named = (i: number, c: Original) =>
      event(`V1/${i + 1}`, i * 20, 20, c.start + 100, { reel: 'AX', clipName: `ofl-${c.clipName}-v2`, fileName: '' });
    const cut = list(cards.map((c, i) => named(i, c)));
    expect(said(laid(cut, cards))).toEqual(['Names like ofl-*-v2 are called * here.']);
    const two = list(cards.slice(0, 2).map((c, i) => named(i, c)));
    const accepted: Decision[] = [{ kind: 'pair', event: 'V1/1', original: cards[0]?.path ?? '', sourceStartFrame: 100 }];
    expect(proposals(laid(two, cards, accepted))).toEqual([]);
  });
  it('two cameras with the same time of day teach nothing', () => {
    const twins = cards.flatMap((c) => [
      c,
      { ...c, reel: 'B001', path: c.path.replaceAll('A001', 'B001'), clipName: c.clipName.replace('A001', 'B001') },
    ]);
    const cut = list(
      cards.map((c, i) => event(`V1/${i + 1}`, i * 20, 20, c.start + 100, { reel: 'AX', clipName: `00${i + 1}`, fileName: '' })),
    );
    expect(proposals(laid(cut, twins))).toEqual([]);
  });
});

describe('an original that lies elsewhere or is called otherwise now (TRADE.md, typical failures)', () => {
  const lost = clip(1, 10 * HOUR, { bytes: 4711, print: '' });
  const pairs: Decision[] = [{ kind: 'pair', event: 'V1/1', original: lost.path, sourceStartFrame: 100 }];
  const cut = list([event('V1/1', 0, 20, lost.start + 100)]);
  const among = (...now: Original[]) => ({ ...laid(cut, now, pairs), known: (path: string) => (path === lost.path ? lost : undefined) });
  const at = (path: string, more: Partial<Original> = {}): Original => ({ ...lost, path, fileName: path.split('/').pop() ?? '', ...more });
  it('is known again by timecode, length and size, and its pair is made anew from the same frame', () => {
    const renamed = at('/w/take one.mov');
    const settling = among(renamed, clip(2, 11 * HOUR));
    expect(states(settling)).toEqual(['away']);
    const [found] = proposals(settling);
    expect(found).toMatchObject({ cause: { files: [{ from: lost.path, to: renamed.path, by: 'size' }] }, certain: true });
    expect(states(laid(cut, [renamed], [...pairs, ...(found?.decisions ?? [])]))).toEqual(['paired']);
  });
  it('is not another of the same length and timecode whose content or size differs, nor one of two that it could be', () => {
    expect(proposals(among(at('/w/A001C001.mov', { bytes: 4712 })))).toEqual([]);
    expect(proposals({ ...among(at('/w/x.mov', { print: 'b' })), known: () => ({ ...lost, print: 'a' }) })).toEqual([]);
    expect(proposals(among(at('/w/x.mov'), at('/w/y.mov')))).toEqual([]);
    // The other camera's clip of the same moment, uncompressed: as long, as large, of the same timecode.
    expect(proposals(among(at('/w/x.mov', { reel: 'B001' })))).toEqual([]);
    expect(proposals(among(at('/w/A001C009.mov')))).toEqual([]);
  });
});

describe('jobs of which it is known what belongs to what', () => {
  it('of more than 5 000 events over 40 seeds, no proposal is wrong, before causes are inferred or after', () => {
    const left = new Map<Dirt, number>();
    let events = 0;
    for (let seed = 1; seed <= 40; seed++) {
      const dirts = DIRT.map((_, i) => DIRT[(i + seed * 5) % DIRT.length] as Dirt);
      const job = madeJob(seed, 140, dirts);
      const before = laid(job.list, job.originals);
      expect(figuresOf(job, before.paired.pairings).wrong).toEqual([]);
      const after = figuresOf(job, inferAll(before).settled.paired.pairings);
      expect(after.wrong).toEqual([]);
      events += after.events;
      for (const [dirt, n] of after.person) left.set(dirt, (left.get(dirt) ?? 0) + n);
    }
    expect(events).toBeGreaterThan(5000);
    // What a person must look at: two exports that differ in raster, an odd shift, and typed names on a reel an hour off.
    expect([...left.keys()].sort()).toEqual(['odd-shift', 'two-exports', 'typed-names-hour-off']);
  });
  it('what is inferred is undone with its decisions', () => {
    const job = madeJob(3, 140);
    const { settled } = inferAll(laid(job.list, job.originals));
    expect(settled.decisions.length).toBeGreaterThan(0);
    expect(applyDecisions(job.list, []).list).toEqual(laid(job.list, job.originals).applied.list);
  });
});
