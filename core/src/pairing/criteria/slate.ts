import type { StandingEvent } from '../../edit';
import { type Original, type Slate, slateIn, slateOf } from '../../originals';
import { CONFLICT, EXACT, type Grade, UNKNOWN, UNLIKE } from './grade';
import { namesAsked } from './name';

/** Whether a clip was called after the slate of an original: its scene and take. `asked` is the name that reads as one. */
export type SlateEvidence = Grade & {
  readonly criterion: 'slate';
  readonly asked: string;
  readonly wanted: Slate | null;
  readonly given: Slate | null;
};

/** Another take of the scene that a name speaks of conflicts; another scene says nothing, since cameras number like slates too. */
export function compareSlate(
  event: Pick<StandingEvent, 'clipName' | 'fileName' | 'aliases'>,
  original: Pick<Original, 'claims'>,
): SlateEvidence {
  const given = slateOf(original);
  if (!given) return NO_SLATE;
  let best: SlateEvidence = { criterion: 'slate', asked: '', wanted: null, given, ...UNKNOWN.list };
  for (const { name } of namesAsked(event)) {
    const wanted = slateIn(name);
    if (!wanted) continue;
    const said = { criterion: 'slate', asked: name, wanted, given } as const;
    if (wanted.scene !== given.scene) {
      if (best.grade === 'unknown') best = { ...said, ...UNLIKE };
    } else if (wanted.take === given.take) return { ...said, ...EXACT };
    else best = { ...said, ...CONFLICT };
  }
  return best;
}

const NO_SLATE: SlateEvidence = { criterion: 'slate', asked: '', wanted: null, given: null, ...UNKNOWN.original };
