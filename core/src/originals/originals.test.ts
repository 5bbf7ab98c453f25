import { describe, expect, it } from 'vitest';
import { original } from '../../test/make';
import { fileOfFrame, groupNumbered, heldFrame, looksLikeProxy, looseName, looseReel, missingInside, namesReel, withWarnings } from '.';

describe('names compared loosely', () => {
  it('leave out case, extension, separators and the tail of a proxy (common practice)', () => {
    for (const name of ['A001C003.mov', 'a001c003.MXF', 'A001C003_proxy.mp4', 'A001-C003', 'A001 C003 (no)'.slice(0, 9)])
      expect(looseName(name)).toBe('a001c003');
  });
  it('keep a dot that begins no extension', () => {
    expect(looseName('shot.v12_final')).toBe(looseName('shotv12final'));
  });
  it('leave out separators of a reel', () => {
    expect(looseReel('A_001')).toBe(looseReel('a001'));
  });
  it('know the reels that name none', () => {
    expect(['', 'AX', 'ax', 'UNKNOWN'].some(namesReel)).toBe(false);
    expect(namesReel('A001')).toBe(true);
  });
});

describe('numbered frames', () => {
  it('become one run with its gaps listed', () => {
    const { runs, singles } = groupNumbered(['shot.0003.dpx', 'shot.0001.dpx', 'shot.0006.dpx', 'title.png', 'shot.0001.png']);
    expect(runs).toHaveLength(1);
    expect(runs[0]).toMatchObject({
      stem: 'shot.',
      extension: '.dpx',
      first: 1,
      files: ['shot.0001.dpx', 'shot.0003.dpx', 'shot.0006.dpx'],
      gaps: [
        { in: 1, out: 2 },
        { in: 3, out: 5 },
      ],
    });
    expect(singles.sort()).toEqual(['shot.0001.png', 'title.png']);
  });
  it('keep their places where some are missing', () => {
    const [run] = groupNumbered(['s.0101.dpx', 's.0102.dpx', 's.0105.dpx']).runs;
    const clip = { files: run?.files ?? [], gaps: run?.gaps ?? [] };
    expect([0, 1, 2, 3, 4, 5].map((n) => fileOfFrame(clip, n))).toEqual(['s.0101.dpx', 's.0102.dpx', null, null, 's.0105.dpx', null]);
    expect([1, 2, 3, 4].map((n) => heldFrame(clip, n))).toEqual([1, 1, 1, 4]);
    expect([
      missingInside(clip, { in: 0, out: 3 }),
      missingInside(clip, { in: 3, out: 9 }),
      missingInside(clip, { in: 4, out: 5 }),
    ]).toEqual([1, 1, 0]);
  });
  it('far apart are two runs, and a number that comes twice is one frame', () => {
    const { runs, singles } = groupNumbered(['s.0001.dpx', 's.0002.dpx', 's.5001.dpx', 's.5002.dpx', 's.00002.dpx']);
    expect(runs.map((r) => [r.first, r.files.length])).toEqual([
      [1, 2],
      [5001, 2],
    ]);
    expect(singles).toEqual(['s.0002.dpx']);
  });
});

const codes = (originals: ReturnType<typeof withWarnings>) => originals.map((o) => o.warnings.map((w) => w.code));

describe('warnings that only a comparison shows', () => {
  it('a reel whose clips all start at zero', () => {
    const found = withWarnings([original('/v/a.mov', { start: 0 }), original('/v/b.mov', { start: 0 })]);
    expect(codes(found)).toEqual([['reel-starts-at-zero'], ['reel-starts-at-zero']]);
  });
  it('two clips of a reel whose timecode overlaps', () => {
    const found = withWarnings([original('/v/a.mov'), original('/v/b.mov', { start: 1099 }), original('/v/c.mov', { start: 1199 })]);
    expect(codes(found)).toEqual([['timecode-overlaps'], ['timecode-overlaps'], []]);
  });
  it('one name in two places', () => {
    expect(codes(withWarnings([original('/v/a.mov'), original('/w/a.mov')]))).toEqual([['same-name'], ['same-name']]);
  });
  it('one file in two places, told from another file of the same name by its content', () => {
    const twice = [original('/v/a.mov', { print: 'x' }), original('/w/a.mov', { print: 'x' })];
    expect(codes(withWarnings(twice))).toEqual([['same-content'], ['same-content']]);
    expect(codes(withWarnings([...twice, original('/x/a.mov', { print: 'y' })]))).toEqual([
      ['same-content', 'same-name'],
      ['same-content', 'same-name'],
      ['same-name'],
    ]);
  });
  it('a name or a raster that is not like the others of its reel', () => {
    const clips = [1, 2, 3, 4].map((n) => original(`/v/A001C00${n}.mov`, { start: n * 1000 }));
    const odd = original('/v/untitled_7.mov', { start: 9000, raster: { width: 640, height: 360 } });
    const found = withWarnings([...clips, odd]);
    expect(codes(found)).toEqual([[], [], [], [], ['raster-unusual', 'name-unusual']]);
    expect(found[4]?.warnings[1]?.message).toContain('A001C001');
    expect(codes(withWarnings([clips[0] as (typeof clips)[0], odd]))).toEqual([[], []]);
  });
  it('pixels that are not square', () => {
    expect(codes(withWarnings([original('/v/a.mov', { pixelAspect: 4 / 3 })]))).toEqual([['pixels-not-square']]);
  });
  it('no timecode, and a run past midnight', () => {
    expect(codes(withWarnings([original('/v/a.mov', { hasTimecode: false, start: 0 })]))).toEqual([['timecode-absent']]);
    expect(codes(withWarnings([original('/v/a.mov', { start: 24 * 3600 * 24 - 50 })]))).toEqual([['crosses-midnight']]);
  });
  it('a proxy among originals', () => {
    expect(looksLikeProxy('A001C001_proxy.mp4')).toBe(true);
    expect(codes(withWarnings([original('/v/A001C001_proxy.mp4')]))).toEqual([['looks-like-proxy']]);
  });
});
