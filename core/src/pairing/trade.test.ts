import { describe, expect, it } from 'vitest';
import { event, original, standing } from '../../test/make';
import { applyDecisions, type Decision } from '../decisions';
import type { ListEvent } from '../edit';
import { FOLDER, linkProxies, type Original } from '../originals';
import { RATES } from '../time';
import { commonMove, indexOriginals, type PairState, pair, pairCut, planRelink, preferenceSchema, ruleLineSchema, withOriginals } from '.';

/** A clip of reel A001 from 01:00:00:00, 240 frames, as most of the table below has it. */
const clip = (file: string, more: Partial<Original> = {}) => original(file, { start: 86_400, frames: 240, ...more });
const asked = (more: Partial<ListEvent> = {}) => event('V1/1', 0, 48, 86_424, more);
const first = (events: ListEvent[], originals: Original[], decisions: Decision[] = []) =>
  pair(applyDecisions(standing(events), decisions).list, originals)[0];
const twin = '/v/A001/A001C001.mov';
/** A clip of which a clip log says scene and take. */
const slated = (scene: string, take: string) =>
  clip(twin, {
    claims: [
      { field: 'scene', value: scene, origin: 'clip log', taken: true },
      { field: 'take', value: take, origin: 'clip log', taken: true },
    ],
  });

/** TRADE.md section 3, the table of typical failures and the facts above it; each row is one of them. */
const FACTS: readonly (readonly [fact: string, event: Partial<ListEvent>, originals: Original[], state: PairState, path: string | null])[] = [
  ['reel and source timecode are the strong key', { clipName: '', fileName: '' }, [clip(twin)], 'proposed', twin],
  ['name and timecode are the next', { reel: 'AX' }, [clip(twin)], 'proposed', twin],
  ['a file name alone is weak', { source: { in: 500_000, out: 500_048 } }, [clip(twin)], 'doubtful', twin],
  ['timecode alone is weakest', { reel: 'AX', clipName: '', fileName: '' }, [clip(twin)], 'unpaired', null],
  ['a container that changed is a loose name', { fileName: 'A001C001.mp4' }, [clip('/v/A001/A001C001.mxf')], 'proposed', '/v/A001/A001C001.mxf'],
  ['a file that was renamed is found by reel and timecode', {}, [clip('/v/A001/untitled 7.mov')], 'proposed', '/v/A001/untitled 7.mov'],
  ['a name of the same scheme is another clip', { clipName: 'A001C002', fileName: '' }, [clip(twin)], 'unpaired', null],
  [
    'two cameras on the same time of day are told apart by reel',
    {},
    [clip(twin), clip('/v/B001/B001C001.mov', { reel: 'B001' })],
    'proposed',
    twin,
  ],
  ['a clip that was never copied stays missing', {}, [clip('/v/B001/B001C001.mov', { reel: 'B001' })], 'unpaired', null],
  [
    'and where both cameras name their clips alike it is doubtful, not taken',
    { clipName: 'C0001', fileName: '' },
    [clip('/v/B001/C0001.mov', { reel: 'B001' })],
    'doubtful',
    '/v/B001/C0001.mov',
  ],
  [
    'a card that lost its reels is known by its folder',
    { clipName: 'C0001', fileName: '' },
    [clip('/v/A001/C0001.mov'), clip('/v/B001/C0001.mov', { reel: 'B001' })],
    'proposed',
    '/v/A001/C0001.mov',
  ],
  [
    'a card whose structure was lost lies in a folder that says nothing of its reel',
    {},
    [clip('/v/DAY_01/A001C001.mov', { reel: 'DAY_01', claims: [{ field: 'reel', value: 'DAY_01', origin: FOLDER, taken: true }] })],
    'proposed',
    '/v/DAY_01/A001C001.mov',
  ],
  [
    'but a folder that is called like the other camera speaks against it',
    { clipName: 'C0001', fileName: '' },
    [clip('/v/B001/C0001.mov', { reel: 'B001', claims: [{ field: 'reel', value: 'B001', origin: FOLDER, taken: true }] })],
    'doubtful',
    '/v/B001/C0001.mov',
  ],
  [
    'a camera that is reset for every clip gives no times: its names must speak',
    { clipName: 'gulls', fileName: '', source: { in: 20, out: 68 } },
    [clip(twin, { start: 0 })],
    'unpaired',
    null,
  ],
  ['a reel that says more of its card is the same card', { reel: 'A012' }, [clip(twin, { reel: 'A012_260413' })], 'proposed', twin],
  ['or has its roll written on', { reel: 'A001' }, [clip(twin, { reel: 'A001R1AB' })], 'proposed', twin],
  ['but a reel with one more letter is another', { reel: 'A001B', clipName: '', fileName: '' }, [clip(twin)], 'unpaired', null],
  [
    'a reel field that names another clip of the card is not this one',
    { reel: 'A001C002', clipName: '', fileName: '' },
    [clip(twin)],
    'unpaired',
    null,
  ],
  ['a reel field may hold the name of the clip', { reel: 'A001C001', clipName: '', fileName: '' }, [clip(twin, { reel: '' })], 'proposed', twin],
  [
    'two exports of one shot are for a person to look at',
    {},
    [clip(twin), clip('/v/exports/A001C001.mov', { raster: { width: 640, height: 360 } })],
    'contested',
    twin,
  ],
  ['a trimmed copy that lacks frames does not contest the whole one', {}, [clip('/v/t/A001C001.mov', { start: 86_430, frames: 20 }), clip(twin)], 'proposed', twin],
  ['copies of one content are one', {}, [clip(twin, { print: 'same' }), clip('/w/A001C001.mov', { print: 'same' })], 'proposed', twin],
  ['a file without timecode counts from its first frame', { reel: 'AX', source: { in: 30, out: 78 } }, [clip(twin, { start: 0, hasTimecode: false, reel: '' })], 'proposed', twin],
  ['a sidecar that was lost leaves timecode at zero: the shift is named', { source: { in: 30, out: 78 } }, [clip(twin)], 'doubtful', twin],
  ['a clip that was called after its slate is found by scene and take', { clipName: '12A-3', fileName: '', reel: 'AX' }, [slated('12-A', '03')], 'proposed', twin],
  ['however the slate is written', { clipName: 'Sc12A_T03', fileName: '', reel: 'AX' }, [slated('12A', '3')], 'proposed', twin],
  ['but not where the clip is another take', { clipName: '12A-4', fileName: '', reel: 'AX' }, [slated('12A', '3')], 'unpaired', null],
  ['nor where another reel has the same slate: two cameras share one', { clipName: '12A-3', fileName: '', reel: 'B001' }, [slated('12A', '3')], 'doubtful', twin],
  ['a title without media is not a missing original', { kind: 'title' }, [clip(twin)], 'exempt', null],
  ['25 in a cut of 24 is found by its label', {}, [clip(twin, { rate: RATES['25'], start: 90_000 })], 'proposed', twin],
]; // biome-ignore format: a table of facts reads best one a line

describe('facts of the trade (TRADE.md, matching)', () => {
  it.each(FACTS)('%s', (_, more, originals, state, path) => {
    const found = first([asked(more)], originals);
    expect([found?.state, found?.chosen?.original.path ?? null]).toEqual([state, path]);
  });
  it('a folder that moved is one new place for all below it', () => {
    const move = commonMove('/v/CARD/A001/A001C001.mov', '/w/CARD/A001/A001C001.mov');
    expect(move && planRelink(move, [twin, '/v/A001/A001C002.mov'], () => true).found).toHaveLength(2);
  });
  it('a drive that is not mounted leaves pairs away, and brings them back without a word', () => {
    const accepted: Decision[] = [{ kind: 'pair', event: 'V1/1', original: twin, sourceStartFrame: 24 }];
    const cut = applyDecisions(standing([asked()]), accepted).list;
    const here = pairCut(cut, indexOriginals([clip(twin)]));
    const away = pairCut(cut, withOriginals(here.index, [], [twin]), {}, here);
    const back = pairCut(cut, withOriginals(away.index, [clip(twin)]), {}, away);
    expect([here, away, back].map((p) => p.pairings[0]?.state)).toEqual(['paired', 'away', 'paired']);
  });
  it('only light copies here: a proxy is known as one, and is no pair of its own', () => {
    const light = clip('/v/proxy/A001C001_proxy.mov', { raster: { width: 640, height: 360 } });
    expect(linkProxies([clip(twin), light]).get(light.path)).toBe(twin);
  });
  it('a copy of which the content is not what its manifest states is told from a sound one, where the rules ask for that', () => {
    const [sound, spoilt] = ['0000000000000001', '00000000000000ff'].map((value, i) =>
      clip(`/v/${i}/A001C001.mov`, {
        checksums: [{ file: 'A001C001.mov', algorithm: 'xxh64', value: '0000000000000001', manifest: 'day1.mhl' }],
        measured: [{ file: 'A001C001.mov', algorithm: 'xxh64', value }],
      }),
    ) as [Original, Original];
    const rules = { name: '', rates: 'label' as const, lines: [ruleLineSchema.parse({ reel: 'loose', checksum: 'same' })] };
    const under = (asks: object) => pair(standing([asked()]), [sound, spoilt], asks)[0];
    expect(under({})).toMatchObject({
      state: 'contested',
      chosen: { original: sound, checksum: { grade: 'exact', manifest: 'day1.mhl' } },
    });
    expect(under({ rules })).toMatchObject({ state: 'proposed', chosen: { original: sound } });
    expect(pair(standing([asked()]), [spoilt])[0]?.chosen?.checksum.grade).toBe('conflict');
  });
  it('among equals what a person prefers is proposed; without a word it stays contested', () => {
    const small = clip('/v/exports/A001C001.mov', { raster: { width: 640, height: 360 } });
    const prefer = (prefer: object): Decision[] => [{ kind: 'preference', prefer: preferenceSchema.parse(prefer) }];
    const under = (decisions: Decision[]) => {
      const applied = applyDecisions(standing([asked()]), decisions);
      const [found] = pair(applied.list, [clip(twin), small], { preference: applied.preference });
      return [found?.state, found?.chosen?.original.path];
    };
    expect(under([])).toEqual(['contested', twin]);
    expect(under(prefer({ raster: 'largest' }))).toEqual(['proposed', twin]);
    expect(under(prefer({ folders: ['/v/exports'] }))).toEqual(['proposed', small.path]);
  });
});
