import type { Verdict } from '@gemello/core';
import { verdictText } from '@gemello/core/proof';

export const VERDICT_COLOUR: Record<Verdict, string> = {
  same: 'var(--state-paired)',
  differs: 'var(--state-unpaired)',
  uncertain: 'var(--state-short)',
  unchecked: 'var(--state-exempt)',
};

/**
 * A verdict by shape and colour: two edges that meet, two that are set off against each other, two of which one is broken, one alone.
 */
export function VerdictMark({ verdict, size = 14 }: { verdict: Verdict; size?: number }) {
  const colour = VERDICT_COLOUR[verdict];
  const offset = verdict === 'differs' ? 3 : 0;
  return (
    <svg width={size} height={size} viewBox="0 0 14 14" role="img" aria-label={verdictText(verdict)} className="shrink-0">
      <title>{verdictText(verdict)}</title>
      <path d={`M2 ${4 - offset / 2}h5v${6}h-5Z`} fill={colour} />
      {verdict !== 'unchecked' && (
        <path
          d={`M7 ${4 + offset}h5v6h-5Z`}
          fill={verdict === 'uncertain' ? 'none' : colour}
          fillOpacity={verdict === 'differs' ? 0.65 : 1}
          stroke={colour}
          strokeDasharray={verdict === 'uncertain' ? '2 1.5' : undefined}
        />
      )}
    </svg>
  );
}
