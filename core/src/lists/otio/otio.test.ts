import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { content, listOf, piece } from '../../../test/lists';
import { dissolve, event, list } from '../../../test/make';
import { RATES } from '../../time';
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
    expect(fast).toMatchObject({ source: { in: 0, out: 48 }, record: { in: 86_400, out: 86_424 }, retime: { speed: 2 } });
    expect([back?.retime, held?.retime]).toEqual([{ kind: 'constant', speed: -1 }, { kind: 'freeze' }]);
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
  it('keeps nested cuts as one event, and says so', () => {
    const nested = { OTIO_SCHEMA: 'Stack.1', name: 'INSERT', children: [{ OTIO_SCHEMA: 'Track.1', children: [clip('x', 0, 30)] }] };
    const found = readOtio(timeline(nested, clip('after', 0, 5)));
    expect(found.tracks[0]?.events.map((e) => [e.clipName, e.record.in])).toEqual([
      ['INSERT', 86_400],
      ['after', 86_430],
    ]);
    expect(found.notices).toMatchObject([{ severity: 'changed', code: 'nested' }]);
  });
  it('at 25 in a cut at 24 keeps the source at its own rate', () => {
    const found = events(timeline(clip('a', 0, 24), clip('b', 0, 24, { source_range: range(50, 25, 25) })));
    expect(found[1]).toMatchObject({ sourceRate: RATES['25'], source: { in: 50, out: 75 }, record: { in: 86_424, out: 86_448 } });
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
