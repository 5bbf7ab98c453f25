import {
  indexOriginals,
  type Original,
  type PictureLook,
  type Settling,
  settlingOf,
  withLooks,
  withProposals,
  worthComparing,
} from '@gemello/core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { compareAbreast } from '../src';
import { cutOf, movies, placed } from './movies';

/** Candidates held against references that the ffmpeg program made. */
const made = movies();
afterAll(made.close);
let zoom: Original;
let clock: Original;
let life: Original;
/** The whole picture and the middle of it, exported under one name with one timecode: TRADE.md section 3. */
let wide: Original;
let cropped: Original;
beforeAll(() => {
  [zoom, clock, life] = [made.drawn('zoom'), made.drawn('clock'), made.drawn('life')];
  wide = { ...zoom, clipName: 'A001C001' };
  cropped = { ...made.filtered([zoom], 'crop=iw/1.4:ih/1.4,scale=320:180,setsar=1'), clipName: 'A001C001' };
});

async function compared(settling: Settling, reference: Original, originals: readonly Original[]): Promise<Settling> {
  const { pairings } = settling.paired;
  const list = withProposals(settling.applied.list, pairings);
  const looksAt = new Map<string, readonly PictureLook[]>();
  const basis = { list, originals, reference, cache: made.at('cache') };
  await compareAbreast(made.threads, basis, worthComparing(pairings, null), (seen) => {
    for (const { event, looks } of seen) looksAt.set(event, looks);
  });
  return withLooks(settling, looksAt);
}

describe('pictures that are compared', () => {
  it('tell apart two exports of one shot that differ only in their crop', async () => {
    const cut = cutOf([[placed('a', wide, 20, 0, 48), placed('b', clock, 10, 48, 48)]], false);
    const originals = [wide, cropped, clock];
    const before = settlingOf(cut, [], indexOriginals(originals));
    expect(before.paired.pairings.map((p) => p.state)).toEqual(['contested', 'proposed']);
    const shown = made.joined([
      [cropped, 20, 48],
      [clock, 10, 48],
    ]);
    const [a, b] = (await compared(before, shown, originals)).paired.pairings;
    expect([a?.state, a?.chosen?.original.path]).toEqual(['proposed', cropped.path]);
    expect(a?.contenders.map((c) => c.picture.grade)).toEqual(['exact', 'altered']);
    expect([b?.state, b?.chosen?.picture.grade]).toEqual(['proposed', 'exact']);
  });

  it('find the original of an event to which no name or reel leads, at its frame', async () => {
    const nameless = { clipName: '', fileName: '', reel: '' };
    const cut = cutOf([[placed('a', zoom, 20, 0, 48), placed('b', life, 0, 48, 48, nameless)]], false);
    const originals = [zoom, clock, life];
    const before = settlingOf(cut, [], indexOriginals(originals));
    expect(before.paired.pairings.map((p) => p.state)).toEqual(['proposed', 'unpaired']);
    const shown = made.joined([
      [zoom, 20, 48],
      [life, 33, 48],
    ]);
    const [, b] = (await compared(before, shown, originals)).paired.pairings;
    expect(b).toMatchObject({ state: 'proposed', chosen: { original: { path: life.path }, sourceStartFrame: 33 } });
  });

  it('speak against a candidate that shows something else, and say how far aside another lies', async () => {
    const cut = cutOf([[placed('a', zoom, 20, 0, 48), placed('b', clock, 10, 48, 48), placed('c', zoom, 60, 96, 48)]], false);
    const originals = [zoom, clock];
    const shown = made.joined([
      [zoom, 25, 48],
      [life, 10, 48],
      [zoom, 60, 48],
    ]);
    const after = (await compared(settlingOf(cut, [], indexOriginals(originals)), shown, originals)).paired.pairings;
    expect(after.map((p) => [p.state, p.chosen?.picture.grade])).toEqual([
      ['proposed', 'aside'],
      ['doubtful', 'conflict'],
      ['proposed', 'exact'],
    ]);
    expect(after[0]?.chosen?.picture).toMatchObject({ frames: 5 });
  });
});
