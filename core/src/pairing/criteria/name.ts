import type { StandingEvent } from '../../edit';
import { nameAnother, type Original, withoutExtension } from '../../originals';
import { CONFLICT, type Grade, resultOf, UNKNOWN, UNLIKE } from './grade';
import { compareNames } from './text';

/** Which of its two names an event or an original was known by. */
export type NameOf = 'clip-name' | 'file-name' | 'reel' | 'alias';

/** How the names of an event and of an original agree. `via`: which name of the list it was. */
export type NameEvidence = Grade & { readonly criterion: 'name'; readonly asked: string; readonly given: string; readonly via: NameOf };

type Named = Pick<StandingEvent, 'clipName' | 'fileName' | 'aliases'>;

/** The names of an event, each with what it is. */
export function namesAsked({ clipName, fileName, aliases }: Named): readonly { readonly via: NameOf; readonly name: string }[] {
  const asked: { via: NameOf; name: string }[] = [];
  if (clipName.trim() !== '') asked.push({ via: 'clip-name', name: clipName });
  if (fileName.trim() !== '') asked.push({ via: 'file-name', name: fileName });
  for (const name of aliases) if (name.trim() !== '') asked.push({ via: 'alias', name });
  return asked;
}

/**
 * Compares names. Clip name and file name are different things, and either side may have kept only one: each is held
 * against each, and the best counts.
 */
export function compareName(event: Named, { clipName, fileName }: Pick<Original, 'clipName' | 'fileName'>): NameEvidence {
  const criterion = 'name';
  const asked = namesAsked(event);
  const [first] = asked;
  if (!first) return { criterion, asked: '', given: fileName, via: 'clip-name', ...UNKNOWN.list };
  const given = clipName === withoutExtension(fileName) ? [fileName] : [clipName, fileName];
  let best: NameEvidence | null = null;
  for (const { via, name } of asked)
    for (const other of given) {
      const grade = compareNames(name, other);
      if (!grade) continue;
      const found: NameEvidence = {
        criterion,
        asked: name,
        given: other,
        via,
        ...(via === 'alias' ? ({ grade: 'normalised', by: ['alias'] } as const) : grade),
      };
      if (grade.grade === 'exact' && via !== 'alias') return found;
      best ??= found;
    }
  if (best) return best;
  const another = asked.find(({ name }) => given.some((other) => nameAnother(withoutExtension(name), withoutExtension(other))));
  if (another) return { criterion, asked: another.name, given: fileName, via: another.via, ...CONFLICT };
  return { criterion, asked: first.name, given: fileName, via: first.via, ...UNLIKE };
}

/** True when a name, or a slate, speaks for a candidate. */
export function isNamed(evidence: Grade): boolean {
  const result = resultOf(evidence);
  return result === 'agrees' || result === 'loosely';
}
