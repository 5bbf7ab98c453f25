import type { Claim } from './model';
import { joined, NAME_FORMS, withoutExtension } from './names';

/** What a slate says, freed of what says nothing: `12a` and `3` for scene 12-A, take 03. */
export interface Slate {
  readonly scene: string;
  readonly take: string;
}

const GAP = `[\\s/${NAME_FORMS.separators.replace('-', '\\-')}]`;
const SLATE = new RegExp(
  `^(?:${NAME_FORMS.sceneMarks.join('|')})?${GAP}*([a-z]{0,2}\\d+(?:${GAP}?[a-z]{1,2})??)${GAP}+(?:${NAME_FORMS.takeMarks.join('|')})?${GAP}*(\\d+)$`,
  'i',
);
const MARKED_SCENE = new RegExp(`^(?:${NAME_FORMS.sceneMarks.join('|')})(?=[^a-z])`, 'i');
const MARKED_TAKE = new RegExp(`^(?:${NAME_FORMS.takeMarks.join('|')})(?=[^a-z])`, 'i');

const slate = (scene: string, take: string): Slate => ({
  scene: joined(scene.replace(MARKED_SCENE, '')),
  take: joined(take.replace(MARKED_TAKE, '')).replace(/^0+(?=.)/, ''),
});

/** The scene and take that a clip's sources name; null where they do not name both. */
export function slateOf({ claims }: { readonly claims: readonly Claim[] }): Slate | null {
  const scene = claims.find((c) => c.taken && c.field === 'scene');
  const take = scene && claims.find((c) => c.taken && c.field === 'take');
  return take ? slate(scene.value.trim(), take.value.trim()) : null;
}

/**
 * The scene and take that a name is made of, as assistants call clips after their slates: `12A-3`, `Sc12A_T03`, `12A/3`
 * (common practice). Null for any other name. A camera's `A001_003` reads as one too: it says something only of a clip
 * whose slate agrees with it.
 */
export function slateIn(name: string): Slate | null {
  const [, scene, take] = SLATE.exec(withoutExtension(name.trim())) ?? [];
  return scene !== undefined && take !== undefined ? slate(scene, take) : null;
}

/** A slate as one word, unlike any loose name. */
export const slateKey = ({ scene, take }: Slate): string => `${scene}|${take}`;
