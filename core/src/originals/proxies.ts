import { z } from 'zod';
import { sameSpeed } from '../time';
import type { Original } from './model';
import { looksLikeProxy, looseName, looseReel, namesReel, withoutExtension } from './names';
import { groupBy } from './warnings';

/** What a person says of a proxy: `original` is the copy's path, `of` the clip it is a copy of; null when it is none. */
export const proxyWordSchema = z.object({ kind: z.literal('proxy'), original: z.string().min(1), of: z.string().min(1).nullable() });
export type ProxyWord = z.infer<typeof proxyWordSchema>;

/**
 * Which originals are proxies of which others; gives the path of the original by the path of
 * the copy. What a person said counts before all. Then what a sidecar says, of either. Then a clip
 * that is smaller in raster and called or kept like a proxy (a tail such as `_proxy`, or a folder
 * of proxies; common practice) is a copy of the largest clip of the same name without tails, and of the
 * same timecode or, where either has none, of the same length to a frame; and failing that, of the
 * only clip of its reel (where it has one), timecode and length.
 */
export function linkProxies(originals: readonly Original[], words: readonly ProxyWord[] = []): Map<string, string> {
  const links = new Map<string, string>();
  const mayBeCopy = (o: Original) => looksLikeProxy(o.fileName) || PROXY_FOLDER.test(o.path);
  const told = (o: Original) => o.claims.some((c) => c.field === 'proxy' || c.field === 'proxyOf');
  // Most cards hold none, and there may be a hundred thousand clips.
  if (words.length === 0 && !originals.some((o) => mayBeCopy(o) || told(o))) return links;
  const pictures = originals.filter((o) => o.kind !== 'sound');
  const byPath = new Map(pictures.map((o) => [o.path, o]));
  const word = new Map(words.map((w) => [w.original, w.of]));
  for (const [copy, whole] of word) if (whole !== null && copy !== whole && byPath.has(copy) && byPath.has(whole)) links.set(copy, whole);

  const named = groupBy(pictures, (o) => looseName(o.fileName));
  const free = (o: Original) => !word.has(o.path) && !links.has(o.path);
  for (const { copy, whole } of toldBySidecars(pictures, named)) if (free(copy)) links.set(copy.path, whole.path);

  const timed = groupBy(
    pictures.filter((o) => o.hasTimecode),
    (o) => `${o.start} ${o.frames}`,
  );
  for (const copy of pictures) {
    if (!free(copy) || !mayBeCopy(copy)) continue;
    const larger = (clips: readonly Original[]) => clips.filter((o) => o !== copy && o.raster.width > copy.raster.width && free(o));
    const [called] = larger(named.get(looseName(copy.fileName)) ?? [])
      .filter((o) => sameTake(o, copy))
      .sort((a, b) => b.raster.width - a.raster.width);
    const alike = copy.hasTimecode ? larger(timed.get(`${copy.start} ${copy.frames}`) ?? []).filter((o) => sameCard(o, copy)) : [];
    const whole = called ?? (alike.length === 1 ? alike[0] : undefined);
    if (whole) links.set(copy.path, whole.path);
  }
  return links;
}

/** A folder anywhere above the clip that is called as one of proxies (common practice). */
const PROXY_FOLDER = /[/\\](?:prox(?:y|ies)|offline|lo-?res)[/\\]/i;

/** Pairs that a sidecar names: the copy's names its original, or the original's its copy. By file name, exactly, in any folder. */
function* toldBySidecars(
  pictures: readonly Original[],
  named: ReadonlyMap<string, readonly Original[]>,
): Generator<{ copy: Original; whole: Original }> {
  const plain = (name: string) => withoutExtension(name.split(/[/\\]/).pop() ?? name).toLowerCase();
  for (const o of pictures)
    for (const c of o.claims) {
      if (c.field !== 'proxy' && c.field !== 'proxyOf') continue;
      const exact = (named.get(looseName(c.value.split(/[/\\]/).pop() ?? '')) ?? []).filter(
        (other) => other !== o && plain(other.fileName) === plain(c.value),
      );
      const [other] = exact.length > 1 ? exact.filter((e) => sameTake(e, o)) : exact;
      if (other) yield c.field === 'proxy' ? { copy: other, whole: o } : { copy: o, whole: other };
    }
}

const sameTake = (a: Original, b: Original): boolean =>
  Math.abs(a.frames - b.frames) <= 1 && (!a.hasTimecode || !b.hasTimecode || a.start === b.start);

const sameCard = (a: Original, b: Original): boolean =>
  sameSpeed(a.rate, b.rate) && (!namesReel(b.reel) || looseReel(a.reel) === looseReel(b.reel));
