import SmpteTimecode from 'smpte-timecode';
import { describe, expect, it } from 'vitest';
import { editList, listedSource } from '../src/list';
import { CUT, CUT_LENGTH, offsets, RECORD_START, TAKES, takeOf } from '../src/scenario';

/** The demo must be wrong only where it says so (demo/README.md). Timecode by the npm package smpte-timecode. */
const frames = (label: string, rate = 24) => SmpteTimecode(label, rate, false).frameCount;
const base = (clip: string) => Math.round(takeOf(clip).rate.num / takeOf(clip).rate.den);

const LINE = /^(\d+) +(\S+) +(V2?) +(\S+) +(?:(\d+) +)?(\S{11}) (\S{11}) (\S{11}) (\S{11})$/;
const lines = editList()
  .split('\n')
  .flatMap((text) => {
    const found = LINE.exec(text);
    return found
      ? [
          {
            number: found[1] ?? '',
            reel: found[2],
            track: found[3],
            code: found[4],
            join: Number(found[5] ?? 0),
            times: found.slice(6).map((s) => s ?? '') as [string, string, string, string],
          },
        ]
      : [];
  });
const events = lines.filter((l) => l.times[2] !== l.times[3]);

describe('the delivered list', () => {
  it('has about thirty events on two layers and about ninety seconds', () => {
    expect(events).toHaveLength(CUT.length);
    expect(new Set(events.map((e) => e.track))).toEqual(new Set(['V', 'V2']));
    expect(CUT_LENGTH / 23.976).toBeGreaterThan(80);
    expect(CUT_LENGTH / 23.976).toBeLessThan(100);
  });
  it('runs without gap or overlap on the main layer, from the record start', () => {
    let at = frames(RECORD_START);
    for (const { times, track } of events.filter((e) => e.track === 'V')) {
      expect([track, frames(times[2])]).toEqual(['V', at]);
      at = frames(times[3]);
    }
    expect(at - frames(RECORD_START)).toBe(CUT_LENGTH);
  });
  it('gives every transition two lines, the first of no length', () => {
    const joined = CUT.filter((e) => e.join);
    expect(lines.length - events.length).toBe(joined.length);
    for (const event of joined) {
      const [first, second] = lines.filter((l) => l.number === event.number);
      expect(first?.times[2]).toBe(first?.times[3]);
      expect([second?.code, second?.join]).toEqual([event.join?.code, event.join?.frames]);
    }
  });
  it('takes as much source as its speed runs over', () => {
    for (const event of CUT) {
      const source = listedSource(event);
      const used = frames(source.out) - frames(source.in);
      const speed = event.speed ?? 1;
      expect(used).toBe(speed === 0 ? event.length : Math.round(event.length * Math.abs(speed)));
    }
  });
});

describe('the seeded dirt', () => {
  const inTake = (number: string) => {
    const event = CUT.find((e) => e.number === number);
    if (!event?.clip) throw new Error(`no event ${number}`);
    const take = takeOf(event.listed?.clip ?? event.clip);
    return { event, take, from: frames(listedSource(event).in, base(take.clip)) - frames(take.start, base(take.clip)) };
  };
  it('every other event begins in its take where the reference does', () => {
    const wrong = ['018', '019', '020'];
    for (const event of CUT.filter((e) => e.clip && takeOf(e.clip).writer !== 'png' && !wrong.includes(e.number))) {
      const speed = event.speed ?? 1;
      const used = Math.round(event.length * Math.abs(speed));
      expect({ number: event.number, from: inTake(event.number).from }).toEqual({
        number: event.number,
        from: speed < 0 ? event.at - used + 1 : event.at,
      });
    }
  });
  it('019 begins three frames early', () => {
    const { event, from } = inTake('019');
    expect(from - event.at).toBe(-3);
  });
  it('018 names another take of the same scene', () => {
    const event = CUT.find((e) => e.number === '018');
    expect(takeOf(event?.listed?.clip ?? '').scene).toBe(takeOf(event?.clip ?? '').scene);
    expect(event?.listed?.clip).not.toBe(event?.clip);
  });
  it('020 counts from zero and has lost its reel', () => {
    const source = listedSource(CUT.find((e) => e.number === '020') as (typeof CUT)[number]);
    expect(source.reel).toBe('AX');
    expect(frames(source.in)).toBeLessThan(24 * 60);
  });
  it('007 and 011 end two frames, and one, before the transition out of them does', () => {
    for (const number of ['007', '011']) {
      const { event, take } = inTake(number);
      const next = CUT[CUT.indexOf(event) + 1];
      const speed = event.speed ?? 1;
      const last = event.at + Math.floor((event.length + (next?.join?.frames ?? 0) - 1) * speed);
      expect(last + 1 - take.frames).toBe(number === '007' ? 2 : 1);
    }
  });
  it('028 lacks the end of its file', () => {
    const { event, take } = inTake('028');
    expect(take.trimmed).toBe(44);
    expect(event.at + event.length).toBeGreaterThan(take.frames - 44);
  });
  it('one clip exists twice, one is used twice, one lies on a volume that is not mounted', () => {
    const names = TAKES.map((t) => t.clip);
    expect(names.filter((n, i) => names.indexOf(n) !== i)).toEqual(['A013C004_260414']);
    expect(CUT.filter((e) => e.clip === 'A011C003_260412')).toHaveLength(2);
    expect(TAKES.filter((t) => t.folder.startsWith('SALT_03'))).toHaveLength(1);
  });
});

it('originals come in at least three codecs, numbered frames, a still and another rate', () => {
  expect(new Set(TAKES.map((t) => t.writer))).toEqual(new Set(['intra-8bit', 'intra-mpeg', 'intra-light', 'long-gop', 'dpx', 'png']));
  expect(new Set(TAKES.map((t) => t.rate.num / t.rate.den)).size).toBe(2);
});

it('no two takes of one reel overlap in timecode', () => {
  const spans = TAKES.filter((t) => t.reel && !t.folder.endsWith('exports')).map((t) => ({
    reel: t.reel,
    clip: t.clip,
    in: frames(t.start, base(t.clip)),
    out: frames(t.start, base(t.clip)) + t.frames,
  }));
  for (const a of spans)
    for (const b of spans) if (a.clip !== b.clip && a.reel === b.reel) expect(a.in >= b.out || b.in >= a.out).toBe(true);
});

it('events lie where the cut says', () => {
  const starts = offsets();
  for (const event of CUT) {
    const line = events.find((e) => e.number === event.number);
    expect(frames(line?.times[2] ?? '') - frames(RECORD_START)).toBe(starts.get(event));
  }
});
