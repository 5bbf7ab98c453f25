import type { Original } from './model';
import { looksLikeProxy, looseName } from './names';

/**
 * Which originals are light copies of which others: smaller in raster, called or kept like a light
 * copy (a tail such as `_proxy`, or a folder of proxies; common practice), of the same name without
 * tails, and of the same timecode or, where either has none, of the same length to a frame. Gives
 * the path of the original by the path of the copy.
 */
export function linkProxies(originals: readonly Original[]): Map<string, string> {
  const byName = new Map<string, Original[]>();
  for (const o of originals) {
    if (o.kind === 'sound') continue;
    const name = looseName(o.fileName);
    const same = byName.get(name);
    if (same) same.push(o);
    else byName.set(name, [o]);
  }
  const links = new Map<string, string>();
  for (const clips of byName.values()) {
    if (clips.length < 2) continue;
    for (const copy of clips) {
      if (!looksLikeProxy(copy.fileName) && !PROXY_FOLDER.test(copy.path)) continue;
      const whole = clips
        .filter((o) => o !== copy && o.raster.width > copy.raster.width && sameTake(o, copy))
        .sort((a, b) => b.raster.width - a.raster.width)[0];
      if (whole) links.set(copy.path, whole.path);
    }
  }
  return links;
}

const PROXY_FOLDER = /[/\\](?:prox(?:y|ies)|offline|lo-?res)[/\\][^/\\]*$/i;

const sameTake = (a: Original, b: Original): boolean =>
  Math.abs(a.frames - b.frames) <= 1 && (!a.hasTimecode || !b.hasTimecode || a.start === b.start);
