import { RATES } from '@gemello/core';
import { describe, expect, it } from 'vitest';
import { type OriginalRow, packOriginals, unpackOriginals } from '../../../contract';
import { facetValues, filtered, NO_FILTER, toggled } from './filter';
import { reelLines, reelScale } from './lines';
import { sortedBy } from './sort';

const row = (name: string, start: number | null, more: Partial<OriginalRow> = {}): OriginalRow => ({
  path: `/c/${name}`,
  kind: 'movie',
  reel: 'A001',
  clipName: name,
  fileName: `${name}.mov`,
  timecodeIn: null,
  timecodeOut: null,
  frames: 100,
  rate: RATES['24'],
  raster: { width: 1920, height: 1080 },
  pixelAspect: 1,
  codec: 'prores',
  files: 1,
  bytes: 1,
  warnings: [],
  volume: 'ONE',
  folder: 'A001',
  here: true,
  look: '',
  start,
  usedBy: [],
  tags: [],
  note: '',
  proxyOf: null,
  proxies: [],
  ...more,
});

describe('the line of a reel', () => {
  it('has gaps between its clips, and lanes for what overlaps', () => {
    const [line] = reelLines([row('c', 1000), row('a', 0), row('b', 50), row('still', 0, { kind: 'still' }), row('none', null)]);
    expect(line).toMatchObject({ from: 0, to: 1100, lanes: 2, gaps: 1, overlaps: 2 });
    expect(line?.clips.map((c) => [c.fileName, c.lane, c.overlaps])).toEqual([
      ['a.mov', 0, true],
      ['b.mov', 1, true],
      ['c.mov', 0, false],
    ]);
  });
  it('is one for each reel and rate', () => {
    expect(
      reelLines([row('a', 0), row('b', 0, { reel: 'a001' }), row('c', 0, { rate: RATES['25'] }), row('d', 0, { reel: '' })]),
    ).toHaveLength(3);
  });
  it('draws clips to scale with one another, long gaps short, and fills the width', () => {
    const [line] = reelLines([row('a', 0), row('b', 1_000_000, { frames: 300 })]);
    if (!line) throw new Error('no line');
    const { frames, pixels, breaks } = reelScale(line, 440);
    expect(frames).toEqual([0, 100, 1_000_000, 1_000_300]);
    expect(pixels.map(Math.round)).toEqual([0, 100, 140, 440]);
    expect(breaks).toEqual([{ from: 100, to: 140, frames: 999_900 }]);
  });
  it('draws a gap that is shorter than a break to scale as well', () => {
    const [line] = reelLines([row('a', 0), row('b', 110)]);
    if (!line) throw new Error('no line');
    const { pixels, breaks } = reelScale(line, 440);
    expect(pixels.map(Math.round)).toEqual([0, 200, 220, 420]);
    expect(breaks).toEqual([]);
  });
});

describe('a filter', () => {
  const clips = [
    row('pans', 0, { tags: ['sky'], note: 'edge flickers' }),
    row('pump', 0, { reel: 'B004' }),
    row('gulls', 0, { here: false }),
  ];
  const names = (filter: typeof NO_FILTER) => filtered(clips, filter).map((o) => o.clipName);
  it('finds every word, in names, notes, tags and warnings', () => {
    expect(names({ words: 'EDGE sky', facets: {} })).toEqual(['pans']);
    expect(names({ words: 'edge b004', facets: {} })).toEqual([]);
    expect(names(NO_FILTER)).toHaveLength(3);
  });
  it('lets through one of the values of each facet', () => {
    const both = toggled(toggled(NO_FILTER, 'reel', 'A001'), 'reel', 'B004');
    expect(names(both)).toHaveLength(3);
    expect(names(toggled(both, 'state', 'away'))).toEqual(['gulls']);
    expect(names(toggled(toggled(both, 'state', 'away'), 'state', 'away'))).toHaveLength(3);
  });
  it('counts what there is, the most frequent first', () => {
    expect(facetValues(clips, 'reel')).toEqual([
      ['A001', 2],
      ['B004', 1],
    ]);
  });
});

describe('the table', () => {
  const rows = [row('A10', 30), row('A2', null, { note: 'x' }), row('a1', 20)];
  const by = (id: keyof OriginalRow, desc: boolean) =>
    sortedBy(rows, { id, desc }, (field, o) => o[field as keyof OriginalRow]).map((o) => o.clipName);
  it('sorts words as people do and numbers by size, what has no value last either way', () => {
    expect(by('clipName', false)).toEqual(['a1', 'A2', 'A10']);
    expect(by('clipName', true)).toEqual(['A10', 'A2', 'a1']);
    expect([by('start', false), by('start', true)]).toEqual([
      ['a1', 'A10', 'A2'],
      ['A10', 'a1', 'A2'],
    ]);
    expect(sortedBy(rows, undefined, () => 0)).toBe(rows);
  });
  it('is sent column by column and comes out as it was, whatever returns', () => {
    const many = Array.from({ length: 50 }, (_, i) =>
      row(`c${i}`, i % 3 ? i : null, { reel: `R${i % 4}`, tags: i % 5 ? [] : ['late'], path: `/v/${i % 2}/c${i}.mov` }),
    );
    const packed = (rows: readonly OriginalRow[]) => ({ ...packOriginals(rows, 'standing'), ...packOriginals(rows, 'changing') });
    const sent = JSON.parse(JSON.stringify(packed(many)));
    expect(unpackOriginals(sent)).toEqual(many);
    expect(Object.keys(unpackOriginals(sent)[0] ?? {}).sort()).toEqual(Object.keys(many[0] ?? {}).sort());
    expect(unpackOriginals(packed([]))).toEqual([]);
  });
});
