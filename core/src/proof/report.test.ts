import { describe, expect, it } from 'vitest';
import { event, standing } from '../../test/make';
import { type EventProof, type Finding, REPORT_END, reportBegin, reportOfProof, reportRow, showsBest, totalsText } from '.';

const proof = (key: string, more: Partial<EventProof> = {}): EventProof => ({
  event: key,
  number: '001',
  track: 'V1',
  verdict: 'same',
  score: 0.98,
  bestOffset: 0,
  bestScore: 0.98,
  trace: Array.from({ length: 48 }, () => 0.98),
  framesCompared: 48,
  findings: [],
  ...more,
});

describe('where a finding shows best', () => {
  const trace = Array.from({ length: 60 }, (_, i) => (i === 41 ? 0.2 : 0.9));
  it.each<[Finding | null, number]>([
    [{ kind: 'slipped', frames: 3 }, 41],
    // Between the cut of the list and that of the reference.
    [{ kind: 'cut-moved', edge: 'in', frames: 6 }, 3],
    [{ kind: 'cut-moved', edge: 'in', frames: -6 }, -3],
    [
      { kind: 'transition-differs', expected: null, measured: { type: 'dissolve', durationFrames: 12, offsetFrames: 0, wipeCode: null } },
      6,
    ],
    [{ kind: 'picture-missing', side: 'reference' }, 30],
    [null, 30],
  ])('%o at offset %s', (finding, offset) => {
    expect(showsBest({ trace }, finding)).toBe(offset);
  });
});

describe('a report of a proof', () => {
  const cut = standing([event('V1/1', 86_400, 48, 1000), event('V1/2', 86_448, 48, 1000, { clipName: 'Tür <1>' })]);
  const slipped = proof('V1/2', { verdict: 'differs', score: 0.4, findings: [{ kind: 'slipped', frames: 2 }] });
  const report = reportOfProof(cut, new Map([['V1/2', slipped]]), {
    reference: 'ref.mov',
    made: '2026-11-27',
    framesCompared: 48,
    decisions: new Map([['V1/2', ['slipped to frame 12']]]),
  });
  it('has every event in the order of the cut, with its verdict, what was found and what was decided', () => {
    expect(report.entries.map((e) => [e.recordIn, e.verdict, e.findings.length])).toEqual([
      ['01:00:00:00', 'unchecked', 0],
      ['01:00:02:00', 'differs', 1],
    ]);
    expect(totalsText(report)).toBe('2 events: 0 same, 1 differs, 0 cannot be told, 1 not compared. 48 frames compared. 1 finding open.');
  });
  it('is a page that needs nothing beside it, in which names are text', () => {
    const rows = report.entries.map((e) => reportRow(e, { reference: 'QUJD', conform: null }));
    const page = `${reportBegin(report)}${rows.join('')}${REPORT_END}`;
    expect(page).toContain('Tür &lt;1&gt;');
    expect(page).toContain('data:image/jpeg;base64,QUJD');
    expect(page).toContain('Slipped: the reference shows the source 2 frames later');
    expect(page).toContain('Decided: slipped to frame 12');
    expect(page).toContain('no picture');
    expect(page).not.toMatch(/https?:/);
  });
});
