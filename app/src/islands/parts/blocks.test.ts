import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { LedgerRow } from '../../contract';
import { blocksOf } from './blocks';

const STATES = ['paired', 'unpaired', 'proposed', 'exempt'] as const;
const row = (at: number, frames: number, state: string): LedgerRow =>
  ({ id: `${at}`, number: `${at}`, state, proof: null, recordFrames: { in: at, out: at + frames } }) as unknown as LedgerRow;
const inRow = (lengths: readonly number[], states: readonly string[]): LedgerRow[] => {
  let at = 0;
  return lengths.map((frames, i) => {
    at += frames;
    return row(at - frames, frames, states[i % states.length] ?? 'paired');
  });
};
const cut = fc
  .record({
    lengths: fc.array(fc.integer({ min: 1, max: 400 }), { minLength: 1, maxLength: 300 }),
    states: fc.array(fc.constantFrom(...STATES), { minLength: 1, maxLength: 7 }),
    across: fc.integer({ min: 40, max: 1600 }),
  })
  .map(({ lengths, states, across }) => {
    const rows = inRow(lengths, states);
    const whole = lengths.reduce((a, b) => a + b, 0);
    return { rows, across, x: (frame: number) => (frame * across) / whole };
  });

describe('the blocks of the ribbon', () => {
  it('are the events themselves where there is room for them', () => {
    const rows = inRow([24, 48, 1, 96], ['paired', 'unpaired']);
    const blocks = blocksOf(rows, (frame) => frame * 10, false);
    expect(blocks.map((b) => [b.first.id, b.count, b.look])).toEqual(rows.map((r) => [r.id, 1, r.state]));
  });
  it('hold every event once, and are no more than the ribbon has pixels', () => {
    fc.assert(
      fc.property(cut, ({ rows, x, across }) => {
        const blocks = blocksOf(rows, x, false);
        expect(blocks.reduce((n, b) => n + b.count, 0)).toBe(rows.length);
        expect(blocks.length).toBeLessThanOrEqual(across + 1);
      }),
    );
  });
  it('never hide what is open behind what is settled', () => {
    fc.assert(
      fc.property(cut, ({ rows, x }) => {
        const blocks = blocksOf(rows, x, false);
        for (const open of rows.filter((r) => r.state === 'unpaired')) {
          const at = x(open.recordFrames.in);
          expect(blocks.some((b) => b.look === 'unpaired' && at >= b.left - 1 && at <= b.left + b.width + 1)).toBe(true);
        }
      }),
    );
  });
  it('are by verdict where the proof still holds', () => {
    const proved = { ...row(0, 24, 'paired'), proof: { verdict: 'differs', stale: false } } as LedgerRow;
    expect(blocksOf([proved], (f) => f, true)[0]?.look).toBe('differs');
    expect(blocksOf([proved], (f) => f, false)[0]?.look).toBe('paired');
  });
});
