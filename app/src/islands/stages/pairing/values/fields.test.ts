import { asDelivered, FILLING, newEvent, type StandingEvent, type Transition } from '@gemello/core/edit';
import { NEUTRAL_CDL } from '@gemello/core/grade';
import { RATES } from '@gemello/core/time';
import { describe, expect, it } from 'vitest';
import { pasted } from './attributes';
import { type Around, MIXED, reverted, SECTIONS, sharedValue } from './fields';

/** An event of 24 frames at one hour, paired with frame 10 of an original that begins at 10:00:00:00. */
const delivered = newEvent({
  key: 'k1',
  reel: 'A001',
  sourceRate: RATES['24'],
  source: { in: 864_010, out: 864_034 },
  record: { in: 86_400, out: 86_424 },
});
const pair = { original: '/v/a.mov', sourceStartFrame: 10, acceptedAt: 10, rate: RATES['24'] };
const event = (more: Partial<StandingEvent> = {}): StandingEvent => ({ ...asDelivered(delivered), pair, ...more });
const around: Around = {
  rate: RATES['24'],
  layer: 'V1',
  layers: ['V1', 'V2'],
  original: { start: 864_000, hasTimecode: true, rate: RATES['24'] },
  accepted: true,
};
const field = (name: string) => {
  const found = SECTIONS.flatMap((s) => s.fields).find((f) => f.name === name);
  if (!found) throw new Error(name);
  return found;
};
const typed = (name: string, text: string, of = event()) => field(name).decide(of, text, around);
const dissolve: Transition = { type: 'dissolve', duration: 12, before: 6, from: 'previous', wipeCode: null };

describe('a value that is typed', () => {
  it.each([
    ['source-in', '10:00:01:00', { kind: 'slip', event: 'k1', original: '/v/a.mov', sourceStartFrame: 24 }],
    ['source-in', '+3', { kind: 'slip', event: 'k1', original: '/v/a.mov', sourceStartFrame: 13 }],
    ['slip', '-4', { kind: 'slip', event: 'k1', original: '/v/a.mov', sourceStartFrame: 6 }],
    ['record-out', '01:00:01:06', { kind: 'trim', event: 'k1', edge: 'out', frames: 6 }],
    ['speed', '50', { kind: 'speed', event: 'k1', retime: { kind: 'constant', speed: { num: 1, den: 2 } }, stays: 0 }],
    ['speed', '-100 @ 12', { kind: 'speed', event: 'k1', retime: { kind: 'constant', speed: { num: -1, den: 1 } }, stays: 12 }],
    ['speed', '0', { kind: 'speed', event: 'k1', retime: { kind: 'freeze' }, stays: 0 }],
    ['join-type', 'dissolve', { kind: 'transition', event: 'k1', transition: dissolve }],
    ['x', '6,5', { kind: 'placement', event: 'k1', placement: { ...FILLING, x: 0.065 } }],
    ['slope', '1.1', { kind: 'grade', scope: { of: 'event', event: 'k1' }, cdl: { ...NEUTRAL_CDL, slope: [1.1, 1.1, 1.1] } }],
    ['layer', 'V2', { kind: 'layer', event: 'k1', layer: 'V2' }],
    ['reel', ' B004 ', { kind: 'names', event: 'k1', reel: 'B004' }],
  ])('%s of %s is this decision', (name, text, decision) => expect(typed(name, text)).toEqual({ decision }));
  it.each([
    ['slip', '1.5'],
    ['source-in', 'soon'],
    ['speed', 'fast'],
    ['join-duration', '12'],
    ['wipe-code', '001'],
    ['power', '-1'],
    ['saturation', ''],
    ['opacity', 'half'],
  ])('%s of %j is told to be none', (name, text) => expect(typed(name, text)).toHaveProperty('problem'));
  it('does not slip a pair that nobody accepted', () => {
    expect(field('slip').decide(event(), '2', { ...around, accepted: false })).toEqual({ problem: 'Accept its pair first.' });
  });
  it('moves every key of a picture that moves', () => {
    const keys = [0, 24].map((record) => ({ ...FILLING, record, scaleX: 1 + record / 24 }));
    const answer = typed('y', '10', event({ placement: { ...FILLING, keys } }));
    expect(answer).toMatchObject({
      decision: {
        placement: {
          keys: [
            { scaleX: 1, y: 0.1 },
            { scaleX: 2, y: 0.1 },
          ],
        },
      },
    });
  });
});

describe('several events', () => {
  it('have a value in common, or differ', () => {
    const two = [event(), event({ key: 'k2', reel: 'B004' })].map((e) => [e, around] as const);
    expect(sharedValue(field('record-in'), two)).toBe('01:00:00:00');
    expect(sharedValue(field('reel'), two)).toBe(MIXED);
  });
  it('are given what was copied, the event itself left out', () => {
    const from = event({ placement: { ...FILLING, scaleX: 2 }, transitionIn: dissolve });
    const decisions = pasted(from, [from, event({ key: 'k2' })], new Set(['placement', 'transition']));
    expect(decisions).toEqual([
      { kind: 'placement', event: 'k2', placement: { ...FILLING, scaleX: 2 } },
      { kind: 'transition', event: 'k2', transition: dissolve },
    ]);
  });
});

describe('a value that goes back', () => {
  it.each([
    ['slip', { pair: { ...pair, sourceStartFrame: 13 } }, { kind: 'slip', event: 'k1', original: '/v/a.mov', sourceStartFrame: 10 }],
    ['record-in', { record: { in: 86_404, out: 86_424 } }, { kind: 'trim', event: 'k1', edge: 'in', frames: -4 }],
    ['reel', { reel: 'B004' }, { kind: 'names', event: 'k1', reel: 'A001' }],
    ['enabled', { enabled: false }, { kind: 'enable', event: 'k1', enabled: true }],
    ['join-duration', { transitionIn: dissolve }, { kind: 'carry', event: 'k1', from: 'its own list', carried: { transitionIn: null } }],
  ])('%s does so by this decision', (name, more, decision) => {
    expect(reverted(field(name), event(more as Partial<StandingEvent>), delivered, around)).toEqual(decision);
  });
  it('has nowhere to go where it stands as it was delivered', () => {
    for (const f of SECTIONS.flatMap((s) => s.fields)) expect(reverted(f, event(), delivered, around), f.name).toBeNull();
  });
});
