import { withoutExtension } from '../originals';

/** `v` and digits, parted from the rest of a name on both sides (common practice): `shot_010_v03`, `shot_v2_comp`. */
const VERSION = /(^|[\s_.-])v(\d{1,4})(?=$|[\s_.-])/gi;

/** The version that a name speaks of and the name without it; null where it speaks of none. The last counts. */
export function versionIn(fileName: string): { stem: string; version: number | null } {
  const name = withoutExtension(fileName);
  const last = [...name.matchAll(VERSION)].at(-1);
  if (!last) return { stem: name, version: null };
  return { stem: name.slice(0, last.index) + name.slice(last.index + last[0].length), version: Number(last[2]) };
}
