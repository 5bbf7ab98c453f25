import { describe, expect, it } from 'vitest';
import { original } from '../../test/make';
import { RATES } from '../time';
import { heardUnder, layGuide, secondsHeard } from './heard';

/** A minute of sound. */
const sound = { frames: 1440, clock: RATES['24'] };
const cut = { rate: RATES['23.976'], span: { in: 86_400, out: 86_400 + 1440 } };

describe('guide sound that came as a file of its own', () => {
  it('lies by its own timecode: an hour of 24000/1001 timecode lasts 3 603.6 s (SMPTE ST 12-1)', () => {
    expect(layGuide({ beginsAt: 3603.6, sound }, cut, 86_300)).toEqual({ at: 3603.6, by: 'timecode' });
    // A sound that begins two seconds before the picture still covers it.
    expect(layGuide({ beginsAt: 3601.6, sound }, cut, null)).toEqual({ at: 3601.6, by: 'timecode' });
  });
  it('begins with the reference where its timecode is of another time, or it has none (common practice)', () => {
    const with0 = layGuide({ beginsAt: 0, sound }, cut, 86_400 - 48);
    expect(with0.by).toBe('reference');
    expect(with0.at).toBeCloseTo(3603.6 - 2.002, 9);
    expect(layGuide({ beginsAt: null, sound }, cut, 86_400).at).toBeCloseTo(3603.6, 9);
  });
  it('begins with the cut where there is no reference', () => {
    expect(layGuide({ beginsAt: null, sound }, cut, null)).toMatchObject({ by: 'cut' });
  });
});

describe('what is heard at a record frame', () => {
  const movie = original('/m/ref.mov', { sound: { channels: 2, sampleRate: 48_000 }, rate: RATES['25'], frames: 2000 });
  const lies = { at: 3601.6, by: 'timecode' as const };
  it('is counted in the time of the cut under guide sound, and in frames of its own where the reference sounds', () => {
    const [guide, reference] = heardUnder({ sound: movie, lies }, { movie, lay: { start: 86_350, fit: null } });
    if (!guide || !reference) throw new Error('both are heard');
    // 86 424 frames of 24000/1001 are 3 604.601 s.
    expect(secondsHeard(guide, 86_424, cut.rate)).toBeCloseTo(3.001, 9);
    expect(secondsHeard(reference, 86_400, cut.rate)).toBe(2);
  });
  it('follows a reference that lost a second of its frames', () => {
    const lay = { start: 86_400, fit: null, steps: [{ from: 86_500, by: -25 }] };
    const [reference] = heardUnder(null, { movie, lay });
    expect(reference && [86_499, 86_500].map((n) => secondsHeard(reference, n, cut.rate) * 25)).toEqual([99, 75]);
  });
  it('is nothing where guide sound lies nowhere, or the reference is mute', () => {
    expect(heardUnder({ sound: movie, lies: null }, { movie: original('/m/mute.mov'), lay: { start: 0, fit: null } })).toEqual([]);
  });
});
