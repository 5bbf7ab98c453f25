import fc from 'fast-check';
import SmpteTimecode from 'smpte-timecode';
import { describe, expect, it } from 'vitest';
import {
  convertByFrameCount,
  convertByRealTime,
  digitsOfFrames,
  formatRate,
  formatShift,
  formatTimecode,
  framesOfDigits,
  framesPerDay,
  nominal,
  overlapOf,
  parseRate,
  parseTimecode,
  RATES,
  type Rate,
  range,
  rateFromDecimal,
  readTimecode,
  relabel,
  secondsOf,
  typedTimecode,
} from '.';

const digits = (hours: number, minutes: number, seconds: number, frames: number) => ({ hours, minutes, seconds, frames });

describe('drop-frame counts (SMPTE ST 12-1)', () => {
  const df = RATES['29.97df'];
  it('has 1 798 frames in a dropped minute', () => {
    expect(framesOfDigits(digits(0, 2, 0, 2), df) - framesOfDigits(digits(0, 1, 0, 2), df)).toBe(1798);
  });
  it('has 17 982 frames in ten minutes, 107 892 in an hour, 2 589 408 in a day', () => {
    expect(framesOfDigits(digits(0, 10, 0, 0), df)).toBe(17_982);
    expect(framesOfDigits(digits(1, 0, 0, 0), df)).toBe(107_892);
    expect(framesPerDay(df)).toBe(2_589_408);
  });
  it('skips :00 and :01 in every minute but each tenth', () => {
    expect(formatTimecode(1799, df)).toBe('00:00:59;29');
    expect(formatTimecode(1800, df)).toBe('00:01:00;02');
    expect(formatTimecode(17_982, df)).toBe('00:10:00;00');
  });
  it('skips four labels at 59.94', () => {
    expect(formatTimecode(3600, RATES['59.94df'])).toBe('00:01:00;04');
    expect(framesPerDay(RATES['59.94df'])).toBe(2 * 2_589_408);
  });
  it('prints every label of a day once, in order, and reads each back', () => {
    let before = '';
    for (let n = 0; n < 2_589_408; n++) {
      const d = digitsOfFrames(n, df);
      if (framesOfDigits(d, df) !== n) throw new Error(`frame ${n} does not come back`);
      if (d.minutes % 10 !== 0 && d.seconds === 0 && d.frames < 2) throw new Error(`frame ${n} has a label that drop-frame skips`);
      if (n % 1013 === 0) {
        const label = formatTimecode(n, df);
        expect(label > before).toBe(true);
        before = label;
      }
    }
  });
  it('agrees with an independent library on every 97th frame of a day (npm smpte-timecode)', () => {
    for (let n = 0; n < 2_589_408; n += 97) expect(formatTimecode(n, df)).toBe(SmpteTimecode(n, 29.97, true).toString());
  });
});

describe('non-drop counts', () => {
  it('agrees with an independent library at the rates both know (npm smpte-timecode)', () => {
    const rates: [Rate, 23.976 | 24 | 25 | 29.97 | 30 | 50 | 60][] = [
      [RATES['23.976'], 23.976],
      [RATES['24'], 24],
      [RATES['25'], 25],
      [RATES['29.97'], 29.97],
      [RATES['30'], 30],
      [RATES['50'], 50],
      [RATES['60'], 60],
    ];
    for (const [rate, theirs] of rates)
      for (let n = 0; n < 86_400 * nominal(rate); n += 7919)
        expect(formatTimecode(n, rate)).toBe(SmpteTimecode(n, theirs, false).toString());
  });
  it('never drops at 24000/1001, whose hour of timecode lasts 3 603.6 s (TRADE.md, SMPTE ST 12-1)', () => {
    const hour = framesOfDigits(digits(1, 0, 0, 0), RATES['23.976']);
    expect(hour).toBe(86_400);
    expect(secondsOf(hour, RATES['23.976'])).toBeCloseTo(3603.6, 9);
    expect(parseRate('23.976df')).toBeNull();
  });
  it('a shift is told with its sign, as a timecode (common practice)', () => {
    expect(formatShift(86_400, RATES['24'])).toBe('+01:00:00:00');
    expect(formatShift(-60, RATES['24'])).toBe('-00:00:02:12');
  });
  it('prints three frame digits from 120 up', () => {
    expect(formatTimecode(119, RATES['120'])).toBe('00:00:00:119');
    expect(parseTimecode('00:00:01:005', RATES['120'])).toBe(125);
  });
});

describe('reading timecode', () => {
  it('takes any of : ; . , between the digits', () => {
    for (const text of ['01:02:03:04', '01:02:03;04', '01.02.03.04', '01,02,03,04', ' 1:2:3:4 '])
      expect(parseTimecode(text, RATES['25'])).toBe(93_079);
  });
  it('reads hours past 24 and prints them again', () => {
    expect(formatTimecode(parseTimecode('25:00:00:00', RATES['24']) ?? 0, RATES['24'])).toBe('25:00:00:00');
  });
  it('says what is impossible at a rate, and counts all the same', () => {
    expect(readTimecode('00:00:00:24', RATES['24'])).toEqual({ frames: 24, impossible: 'frame-digits' });
    expect(readTimecode('00:01:00;01', RATES['29.97df'])).toEqual({ frames: 1800, impossible: 'dropped-label' });
    expect(readTimecode('00:00:61:00', RATES['24'])?.impossible).toBe('sixty');
    expect(readTimecode('00:00:59:23', RATES['24'])?.impossible).toBeNull();
  });
  it('is null for what is no timecode', () => {
    for (const text of ['', '10:00:00', 'abc', '1:2:3:4:5', '00:00:00:0000']) expect(parseTimecode(text, RATES['24'])).toBeNull();
  });
  it('reads back what it printed at every rate', () => {
    for (const rate of Object.values(RATES))
      fc.assert(
        fc.property(fc.integer({ min: 0, max: 30 * 3600 * nominal(rate) }), (n) => parseTimecode(formatTimecode(n, rate), rate) === n),
      );
  });
});

describe('rates', () => {
  it('reads them as people write them', () => {
    expect(parseRate('24000/1001')).toEqual(RATES['23.976']);
    for (const text of ['23.976', '23.98', '23.976 fps']) expect(parseRate(text)).toEqual(RATES['23.976']);
    expect(parseRate('29.97df')).toEqual(RATES['29.97df']);
    expect(parseRate('59.94 ndf')).toEqual(RATES['59.94']);
    expect(parseRate('25')).toEqual(RATES['25']);
    for (const text of ['', 'fast', '0', '-24', '25df', '1/0']) expect(parseRate(text)).toBeNull();
  });
  it('takes a rounded decimal for the exact fraction', () => {
    expect(rateFromDecimal(23.976023976)).toEqual(RATES['23.976']);
    expect(rateFromDecimal(119.88)).toEqual(RATES['119.88']);
    expect(rateFromDecimal(Number.NaN)).toBeNull();
  });
  it('says them as people do', () => {
    expect(
      (['23.976', '24', '29.97', '29.97df', '47.952', '59.94df', '119.88', '120'] as const).map((name) => formatRate(RATES[name])),
    ).toEqual(['23.976', '24', '29.97', '29.97 DF', '47.952', '59.94 DF', '119.88', '120']);
  });
});

describe('conversion between rates', () => {
  it('by real time, a second stays a second', () => {
    expect(convertByRealTime(24, RATES['24'], RATES['25'])).toBe(25);
    expect(convertByRealTime(1001 * 25, RATES['25'], RATES['23.976'])).toBe(24_000);
  });
  it('by frame count, a frame stays a frame', () => {
    expect(convertByFrameCount(24, RATES['24'], RATES['25'])).toBe(24);
  });
  it('by label, the digits stay', () => {
    expect(relabel(parseTimecode('10:00:05:20', RATES['24']) ?? 0, RATES['24'], RATES['25'])).toBe(
      parseTimecode('10:00:05:20', RATES['25']),
    );
  });
  it('drifts by no frame in a day of 23.976 carried to 24 and back', () => {
    const day = framesPerDay(RATES['23.976']);
    expect(convertByRealTime(day, RATES['23.976'], RATES['24'])).toBe(2_075_673);
    expect(convertByRealTime(-1, RATES['24'], RATES['25'])).toBe(-2);
  });
});

describe('ranges', () => {
  it('have exclusive ends', () => {
    expect(overlapOf(range(0, 10), range(10, 20))).toBeNull();
    expect(overlapOf(range(0, 10), range(9, 20))).toEqual(range(9, 10));
  });
});

describe('a timecode that is typed', () => {
  const hour = framesOfDigits({ hours: 1, minutes: 0, seconds: 0, frames: 0 }, RATES['24']);
  const here = hour + 24;
  it.each([
    ['01:00:10:05', hour + 245],
    ['10:05', hour + 245],
    ['1005', hour + 245],
    ['10.5', hour + 245],
    ['01001005', hour + 245],
    ['2000000', 2 * hour],
    ['+10', here + 10],
    ['-1', here - 1],
    ['+48', here + 48],
    ['+1:00', here + 24],
    ['70:00', hour + 70 * 24],
  ])('%s is taken as people mean it (common practice)', (text, frames) => expect(typedTimecode(text, RATES['24'], here)).toBe(frames));
  it.each(['', '+', 'tomorrow', '1:2:3:4:5', '12:ab'])('%j is none', (text) => expect(typedTimecode(text, RATES['24'], 0)).toBeNull());
  it('reads a drop-frame label as it is labelled (SMPTE ST 12-1)', () =>
    expect(typedTimecode('00:01:00;02', RATES['29.97df'], 0)).toBe(1800));
});
