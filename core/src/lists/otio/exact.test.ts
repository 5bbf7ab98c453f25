import { describe, expect, it } from 'vitest';
import { bytesOf, event, list, standing } from '../../../test/make';
import { compile, pictureAt } from '../../conform';
import type { EditList } from '../../edit';
import { formatTimecode, fractionOf, RATES } from '../../time';
import { readEdl } from '../edl';
import { formatOfName, type ListFormat } from '../registry';
import { writeList } from '../writing';
import { readOtio, writeOtio } from '.';

/** Times of OpenTimelineIO are exact, each at its own rate (the format's published description of RationalTime). */
const time = (value: unknown, rate: unknown = 24) => ({ OTIO_SCHEMA: 'RationalTime.1', value, rate });
const range = (start: number, length: number, rate = 24) => ({
  OTIO_SCHEMA: 'TimeRange.1',
  start_time: time(start, rate),
  duration: time(length, rate),
});
const clip = (name: string, start: number, length: number, more: object = {}, rate = 24) => ({
  OTIO_SCHEMA: 'Clip.2',
  name,
  source_range: range(start, length, rate),
  ...more,
});
const cut = (children: object[], { start = time(0) as unknown, track = {}, stack = {} } = {}) => ({
  OTIO_SCHEMA: 'Timeline.1',
  name: 'CUT',
  global_start_time: start,
  tracks: { OTIO_SCHEMA: 'Stack.1', children: [{ OTIO_SCHEMA: 'Track.1', kind: 'Video', children, ...track }], ...stack },
});
const read = (timeline: object) => readOtio(JSON.stringify(timeline));
const records = (found: EditList) => found.tracks[0]?.events.map((e) => [e.record.in, e.record.out]);
const codes = (found: EditList) => found.notices.map((n) => `${n.severity} ${n.code}`);
const format = (name: string) => formatOfName(name) as ListFormat;

describe('places on a track', () => {
  it('are exact: ten clips of ten frames at 25 in a cut of 24 end at 96', () => {
    const found = read(cut(Array.from({ length: 10 }, (_, i) => clip(`c${i}`, 0, 10, {}, 25))));
    expect(records(found)?.at(-1)?.[1]).toBe(96);
    // Each boundary is the exact time, to the nearest frame: 10/25 s is 9.6 frames of 24.
    expect(records(found)?.map(([from]) => from)).toEqual(Array.from({ length: 10 }, (_, i) => Math.round(i * 9.6)));
  });
  it('a start time at another speed of the same count lengthens no clip', () => {
    const found = read(
      cut([clip('a', 0, 1000, {}, 23.976023976023978), clip('b', 0, 1000, {}, 23.976023976023978)], { start: time(86_400, 24) }),
    );
    expect(found.rate).toEqual(RATES['23.976']);
    expect(records(found)).toEqual([
      [86_400, 87_400],
      [87_400, 88_400],
    ]);
    expect(codes(found)).toEqual(['changed rate-assumed']);
  });
  it('a start counted in seconds is no rate of a cut', () => {
    const found = read(cut([clip('a', 0, 10)], { start: time(3600, 1) }));
    expect([found.rate, records(found)]).toEqual([RATES['24'], [[86_400, 86_410]]]);
  });
  it('a source may begin on a part of a frame, and its rest is kept', () => {
    const [found] = read(cut([clip('a', 10.5, 10)])).tracks[0]?.events ?? [];
    expect([found?.source, found?.phase]).toEqual([{ in: 10, out: 21 }, fractionOf(0.5)]);
  });
});

describe('what is switched off, and speeds', () => {
  it('a track that is off switches its events off, and says so; it goes out as it came', () => {
    const given = cut([clip('a', 0, 10)], { track: { enabled: false } });
    const found = read(given);
    expect(found.tracks[0]?.events[0]?.enabled).toBe(false);
    expect(codes(found)).toEqual(['changed track-off']);
    expect(JSON.parse(writeOtio(found)).tracks.children[0]).toEqual({
      ...given.tracks.children[0],
      source_range: null,
      name: 'V1',
      effects: [],
      markers: [],
      metadata: {},
    });
  });
  const warp = (time_scalar: number) => ({ OTIO_SCHEMA: 'LinearTimeWarp.1', time_scalar });
  it('several warps of one clip multiply, and one of them that holds holds', () => {
    const speed = (...warps: object[]) => read(cut([clip('a', 0, 10, { effects: warps })])).tracks[0]?.events[0]?.retime;
    expect(speed(warp(2), warp(3))).toEqual({ kind: 'constant', speed: fractionOf(6) });
    expect(speed(warp(2), warp(0.5))).toEqual({ kind: 'natural' });
    expect(speed(warp(2), { OTIO_SCHEMA: 'FreezeFrame.1', time_scalar: 0 })).toEqual({ kind: 'freeze' });
  });
});

describe('markers', () => {
  const marker = (name: string, at: number) => ({
    OTIO_SCHEMA: 'Marker.2',
    name,
    color: 'GREEN',
    marked_range: range(at, 1),
    metadata: {},
  });
  it('of a gap, a track and the cut are kept as notes, told, and go out as they came', () => {
    const gap = { OTIO_SCHEMA: 'Gap.1', source_range: range(0, 10), markers: [marker('in the gap', 4)] };
    const given = cut([clip('a', 0, 24), gap, clip('b', 0, 24)], {
      track: { markers: [marker('on the track', 2)] },
      stack: { markers: [marker('on the cut', 3)] },
    });
    const found = read(given);
    expect(found.notes).toEqual([
      'Marker in a gap of V1 at 00:00:01:04: in the gap',
      'Marker on the track V1 at 00:00:00:02: on the track',
      'Marker on the cut at 00:00:00:03: on the cut',
    ]);
    expect(codes(found)).toEqual(Array(3).fill('kept marker-elsewhere'));
    const out = writeOtio(found);
    for (const name of ['in the gap', 'on the track', 'on the cut']) expect(out.split(`"${name}"`)).toHaveLength(2);
  });
});

describe('ranges', () => {
  it('of a track that begin below zero are a label of its start', () => {
    const found = read(cut([clip('a', 0, 24), clip('b', 0, 24)], { start: null, track: { source_range: range(-86_400, 48) } }));
    expect(records(found)).toEqual([
      [86_400, 86_424],
      [86_424, 86_448],
    ]);
    expect(codes(found)).toContain('kept label-as-range');
  });
  it('that are missing lose their clip, and say so; where the track tells its length the rest keeps its place', () => {
    const bare = { OTIO_SCHEMA: 'Clip.2', name: 'bare' };
    expect(codes(read(cut([clip('a', 0, 24), bare, clip('b', 0, 24)])))).toEqual(['lost no-range']);
    const known = read(cut([clip('a', 0, 24), bare, clip('b', 0, 24)], { track: { source_range: range(0, 60) } }));
    expect(records(known)).toEqual([
      [0, 24],
      [24, 36],
      [36, 60],
    ]);
    expect(codes(known)).toEqual(['lost no-range']);
  });
  it('of no length lose their clip, and say so', () => {
    expect(codes(read(cut([clip('a', 0, 24), clip('none', 0, 0)])))).toEqual(['lost zero-length']);
  });
});

it('a fade-out into a gap of no length ends with the picture, and comes back so', () => {
  const join = { OTIO_SCHEMA: 'Transition.1', transition_type: 'SMPTE_Dissolve', in_offset: time(8), out_offset: time(0) };
  const gap = { OTIO_SCHEMA: 'Gap.1', source_range: range(0, 0) };
  const found = read(cut([clip('a', 0, 24), join, gap]));
  expect(found.tracks[0]?.events.map((e) => [e.kind, e.record, e.transitionIn?.duration])).toEqual([
    ['clip', { in: 0, out: 16 }, undefined],
    ['black', { in: 16, out: 24 }, 8],
  ]);
  const again = readOtio(writeOtio(found));
  expect(again.tracks[0]?.events.map((e) => [e.kind, e.record, e.transitionIn?.duration])).toEqual(
    found.tracks[0]?.events.map((e) => [e.kind, e.record, e.transitionIn?.duration]),
  );
});

describe('numbers that are none (the reference library writes and reads them)', () => {
  const odd = JSON.stringify(cut([clip('a', 0, 24, { metadata: { studio: { level: 7, gain: 8, text: 'NaN Infinity' } } })]))
    .replace('"level":7', '"level":NaN')
    .replace('"gain":8', '"gain":-Infinity');
  it('beside what is known go through as they came', () => {
    const found = readOtio(odd);
    expect(records(found)).toEqual([[0, 24]]);
    const out = writeOtio(found);
    expect(out).toContain('"level": NaN');
    expect(out).toContain('"gain": -Infinity');
    expect(out).toContain('"NaN Infinity"');
  });
  it('where a number must stand are told', () => {
    const found = readOtio(odd.replace('"value":24', '"value":NaN'));
    expect(codes(found)).toEqual(['unreadable broken-item']);
  });
});

it('an effect is called by its own name, or that of what it does', () => {
  const effects = [{ OTIO_SCHEMA: 'Effect.1', name: '', effect_name: 'Soft Glow' }];
  expect(read(cut([clip('a', 0, 24, { effects })])).notices[0]?.message).toContain('"Soft Glow"');
});

describe('events that overlap on a track', () => {
  const overlapping = list([event('V1/1', 0, 96, 0), event('V1/2', 48, 24, 500), event('V1/3', 96, 24, 900)]);
  it('are told when they are read', () => {
    const text = new TextDecoder().decode(writeList(overlapping, format('a.edl'), 'a.edl').files[0]?.bytes);
    const found = format('a.edl').read(bytesOf(text), { rate: RATES['24'] });
    expect(codes(found)).toEqual(['changed overlap']);
  });
  it('show the later one, and the earlier one again where that has ended', () => {
    const conform = compile(standing(...overlapping.tracks.map((t) => [...t.events])), []);
    const seen = (at: number) => pictureAt(conform, at).parts.map((p) => p.shot.event.key);
    expect([seen(10), seen(50), seen(80), seen(100)]).toEqual([['V1/1'], ['V1/2'], ['V1/1'], ['V1/3']]);
  });
  it('go to a layer above in OpenTimelineIO: nothing moves, and it is told', () => {
    const { files, notices } = writeList(overlapping, format('a.otio'), 'a.otio');
    const found = format('a.otio').read(files[0]?.bytes ?? new Uint8Array());
    expect(found.tracks.map(({ events }) => events.map((e) => [e.source.in, e.record.in, e.record.out]))).toEqual([
      [
        [0, 0, 96],
        [900, 96, 120],
      ],
      [[500, 48, 72]],
    ]);
    expect(notices.map((n) => n.code)).toEqual(['cannot-carry-overlaps']);
  });
});

it('a drop-frame list comes back with the same labels (SMPTE ST 12-1)', () => {
  const text = 'TITLE: X\nFCM: DROP FRAME\n001  A001     V     C        01:00:00;00 01:00:02;00 10:00:00;00 10:00:02;00';
  const found = readEdl(text, { rate: RATES['29.97df'] });
  const back = format('a.otio').read(format('a.otio').write(found, 'a.otio'));
  const [one] = back.tracks[0]?.events ?? [];
  expect([formatTimecode(one?.record.in ?? 0, back.rate), formatTimecode(one?.source.in ?? 0, one?.sourceRate ?? back.rate)]).toEqual([
    '10:00:00;00',
    '01:00:00;00',
  ]);
  // A file of others does not say it, and that is told.
  expect(codes(read(cut([clip('a', 0, 10, {}, 30_000 / 1001)], { start: time(0, 30_000 / 1001) })))).toEqual(['changed counting-assumed']);
});
