import { describe, expect, it } from 'vitest';
import { original } from '../../test/make';
import { RATES } from '../time';
import { likenessOfVolumes, linkProxies, movedPath, shiftIn, withCorrections } from '.';

describe('what a person says of an original', () => {
  const clip = original('/c/A001C001.mov', {
    start: 0,
    claims: [{ field: 'timecode', value: '00:00:00:00', origin: 'the picture track', taken: true }],
    warnings: [{ code: 'timecode-disagrees', message: 'x' }],
  });
  it('stands over its sources, which stay known, and settles their disagreement', () => {
    const [set] = withCorrections([clip], [{ kind: 'correct', original: clip.path, reel: 'B007', start: 86_400 }]);
    expect(set).toMatchObject({ reel: 'B007', start: 86_400, hasTimecode: true, warnings: [] });
    expect(set?.claims.map((c) => [c.value, c.origin, c.taken])).toEqual([
      ['B007', 'set by hand', true],
      ['01:00:00:00', 'set by hand', true],
      ['00:00:00:00', 'the picture track', false],
    ]);
    expect(clip.reel).toBe('A001');
  });
  it('counts by its last word, and null takes a word back', () => {
    const words = [
      { kind: 'correct', original: clip.path, reel: 'B007' },
      { kind: 'correct', original: clip.path, start: 5 },
      { kind: 'correct', original: clip.path, reel: null },
    ] as const;
    expect(withCorrections([clip], words)[0]).toMatchObject({ reel: 'A001', start: 5 });
  });
  it('may shift a whole card by one constant (TRADE.md: timecode that disagrees by a constant)', () => {
    const card = [100, 2000].map((start) => original(`/c/K1/${start}.mov`, { start }));
    const starts = (shift: string) =>
      withCorrections([...card, original('/c/K10/x.mov', { start: 7 })], [{ kind: 'correct-folder', folder: '/c/K1', shift }]).map(
        (o) => o.start,
      );
    expect(starts('+50')).toEqual([150, 2050, 7]);
    expect(starts('-00:00:10:00')).toEqual([0, 1760, 7]);
  });
  it('of a folder gives way to the word about a clip, and to that of a nearer folder', () => {
    const card = ['/c/K1/1.mov', '/c/K1/deep/2.mov', '/c/K1/deep/3.mov'].map((p) => original(p));
    const set = withCorrections(card, [
      { kind: 'correct', original: '/c/K1/deep/3.mov', reel: 'CLIP' },
      { kind: 'correct-folder', folder: '/c/K1/deep', reel: 'NEAR' },
      { kind: 'correct-folder', folder: '/c/K1', reel: 'FAR' },
    ]);
    expect(set.map((o) => o.reel)).toEqual(['FAR', 'NEAR', 'CLIP']);
    expect(set[1]?.claims[0]?.origin).toBe('set by hand for the folder deep');
    const back = withCorrections(card, [
      { kind: 'correct-folder', folder: '/c/K1', reel: 'FAR' },
      { kind: 'correct-folder', folder: '/c/K1', reel: null },
    ]);
    expect(back.map((o) => o.reel)).toEqual(['A001', 'A001', 'A001']);
  });
  it('sets the rate that frames without one of their own are counted at: labels stay, so do frames, but for sound', () => {
    const frames = original('/c/f.exr', { kind: 'frames', start: 86_400, warnings: [{ code: 'rate-unknown', message: 'x' }] });
    const at25 = { kind: 'correct', original: frames.path, rate: '25' } as const;
    // 01:00:00:00 is frame 86 400 at 24 and 90 000 at 25.
    expect(withCorrections([frames], [at25])[0]).toMatchObject({
      rate: RATES['25'],
      start: 90_000,
      frames: 100,
      warnings: [],
      clock: RATES['25'],
    });
    // A movie's frames are found by its own clock all the same.
    expect(withCorrections([{ ...frames, kind: 'movie' }], [at25])[0]).toMatchObject({ rate: RATES['25'], clock: RATES['24'] });
    const start = { kind: 'correct', original: frames.path, start: 172_800 } as const;
    expect(withCorrections([frames], [start, at25])[0]?.start).toBe(180_000);
    expect(withCorrections([frames], [at25, start])[0]?.start).toBe(172_800);
    expect(withCorrections([frames], [start, at25, { ...at25, rate: null }])[0]).toMatchObject({ rate: RATES['24'], start: 172_800 });
    const sound = original('/c/f.wav', { kind: 'sound', frames: 48 });
    expect(withCorrections([sound], [{ ...at25, original: sound.path }])[0]?.frames).toBe(50);
  });
  it('gives a shift in frames or as a label at the clip’s rate', () => {
    expect([shiftIn('+12', RATES['24']), shiftIn('-01:00:00:00', RATES['25']), shiftIn('soon', RATES['24'])]).toEqual([12, -90_000, null]);
    // One hour of drop-frame is 107 892 frames (SMPTE ST 12-1).
    expect(shiftIn('01:00:00;00', { ...RATES['29.97'], dropFrame: true })).toBe(107_892);
  });
});

describe('a volume that comes back under another path', () => {
  const known = ['A/1.mov', 'A/2.mov', 'B/3.mov', 'B/4.mov'].map((p, i) => original(`/mnt/old/${p}`, { bytes: i + 1 }));
  it('is known by the files that stand at the same places with the same sizes', () => {
    const found = known.map((o) => original(o.path.replace('/mnt/old', '/media/new'), { bytes: o.bytes }));
    expect(likenessOfVolumes(known, '/mnt/old', found, '/media/new')).toBe(1);
    expect(likenessOfVolumes(known, '/mnt/old', found.slice(1), '/media/new')).toBe(0.75);
    expect(
      likenessOfVolumes(
        known,
        '/mnt/old',
        found.map((o) => ({ ...o, bytes: 99 })),
        '/media/new',
      ),
    ).toBe(0);
    expect(likenessOfVolumes([], '/a', found, '/media/new')).toBe(0);
  });
  it('takes every path below it along, however often it moves, and no other', () => {
    const moves = [
      { from: '/mnt/old', to: '/media/new' },
      { from: '/media/new', to: '/v/newer' },
    ];
    expect(['/mnt/old/A/1.mov', '/mnt/older/1.mov', '/mnt/old'].map((p) => movedPath(p, moves))).toEqual([
      '/v/newer/A/1.mov',
      '/mnt/older/1.mov',
      '/v/newer',
    ]);
  });
});

describe('a proxy', () => {
  const whole = original('/cards/A001C003.mxf', { raster: { width: 3840, height: 2160 } });
  const copy = (file: string, more = {}) => original(file, { raster: { width: 960, height: 540 }, ...more });
  const linked = (...copies: ReturnType<typeof copy>[]) => [...linkProxies([whole, ...copies]).keys()];
  it('is known by name without its tail, timecode and length, and by where it is kept', () => {
    expect(linked(copy('/p/A001C003_proxy.mp4'), copy('/show/Proxies/a001c003.mov'))).toEqual([
      '/p/A001C003_proxy.mp4',
      '/show/Proxies/a001c003.mov',
    ]);
  });
  it('may have lost its timecode, but not its length', () => {
    expect(linked(copy('/p/A001C003_proxy.mp4', { hasTimecode: false, start: 0 }))).toHaveLength(1);
    expect(linked(copy('/p/A001C003_proxy.mp4', { hasTimecode: false, start: 0, frames: 60 }))).toEqual([]);
    expect(linked(copy('/p/A001C003_proxy.mp4', { start: 2000 }))).toEqual([]);
  });
  it('is not any smaller version of a shot: two exports of one clip stay two candidates', () => {
    expect(linked(copy('/exports/A001C003.mov'))).toEqual([]);
    expect(linked(copy('/p/A001C003_proxy.mp4', { raster: { width: 7680, height: 4320 } }))).toEqual([]);
  });
  it('that lost name and reel is known by timecode and length, where only one clip has them', () => {
    expect(linked(copy('/show/proxies/0001.mov', { reel: '' }))).toEqual(['/show/proxies/0001.mov']);
    expect(linked(copy('/show/proxies/0001.mov', { reel: 'B002' }))).toEqual([]);
    const twin = original('/cards/other.mxf', { raster: { width: 3840, height: 2160 } });
    expect([...linkProxies([whole, twin, copy('/show/proxies/0001.mov', { reel: '' })])]).toEqual([]);
  });
  it('is named by a sidecar, its own or its original’s', () => {
    const says = (field: 'proxy' | 'proxyOf', value: string) => ({ claims: [{ field, value, origin: 'sidecar', taken: false }] });
    const small = copy('/x/0001.mp4', { start: 5, ...says('proxyOf', 'cards/A001C003.MXF') });
    expect([...linkProxies([whole, small])]).toEqual([['/x/0001.mp4', whole.path]]);
    expect([...linkProxies([{ ...whole, ...says('proxy', '0001.mp4') }, copy('/x/0001.mp4')])]).toEqual([['/x/0001.mp4', whole.path]]);
  });
  it('is what a person says it is', () => {
    const small = copy('/p/A001C003_proxy.mp4');
    const other = copy('/x/other.mov');
    const words = [
      { kind: 'proxy', original: small.path, of: null },
      { kind: 'proxy', original: other.path, of: whole.path },
      { kind: 'proxy', original: other.path, of: '/gone.mov' },
    ] as const;
    expect([...linkProxies([whole, small, other], words.slice(0, 2))]).toEqual([[other.path, whole.path]]);
    expect([...linkProxies([whole, small, other], words)]).toEqual([]);
  });
});
