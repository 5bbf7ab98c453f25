/** Tails that proxies get and originals do not: `_proxy`, `_offline`, `-lores` (common practice). */
const LIGHT_COPY = /[ _.-]+(proxy|prx|offline|lores|low|lq|sub\d*|h264|preview)$/i;
const EXTENSION = /\.[a-z0-9]{1,5}$/i;

/** A name without its file extension. A dot followed by more than five characters is kept. */
export const withoutExtension = (name: string): string => name.replace(EXTENSION, '');

/** The name as compared loosely: no extension, no light-copy tail, no separators, lower case. */
export function looseName(name: string): string {
  return withoutExtension(name.trim())
    .replace(LIGHT_COPY, '')
    .replace(/[\s_.-]+/g, '')
    .toLowerCase();
}

/** A reel as compared loosely: no separators, lower case. */
export const looseReel = (reel: string): string => reel.replace(/[\s_.-]+/g, '').toLowerCase();

/** `AX`, `UNKNOWN` and an empty field name no reel (SMPTE ST 258 lineage, common practice). */
export const namesReel = (reel: string): boolean => !/^(|AX|UNKNOWN|NONE)$/i.test(reel.trim());

/** True when a file name ends like a proxy's. */
export const looksLikeProxy = (name: string): boolean => LIGHT_COPY.test(withoutExtension(name));
