import { RATES } from '@gemello/core';
import { describe, expect, it } from 'vitest';
import { original } from '../../../../core/test/make';
import type { ConformView } from '../../contract/ledger';
import { heardOf } from './heard';

const sounding = { sound: { channels: 2, sampleRate: 48_000 } };
const view = (more: Partial<ConformView>): ConformView =>
  ({
    list: { rate: RATES['23.976'] },
    guide: null,
    reference: null,
    looks: { '/m/ref.mov': 'r1', '/m/guide.wav': 'g1' },
    ...more,
  }) as unknown as ConformView;
const guide = { sound: original('/m/guide.wav', { kind: 'sound', ...sounding }), lies: { at: 3601.6, by: 'timecode' as const } };
const reference = {
  movie: original('/m/ref.mov', { ...sounding, rate: RATES['25'] }),
  lay: { start: 86_400, fit: null },
} as unknown as ConformView['reference'];

describe('what is heard under the cut', () => {
  it('is the guide first, where there is one and the reference has sound too', () => {
    expect(heardOf(view({ guide, reference })).map((h) => [h.from, h.name, h.look])).toEqual([
      ['guide', 'guide.wav', 'g1'],
      ['reference', 'ref.mov', 'r1'],
    ]);
  });
  it('lies where its timecode says: two seconds before an hour of 24000/1001, which lasts 3 603.6 s (SMPTE ST 12-1)', () => {
    const [heard] = heardOf(view({ guide }));
    expect(heard?.secondsAt(86_400)).toBeCloseTo(2, 9);
    // 24 frames last 1.001 s.
    expect(heard?.secondsAt(86_424)).toBeCloseTo(3.001, 9);
    // Before it begins there is nothing of it.
    expect(heard?.secondsAt(86_300)).toBeLessThan(0);
  });
  it('of a reference is counted at its own rate from its first picture on', () => {
    expect(heardOf(view({ reference }))[0]?.secondsAt(86_450)).toBe(2);
  });
  it('is nothing without a cut, a guide that lies nowhere yet, or a reference that is mute', () => {
    expect(heardOf(null)).toEqual([]);
    expect(heardOf(view({ guide: { ...guide, lies: null } }))).toEqual([]);
    expect(heardOf(view({ reference: { ...reference, movie: original('/m/ref.mov') } as ConformView['reference'] }))).toEqual([]);
  });
});
