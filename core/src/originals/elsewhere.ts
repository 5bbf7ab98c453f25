import { z } from 'zod';
import type { Original } from './model';

/**
 * What a person says of a folder: what lies in it and below was made elsewhere from shots of the cut, graded clips or effects. Such clips
 * have the names, reels and timecode of their sources and are none of them: they never become a pair. `is` false takes the word back.
 */
export const elsewhereSchema = z.object({ kind: z.literal('made-elsewhere'), folder: z.string().min(1), is: z.boolean() });
export type ElsewhereWord = z.infer<typeof elsewhereSchema>;

/** Paths of what was made elsewhere; of a folder the last word counts, and the nearest above a clip. */
export function madeElsewhere(originals: readonly Original[], words: readonly ElsewhereWord[]): Set<string> {
  const found = new Set<string>();
  if (words.length === 0) return found;
  const said = [...new Map(words.map((w) => [w.folder, w.is] as const))].sort(([a], [b]) => b.length - a.length);
  for (const { path } of originals) if (said.find(([folder]) => path.startsWith(`${folder}/`))?.[1]) found.add(path);
  return found;
}
