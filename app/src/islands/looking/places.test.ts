import { describe, expect, it } from 'vitest';
import type { LedgerRow, LedgerView } from '../../contract';
import { nextPlace, placesOf, rowAt } from './places';

const row = (id: string, track: string, from: number, out: number, more: Partial<LedgerRow> = {}) =>
  ({ id, track, recordFrames: { in: from, out }, proof: null, acceptedFindings: [], ...more }) as LedgerRow;
const slipped: Partial<LedgerRow> = {
  proof: { verdict: 'differs', score: 0.4, stale: false, findings: [{ kind: 'slipped', frames: 3, confidence: 1 }] },
};
const rows = [row('a', 'V1', 0, 20), row('b', 'V1', 20, 40, slipped), row('c', 'V2', 25, 30), row('d', 'V1', 50, 60)];
const ledger = { rows } as unknown as LedgerView;

describe('the places a playhead is sent to', () => {
  it('are every cut once, in their order, whatever layer it is on', () => {
    expect(placesOf('cut', ledger, null)).toEqual([0, 20, 25, 50]);
  });
  it('are the events with a finding that is open and still holds', () => {
    expect(placesOf('finding', ledger, null)).toEqual([20]);
    const accepted = { rows: [row('b', 'V1', 20, 40, { ...slipped, acceptedFindings: ['slipped'] })] } as unknown as LedgerView;
    expect(placesOf('finding', accepted, null)).toEqual([]);
  });
  it('are never the one it stands on', () => {
    expect([nextPlace([0, 20, 50], 20, 1), nextPlace([0, 20, 50], 20, -1)]).toEqual([50, 0]);
    expect([nextPlace([0, 20], 20, 1), nextPlace([0, 20], 0, -1)]).toEqual([null, null]);
  });
});

describe('the event at the playhead', () => {
  it('stays on the layer that is looked at where that has one, and is the lowest else', () => {
    expect(rowAt(rows, 27, 'V2')?.id).toBe('c');
    expect(rowAt(rows, 27, 'V1')?.id).toBe('b');
    expect(rowAt(rows, 35, 'V2')?.id).toBe('b');
  });
  it('is none in a gap', () => expect(rowAt(rows, 45, 'V1')).toBeNull());
});
