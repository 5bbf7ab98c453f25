import { type Refused, refusalText } from '@gemello/core/decisions';
import { GRIPS, type Grip, seenAt, type Tried, tryGrip } from '@gemello/core/lanes';
import { plural, signed } from '@gemello/core/words';
import { useEffect } from 'react';
import { useConform, useDecide } from '../data/queries';
import { useTrial } from '../data/trial';
import type { Scene } from './scene';

/** What is moved, in words: of the arrows, of what was done, and of the two pictures that show it. */
export const GRIP_WORDS: Record<Grip, { readonly says: string; readonly done: string; readonly seen: readonly [string, string] }> = {
  source: { says: 'Source (slip)', done: 'slipped', seen: ['First frame', 'Last frame'] },
  cut: { says: 'Cut at its head (roll)', done: 'its cut rolled', seen: ['Last before the cut', 'First after the cut'] },
  head: { says: 'Head alone (trim)', done: 'its head trimmed', seen: ['Before its head', 'First frame'] },
  tail: { says: 'Tail alone (trim)', done: 'its tail trimmed', seen: ['Last frame', 'After its tail'] },
  event: { says: 'Whole event (move)', done: 'moved', seen: ['First frame', 'Last frame'] },
  join: { says: 'Transition, longer or shorter', done: 'its transition changed', seen: ['Transition begins', 'Transition ends'] },
  'join-in': { says: 'Where the transition begins', done: 'its transition changed', seen: ['Transition begins', 'Transition ends'] },
  'join-out': { says: 'Where the transition ends', done: 'its transition changed', seen: ['Transition begins', 'Transition ends'] },
};
/** What arrows may move, as it is offered. */
export const ARROWS = GRIPS;

/** What was moved and by how much, in words. */
export const movedText = (grip: Grip, { by, layer }: Tried): string =>
  [
    by === 0 && layer !== null ? GRIP_WORDS[grip].done : `${GRIP_WORDS[grip].done} by ${signed(by)}`,
    ...(layer === null ? [] : [`to ${layer}`]),
  ].join(' ');

/** Moves grips on trial: what is moved is seen at once, and decided only when it is kept. */
export function useGrip(job: string, scene: Scene | null) {
  const { trial, kept, attempt, keep } = useTrial();
  const decide = useDecide(job);
  const { dataUpdatedAt } = useConform(job);
  // The cut has come as it was decided: nothing is on trial any more.
  // biome-ignore lint/correctness/useExhaustiveDependencies: it is asked when the cut comes, and not before
  useEffect(() => {
    if (useTrial.getState().kept) attempt(null);
  }, [dataUpdatedAt]);

  const move = (grip: Grip, keys: readonly string[], by: number, layer: string | null = null) => {
    if (!scene || keys.length === 0 || useTrial.getState().kept) return;
    const tried = tryGrip(scene.cut, grip, keys, by, scene.room, layer);
    // A candidate that nobody accepted is not slipped: nothing is linked by the way.
    const open = grip === 'source' && keys.some((key) => !scene.row(key)?.accepted);
    const [first = ''] = keys;
    const event = tried.changed.get(first) ?? scene.lanes.flatMap((l) => l.events).find((e) => e.key === first);
    attempt({
      decisions: open ? [] : tried.decisions,
      sight: event ? { frames: seenAt(grip, event), says: GRIP_WORDS[grip].seen } : null,
      moved: {
        grip,
        keys,
        wished: by,
        tried: open ? { ...tried, by: 0, decisions: [], refused: 'not-paired', layer: null, changed: new Map() } : tried,
      },
    });
  };
  const take = () => {
    const { trial: now } = useTrial.getState();
    if (!now?.moved || now.decisions.length === 0) {
      attempt(null);
      return;
    }
    const { grip, keys, tried } = now.moved;
    const who = keys.length === 1 ? `Event ${scene?.row(keys[0] ?? '')?.number ?? ''}` : plural(keys.length, 'event');
    keep();
    decide.mutate({ decisions: [...now.decisions], done: `${who}: ${movedText(grip, tried)}` }, { onError: () => attempt(null) });
  };
  return { moved: trial?.moved ?? null, kept, move, take, drop: () => !useTrial.getState().kept && attempt(null) };
}

/** Why a grip went no further, in words. */
export const whyNoFurther = (code: Refused['code']): string => refusalText({ code });
