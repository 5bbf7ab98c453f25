import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { formatTimecode, framesPerDay, RATES } from '../time';
import { labelOfPacked, startOfPacked } from './packed';

/** Two decimal digits a byte, as a person would write them down. */
const hoursFirst = (label: string) => label.replaceAll(/[:;]/g, '');
const framesFirst = (label: string) => label.split(/[:;]/).reverse().join('');

describe('a packed timecode (SMPTE ST 12-1, ST 268-1)', () => {
  it('gives its label again, in either order, at every frame of a day', () => {
    fc.assert(
      fc.property(fc.constantFrom(RATES['24'], RATES['25'], RATES['30']), fc.nat(), (rate, n) => {
        const label = formatTimecode(n % framesPerDay(rate), rate);
        expect(labelOfPacked(hoursFirst(label), 'hours-first', rate)).toBe(label);
        expect(labelOfPacked(framesFirst(label), 'frames-first', rate)).toBe(label);
      }),
    );
  });
  it('has its flags beside its digits: drop-frame is bit 6 of the frames, others are passed over', () => {
    expect(labelOfPacked('01020344', 'hours-first', RATES['30'])).toBe('01:02:03;04');
    expect(labelOfPacked('81828384', 'hours-first', RATES['30'])).toBe('01:02:03:04');
    expect(labelOfPacked('81828384', 'hours-first', RATES['30'], 'none')).toBeNull();
  });
  it('that is no time of day is none, nor is a frame that its rate does not have', () => {
    for (const hex of ['24000000', '00600000', '00006000', '0000000a', '1234567', 'zzzzzzzz'])
      expect(labelOfPacked(hex, 'hours-first', null)).toBeNull();
    expect(labelOfPacked('00000024', 'hours-first', RATES['24'])).toBeNull();
    expect(labelOfPacked('00000024', 'hours-first', RATES['25'])).toBe('00:00:00:24');
  });
  it('of a file is the one for its first frame', () => {
    expect(startOfPacked([{ hex: '10000000', frame: 48 }], RATES['24'], 'hours-first')).toBeNull();
    expect(startOfPacked([], RATES['24'], 'hours-first')).toBeNull();
    expect(startOfPacked([{ hex: '10111213', frame: null }], null, 'frames-first')).toBe('13:12:11:10');
  });
});
