import type { StandingEvent } from '../../edit';
import { cardOf, FOLDER, joined, looseName, looseReel, NAME_FORMS, namesReel, numberAnother, type Original, runsOf } from '../../originals';
import { CONFLICT, CONTAINED, EXACT, type Grade, UNKNOWN, UNLIKE } from './grade';

/** How the reel of an event and that of an original agree. `via`: what of the original it was held against. */
export type ReelEvidence = Grade & {
  readonly criterion: 'reel';
  readonly asked: string;
  readonly given: string;
  readonly via: 'reel' | 'clip-name' | 'file-name' | 'folder';
};

/** So many characters of a name a reel field must hold to be its beginning, where nobody says otherwise. */
const SHORTEST_BEGINNING = NAME_FORMS.shortReel;

/**
 * Compares reels, then, where those say nothing or differ, the reel field with what long-reel lists carry in it (the
 * clip's name, or the first characters of its file's) and with the folder of the card.
 */
export function compareReel({ reel: asked, reelTakes }: Pick<StandingEvent, 'reel' | 'reelTakes'>, original: Original): ReelEvidence {
  const criterion = 'reel';
  const { reel: given } = original;
  if (!namesReel(asked)) return { criterion, asked: '', given, via: 'reel', ...UNKNOWN[namesReel(given) ? 'list' : 'both'] };
  const byReel = namesReel(given) ? reelsAgree(asked, given) : null;
  // `A001C003` in the reel field is that clip of card A001, and no other clip of it.
  const another = byReel?.grade === 'prefix' && cardOf(asked) !== null && numberAnother(asked, original.clipName);
  if (byReel && !another) return { criterion, asked, given, via: 'reel', ...byReel };
  const names = [
    { via: 'clip-name' as const, given: original.clipName },
    { via: 'file-name' as const, given: original.fileName },
  ];
  for (const { via, given: name } of names) {
    if (looseName(asked) === looseName(name)) return { criterion, asked, given: name, via, ...CONTAINED };
    if (beginsWith(name, asked, SHORTEST_BEGINNING) || (reelTakes?.of === via && beginsWith(name, asked, reelTakes.length)))
      return { criterion, asked, given: name, via, grade: 'prefix', length: asked.length };
  }
  if (reelTakes?.of === 'reel' && beginsWith(given, asked, reelTakes.length))
    return { criterion, asked, given, via: 'reel', grade: 'prefix', length: asked.length };
  if (!namesReel(given)) {
    const folder = foldersOf(original.path).find((name) => looseReel(name) === looseReel(asked));
    if (folder) return { criterion, asked, given: folder, via: 'folder', ...CONTAINED };
    return { criterion, asked, given: '', via: 'reel', ...UNKNOWN.original };
  }
  // A folder that is merely called like a card, as `DAY_01` is, says nothing against card A001; `B001` does.
  if (isSuggested(original) && !ofOneScheme(asked, given)) return { criterion, asked, given, via: 'folder', ...UNLIKE };
  return { criterion, asked, given, via: 'reel', ...CONFLICT };
}

/** True where nothing but the name of its folder gives an original its reel. */
const isSuggested = ({ claims }: Original): boolean => claims.some((c) => c.field === 'reel' && c.taken && c.origin === FOLDER);

/** Cards of one shoot are called alike: as many letters, then numbers. */
const ofOneScheme = (a: string, b: string): boolean => runsOf(a)[0]?.length === runsOf(b)[0]?.length;

function reelsAgree(asked: string, given: string): Grade | null {
  if (asked === given) return EXACT;
  if (joined(asked) === joined(given))
    return { grade: 'normalised', by: asked.toLowerCase() === given.toLowerCase() ? ['case'] : ['separators'] };
  // `A012` and `A012_260413`: the one is the other with more said of the card.
  const [one, other] = [cardOf(asked) ?? asked, cardOf(given) ?? given];
  if (looseReel(one) === looseReel(other) && (one === asked || other === given)) return { grade: 'prefix', length: one.length };
  if (asked.length === NAME_FORMS.shortReel && beginsWith(given, asked, NAME_FORMS.shortReel))
    return { grade: 'prefix', length: asked.length };
  return null;
}

/** True when a name begins with all of a text of at least `length` characters, and says more. */
const beginsWith = (name: string, text: string, length: number): boolean =>
  text.length >= length && name.length > text.length && name.slice(0, text.length).toLowerCase() === text.toLowerCase();

/** The folders an original lies in that may be called after its card: the nearest three. */
export const foldersOf = (path: string): string[] => path.split('/').slice(0, -1).slice(-3);
