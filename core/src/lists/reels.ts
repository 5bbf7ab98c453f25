/** A reel as it is called in the cut and as it stands in a list that has less room. */
export interface ShortReel {
  readonly original: string;
  readonly written: string;
}

/**
 * Shortens reels to `longest` characters of A-Z, 0-9 and the underscore, so that no two become the
 * same, in whatever case they are compared (8 characters in classic lists, SMPTE ST 258 lineage; 32 and
 * 128 in longer variants, common practice). Reels that fit stay as they are. The same reels give the
 * same short ones whatever their order. `longest` is 4 or above.
 */
export function shortReels(reels: Iterable<string>, longest: number): Map<string, string> {
  const all = [...new Set(reels)].filter((r) => r !== '').sort();
  const made = new Map<string, string>();
  const taken = new Set<string>();
  const take = (reel: string, written: string) => {
    made.set(reel, written);
    taken.add(written.toUpperCase());
  };
  for (const reel of all) if (fits(reel, longest) && !taken.has(reel.toUpperCase())) take(reel, reel);
  for (const reel of all) {
    if (made.has(reel)) continue;
    const clean = reel.replace(/[^A-Za-z0-9_]+/g, '') || 'REEL';
    let written = clean.slice(0, longest);
    for (let n = 2; taken.has(written.toUpperCase()); n++) written = `${clean.slice(0, longest - String(n).length)}${n}`;
    take(reel, written);
  }
  return made;
}

const fits = (reel: string, longest: number): boolean => reel.length <= longest && /^[A-Za-z0-9_]+$/.test(reel);
