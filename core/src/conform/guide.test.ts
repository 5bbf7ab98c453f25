import { describe, expect, it } from 'vitest';
import { RATES } from '../time';
import { layGuide } from './guide';

const cut = { rate: RATES['23.976'], span: { in: 86_400, out: 86_400 + 1440 } };

describe('guide sound that came as a file of its own', () => {
  it('lies by its own timecode: an hour of 24000/1001 timecode lasts 3 603.6 s (SMPTE ST 12-1)', () => {
    expect(layGuide({ beginsAt: 3603.6, length: 60 }, cut, 86_300)).toEqual({ at: 3603.6, by: 'timecode' });
    // A sound that begins two seconds before the picture still covers it.
    expect(layGuide({ beginsAt: 3601.6, length: 60 }, cut, null)).toEqual({ at: 3601.6, by: 'timecode' });
  });
  it('begins with the reference where its timecode is of another time, or it has none (common practice)', () => {
    const with0 = layGuide({ beginsAt: 0, length: 60 }, cut, 86_400 - 48);
    expect(with0.by).toBe('reference');
    expect(with0.at).toBeCloseTo(3603.6 - 2.002, 9);
    expect(layGuide({ beginsAt: null, length: 60 }, cut, 86_400).at).toBeCloseTo(3603.6, 9);
  });
  it('begins with the cut where there is no reference', () => {
    expect(layGuide({ beginsAt: null, length: 60 }, cut, null)).toMatchObject({ by: 'cut' });
  });
});
