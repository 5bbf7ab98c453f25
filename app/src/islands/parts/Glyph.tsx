import type { PairState } from '@gemello/core';

export const STATE_WORDS: Record<PairState, string> = {
  paired: 'paired with its original',
  proposed: 'one candidate meets the rules, not accepted yet',
  contested: 'several candidates meet the rules',
  doubtful: 'the best candidate meets only some of the rules',
  short: 'the original lacks frames',
  away: 'paired, but the original is not here now',
  unpaired: 'no candidate',
  exempt: 'needs no original',
};

export const stateColour = (state: PairState): string => `var(--state-${state})`;

/** The two discs that stand for event and original; every state has a shape of its own. */
export function Glyph({ state, size = 30 }: { state: PairState; size?: number }) {
  const c = stateColour(state);
  const line = { fill: 'none', stroke: c, strokeWidth: 1.6 };
  return (
    <svg width={size} height={(size * 20) / 32} viewBox="0 0 32 20" role="img" aria-label={`${state}: ${STATE_WORDS[state]}`}>
      <title>{`${state}: ${STATE_WORDS[state]}`}</title>
      {state === 'paired' && (
        <path
          d="M12 3.5a6.5 6.5 0 0 0 0 13c1.6 0 3-.5 4-1.3 1 .8 2.4 1.3 4 1.300a6.5 6.5 0 0 0 0-13c-1.6 0-3 .5-4 1.3-1-.8-2.4-1.3-4-1.300Z"
          fill={c}
        />
      )}
      {state === 'proposed' && (
        <>
          <circle cx="12" cy="10" r="6.2" {...line} />
          <circle cx="20" cy="10" r="6.2" {...line} />
        </>
      )}
      {state === 'contested' && (
        <>
          <circle cx="8" cy="10" r="5" {...line} />
          {[3.6, 10, 16.4].map((y) => (
            <circle key={y} cx="24" cy={y} r="2.6" fill={c} />
          ))}
        </>
      )}
      {state === 'doubtful' && (
        <>
          <circle cx="12" cy="10" r="6.2" {...line} strokeDasharray="3 2.2" />
          <circle cx="20" cy="10" r="6.2" {...line} strokeDasharray="3 2.2" />
        </>
      )}
      {state === 'short' && (
        <>
          <circle cx="11" cy="10" r="6.2" {...line} />
          <path d="M21 3.800a6.2 6.2 0 0 0 0 12.400Z" fill={c} />
        </>
      )}
      {state === 'away' && (
        <>
          <circle cx="9.5" cy="10" r="6" fill={c} />
          <circle cx="23" cy="10" r="6" {...line} strokeDasharray="2 2" />
        </>
      )}
      {state === 'unpaired' && <circle cx="10" cy="10" r="6.2" {...line} strokeWidth={2.2} />}
      {state === 'exempt' && <rect x="12" y="6" width="8" height="8" {...line} />}
    </svg>
  );
}
