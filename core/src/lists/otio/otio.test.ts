import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { content, listOf, piece } from '../../../test/lists';
import { dissolve, event, list } from '../../../test/make';
import { NATURAL } from '../../edit';
import { fractionOf, RATES } from '../../time';
import { readOtio, writeOtio } from '.';

const time = (value: number, rate = 24) => ({ OTIO_SCHEMA: 'RationalTime.1', value, rate });
const range = (start: number, length: number, rate = 24) => ({
  OTIO_SCHEMA: 'TimeRange.1',
  start_time: time(start, rate),
  duration: time(length, rate),
});
const clip = (name: string, start: number, length: number, more = {}) => ({
  OTIO_SCHEMA: 'Clip.2',
  name,
  source_range: range(start, length),
  media_references: {
    DEFAULT_MEDIA: { OTIO_SCHEMA: 'ExternalReference.1', target_url: `file:///cards/${name}%20a.mov`, metadata: { any: { reel: 'A001' } } },
  },
  active_media_reference_key: 'DEFAULT_MEDIA',
  ...more,
});
const timeline = (...children: object[]) =>
  JSON.stringify({
    OTIO_SCHEMA: 'Timeline.1',
    name: 'CUT',
    global_start_time: time(86_400),
    tracks: { OTIO_SCHEMA: 'Stack.1', children: [{ OTIO_SCHEMA: 'Track.1', kind: 'Video', children }] },
  });
const events = (text: string) => readOtio(text).tracks[0]?.events ?? [];

describe('a timeline', () => {
  it('lays its clips end to end from its start, gaps included', () => {
    const gap = { OTIO_SCHEMA: 'Gap.1', source_range: range(0, 10) };
    const found = events(timeline(clip('one', 100, 24), gap, clip('two', 200, 12)));
    expect(found.map((e) => [e.clipName, e.record.in, e.record.out, e.source.in])).toEqual([
      ['one', 86_400, 86_424, 100],
      ['two', 86_434, 86_446, 200],
    ]);
    expect(found[0]).toMatchObject({ reel: 'A001', fileName: 'one a.mov' });
  });
  it('has transitions that begin in_offset before the cut and end out_offset after it', () => {
    const join = { OTIO_SCHEMA: 'Transition.1', transition_type: 'SMPTE_Dissolve', in_offset: time(5), out_offset: time(7) };
    const [, second] = events(timeline(clip('one', 0, 24), join, clip('two', 0, 24)));
    expect(second?.transitionIn).toEqual({ type: 'dissolve', before: 5, duration: 12, from: 'previous', wipeCode: null });
  });
  it('runs source faster or slower below a clip by its time warp; the length on the record stays', () => {
    const warp = (time_scalar: number) => ({ effects: [{ OTIO_SCHEMA: 'LinearTimeWarp.1', time_scalar }] });
    const [fast, back, held] = events(
      timeline(
        clip('a', 0, 24, warp(2)),
        clip('b', 0, 24, warp(-1)),
        clip('c', 0, 24, { effects: [{ OTIO_SCHEMA: 'FreezeFrame.1', time_scalar: 0 }] }),
      ),
    );
    expect(fast).toMatchObject({ source: { in: 0, out: 48 }, record: { in: 86_400, out: 86_424 }, retime: { speed: fractionOf(2) } });
    expect([back?.retime, held?.retime]).toEqual([{ kind: 'constant', speed: fractionOf(-1) }, { kind: 'freeze' }]);
  });
  it('of the first clip schema names one media reference, of the second several', () => {
    const old = {
      OTIO_SCHEMA: 'Clip.1',
      name: 'old',
      source_range: range(0, 10),
      media_reference: { OTIO_SCHEMA: 'ExternalReference.1', target_url: 'old.mov' },
    };
    const several = clip('new', 0, 10, {
      media_references: {
        DEFAULT_MEDIA: { OTIO_SCHEMA: 'MissingReference.1' },
        proxy: { OTIO_SCHEMA: 'ExternalReference.1', target_url: 'p.mov' },
      },
      active_media_reference_key: 'proxy',
    });
    expect(events(timeline(old, several)).map((e) => e.fileName)).toEqual(['old.mov', 'p.mov']);
  });
  const nest = (children: object[], more = {}) => ({
    OTIO_SCHEMA: 'Stack.1',
    name: 'INSERT',
    children: [{ OTIO_SCHEMA: 'Track.1', kind: 'Video', children }],
    ...more,
  });
  it('has its nested cuts opened, through the window it shows of them', () => {
    const inside = [clip('x', 100, 30), clip('y', 200, 30)];
    const found = readOtio(timeline(nest(inside, { source_range: range(10, 40) }), clip('after', 0, 5)));
    expect(found.tracks[0]?.events.map((e) => [e.key, e.clipName, e.record.in, e.source.in, e.source.out])).toEqual([
      ['V1/1', 'x', 86_400, 110, 130],
      ['V1/2', 'y', 86_420, 200, 220],
      ['V1/3', 'after', 86_440, 0, 5],
    ]);
    expect(found.notices).toMatchObject([{ severity: 'changed', code: 'nested-opened', event: 'V1/1' }]);
  });
  it('puts the upper layers of a nested cut on a track of their own, below what stood above it', () => {
    const layers = {
      OTIO_SCHEMA: 'Stack.1',
      name: 'INSERT',
      children: [clip('low', 0, 20), clip('high', 0, 20)].map((c) => ({ OTIO_SCHEMA: 'Track.1', kind: 'Video', children: [c] })),
    };
    const two = (...tracks: object[][]) =>
      JSON.stringify({
        OTIO_SCHEMA: 'Timeline.1',
        tracks: { OTIO_SCHEMA: 'Stack.1', children: tracks.map((children) => ({ OTIO_SCHEMA: 'Track.1', kind: 'Video', children })) },
      });
    const found = readOtio(two([layers], [clip('top', 0, 20)]));
    expect(found.tracks.map((t) => [t.name, t.events.map((e) => `${e.key} ${e.clipName}`)])).toEqual([
      ['V1', ['V1/1 low']],
      ['V2', ['V2/1 high']],
      ['V3', ['V3/1 top']],
    ]);
  });
  it('keeps a retimed nested cut as one event, and says so', () => {
    const found = readOtio(timeline(nest([clip('x', 0, 30)], { effects: [{ OTIO_SCHEMA: 'LinearTimeWarp.1', time_scalar: 2 }] })));
    expect(found.tracks[0]?.events.map((e) => e.clipName)).toEqual(['INSERT']);
    expect(found.notices).toMatchObject([{ severity: 'changed', code: 'nested' }]);
  });
  it('in a collection of several is the first, and the others are named', () => {
    const one = JSON.parse(timeline(clip('a', 0, 10)));
    const both = JSON.stringify({ OTIO_SCHEMA: 'SerializableCollection.1', children: [one, { ...one, name: 'SHORT' }] });
    expect(readOtio(both)).toMatchObject({ title: 'CUT', sequences: [{ name: 'CUT' }, { name: 'SHORT', durationFrames: 10, events: 1 }] });
    expect(readOtio(both, { sequence: 1 }).title).toBe('SHORT');
  });
  it('of the first files of the format has its schemas under their former names', () => {
    const old = timeline(clip('a', 0, 10), { OTIO_SCHEMA: 'Filler.1', source_range: range(0, 5) }, clip('b', 0, 10)).replace(
      '"Track.1"',
      '"Sequence.1"',
    );
    expect(events(old).map((e) => e.record.in)).toEqual([86_400, 86_415]);
  });
  it('read at another rate keeps its counts and its first label', () => {
    const found = readOtio(timeline(clip('a', 100, 24)), { rate: RATES['25'] });
    const back = readOtio(writeOtio(found));
    expect([back.rate, back.tracks[0]?.events[0]?.record]).toEqual([RATES['25'], found.tracks[0]?.events[0]?.record]);
    // 01:00:00:00 is frame 86 400 at 24 and 90 000 at 25.
    expect(found).toMatchObject({
      rate: RATES['25'],
      tracks: [{ events: [{ record: { in: 90_000, out: 90_024 }, source: { in: 100, out: 124 } }] }],
    });
  });
  it('knows on which line of the file each clip begins', () => {
    const text = JSON.stringify(JSON.parse(timeline(clip('a', 0, 24), clip('b', 0, 24))), null, 2);
    const lines = text.split('\n');
    for (const e of events(text)) expect(lines[(e.line ?? 0) + 1]).toContain(`"name": "${e.clipName}"`);
  });
  it('at 25 in a cut at 24 keeps the source at its own rate', () => {
    const found = events(timeline(clip('a', 0, 24), clip('b', 0, 24, { source_range: range(50, 25, 25) })));
    const cut = list(found.map((e) => ({ ...e, metadata: null })));
    expect(content(readOtio(writeOtio(cut))).tracks).toEqual(content(cut).tracks);
    expect(found[1]).toMatchObject({ sourceRate: RATES['25'], source: { in: 50, out: 75 }, record: { in: 86_424, out: 86_448 } });
  });
});

describe('what has no place here goes out as it came', () => {
  const whole = {
    OTIO_SCHEMA: 'Timeline.1',
    name: 'CUT',
    global_start_time: time(86_400),
    metadata: { studio: { on: 'timeline' } },
    further: { unknown: 'field' },
    tracks: {
      OTIO_SCHEMA: 'Stack.1',
      name: 'layers',
      source_range: null,
      effects: [],
      markers: [{ OTIO_SCHEMA: 'Marker.2', name: 'on the stack', marked_range: range(3, 1), metadata: {} }],
      metadata: { studio: { on: 'stack' } },
      children: [
        {
          OTIO_SCHEMA: 'Track.1',
          name: 'main',
          kind: 'Video',
          source_range: null,
          effects: [],
          markers: [],
          metadata: { studio: { on: 'track' } },
          children: [
            { OTIO_SCHEMA: 'StudioStamp.3', stamp: 7 },
            clip('a', 0, 24, {
              metadata: { studio: { deep: [1, { two: null }] }, gemello: { reel: 'A9' } },
              effects: [
                { OTIO_SCHEMA: 'StudioBlur.1', radius: 2 },
                { OTIO_SCHEMA: 'LinearTimeWarp.1', time_scalar: 2, metadata: { by: 'hand' } },
              ],
              media_references: {
                DEFAULT_MEDIA: {
                  OTIO_SCHEMA: 'ExternalReference.1',
                  target_url: 'a.mov',
                  available_range: range(0, 90),
                  metadata: { reel: 'A1' },
                },
                small: {
                  OTIO_SCHEMA: 'ImageSequenceReference.1',
                  name_prefix: 'a.',
                  name_suffix: '.dpx',
                  start_frame: 1,
                  frame_zero_padding: 4,
                },
              },
            }),
            { OTIO_SCHEMA: 'Gap.1', name: 'hole', source_range: range(0, 10), metadata: { why: 'late' } },
            { OTIO_SCHEMA: 'StudioShape.2', name: 'circle', source_range: range(0, 12), radius: 4 },
            { OTIO_SCHEMA: 'Transition.1', transition_type: 'Studio_Melt', in_offset: time(5), out_offset: time(5), metadata: { soft: 1 } },
            clip('b', 10, 24),
          ],
        },
        { OTIO_SCHEMA: 'StudioGuide.1', lines: [1, 2] },
      ],
    },
  };
  const through = (change: (list: ReturnType<typeof readOtio>) => ReturnType<typeof readOtio> = (l) => l) =>
    JSON.parse(writeOtio(change(readOtio(JSON.stringify(whole)))));
  it('to the last field: schemas, effects, references, gaps and metadata', () => {
    expect(through()).toEqual(whole);
  });
  it('also where something else of the same event was changed', () => {
    const renamed = through((list) => ({
      ...list,
      tracks: list.tracks.map((t) => ({
        ...t,
        events: t.events.map((e) => (e.clipName === 'a' ? { ...e, clipName: 'new', retime: NATURAL } : e)),
      })),
    }));
    const before = whole.tracks.children[0]?.children?.[1] as ReturnType<typeof clip>;
    expect(renamed.tracks.children[0].children[1]).toEqual({
      ...before,
      name: 'new',
      effects: [{ OTIO_SCHEMA: 'StudioBlur.1', radius: 2 }],
    });
  });
});

it('metadata goes out as it came in', () => {
  const metadata = { studio: { deep: [1, { two: null }], text: 'ü' } };
  const back = JSON.parse(writeOtio(readOtio(timeline(clip('a', 0, 24, { metadata })))));
  expect(back.tracks.children[0].children[0].metadata).toMatchObject(metadata);
});

it('what was written reads back equal, transitions on either side of the cut', () => {
  fc.assert(
    fc.property(fc.array(piece, { minLength: 1, maxLength: 10 }), fc.constantFrom(0 as const, 1 as const), (pieces, before) => {
      const made = listOf(pieces, before);
      expect(content(readOtio(writeOtio(made)))).toEqual(content(made));
    }),
  );
});

it('layers, what is switched off, and a wipe with its code come back', () => {
  const wipe = { ...dissolve(8), type: 'wipe', wipeCode: '017' } as const;
  const made = list(
    [event('V1/1', 0, 20, 0), event('V1/2', 20, 20, 0, { transitionIn: wipe })],
    [event('V2/1', 0, 10, 5, { enabled: false })],
  );
  expect(content(readOtio(writeOtio(made)))).toEqual(content(made));
});

it('reading never throws, whatever the text', () => {
  const whole = timeline(clip('a', 0, 24), clip('b', 0, 24));
  fc.assert(
    fc.property(fc.anything(), (thing) => readOtio(JSON.stringify({ OTIO_SCHEMA: 'Timeline.1', tracks: thing })).format === 'otio'),
  );
  for (let i = 0; i < whole.length; i += 2) expect(readOtio(whole.slice(0, i) + whole.slice(i + 1)).format).toBe('otio');
  expect(readOtio(whole.slice(0, 100)).notices[0]).toMatchObject({ severity: 'unreadable' });
});
