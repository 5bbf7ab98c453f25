import { framesPerDay, sameSpeed } from '../time';
import { checksumWarnings, measuredContent } from './checksums';
import type { Original, Warning } from './model';
import { looksLikeProxy, namesReel } from './names';
import { ORIGINALS_WORDS } from './wording';

/**
 * Adds what can only be seen by comparing the originals with one another: a reel where every clip
 * starts at zero, overlapping timecode on a reel, one name in two places (the same content or not), a
 * raster or a name that is not like the others of its reel. Proxies (the keys of `proxyOf`) are as
 * their originals are, and compared with none. Order is kept.
 */
export function withWarnings(originals: readonly Original[], proxyOf: ReadonlyMap<string, string> = NO_COPIES): Original[] {
  const extra = new Map<string, Warning[]>();
  const warn = (original: Original, code: string, message: string) => {
    extra.set(original.path, [...(extra.get(original.path) ?? []), { code, message }]);
  };
  const compared = proxyOf.size === 0 ? originals : originals.filter((o) => !proxyOf.has(o.path));
  for (const original of originals) warnAlone(original, warn);
  for (const original of compared)
    if (looksLikeProxy(original.fileName)) warn(original, 'looks-like-proxy', ORIGINALS_WORDS.looksLikeProxy());
  for (const clips of groupBy(
    compared.filter((o) => o.kind !== 'still' && o.kind !== 'sound' && namesReel(o.reel)),
    (o) => o.reel,
  ).values())
    warnReel(clips, warn);
  for (const clips of groupBy(compared, (o) => o.clipName.toLowerCase()).values()) if (clips.length > 1) warnNamesakes(clips, warn);
  if (extra.size === 0) return [...originals];
  return originals.map((o) => {
    const more = extra.get(o.path);
    return more ? { ...o, warnings: [...o.warnings, ...more] } : o;
  });
}

const NO_COPIES: ReadonlyMap<string, string> = new Map();

type Warn = (original: Original, code: string, message: string) => void;

function warnAlone(original: Original, warn: Warn): void {
  for (const { code, message } of checksumWarnings(original)) warn(original, code, message);
  if (original.kind === 'still') return;
  if (!original.hasTimecode) warn(original, 'timecode-absent', ORIGINALS_WORDS.timecodeAbsent());
  if (original.hasTimecode && original.start + original.frames > framesPerDay(original.rate))
    warn(original, 'crosses-midnight', ORIGINALS_WORDS.crossesMidnight());
  if (original.pixelAspect !== null && Math.abs(original.pixelAspect - 1) > 0.001)
    warn(original, 'pixels-not-square', ORIGINALS_WORDS.pixelsNotSquare({ aspect: original.pixelAspect.toFixed(3) }));
}

function warnReel(clips: readonly Original[], warn: Warn): void {
  warnUnlike(clips, warn);
  const timed = clips.filter((c) => c.hasTimecode);
  if (timed.length > 1 && timed.every((c) => c.start === 0))
    for (const clip of timed) warn(clip, 'reel-starts-at-zero', ORIGINALS_WORDS.reelStartsAtZero({ reel: clip.reel }));
  const inOrder = [...timed].sort((a, b) => a.start - b.start);
  inOrder.forEach((clip, index) => {
    const next = inOrder[index + 1];
    if (!next || clip.start === 0 || !sameSpeed(clip.rate, next.rate) || next.start >= clip.start + clip.frames) return;
    if (next.clipName.toLowerCase() === clip.clipName.toLowerCase()) return;
    warn(clip, 'timecode-overlaps', ORIGINALS_WORDS.timecodeOverlaps({ fileName: next.fileName, reel: clip.reel }));
    warn(next, 'timecode-overlaps', ORIGINALS_WORDS.timecodeOverlaps({ fileName: clip.fileName, reel: clip.reel }));
  });
}

/** Originals that share their name with another and have no fingerprint yet. */
export function unprintedNamesakes(originals: readonly Original[]): Original[] {
  return [...groupBy(originals, (o) => o.clipName.toLowerCase()).values()].flatMap((clips) =>
    clips.length > 1 ? clips.filter((o) => o.print === '') : [],
  );
}

/** Clips of one name: the same content, by what was measured of them or else by size, head and tail; or not. */
function warnNamesakes(clips: readonly Original[], warn: Warn): void {
  const contents = [...groupBy(clips, (o) => o.print || o.path).values()].flatMap(apartByContent);
  for (const copies of contents)
    for (const clip of copies) {
      const other = copies.find((c) => c !== clip);
      if (!other) continue;
      const proven = measuredContent(clip) !== null && measuredContent(other) !== null;
      warn(clip, 'same-content', ORIGINALS_WORDS.sameContent({ path: other.path, proven }));
    }
  if (contents.length > 1)
    for (const clip of clips) warn(clip, 'same-name', ORIGINALS_WORDS.sameName({ contents: contents.length, clipName: clip.clipName }));
}

/** Clips that look alike, told apart where their content was measured; one that was not goes with the first. */
function apartByContent(alike: readonly Original[]): Original[][] {
  const measured = groupBy(
    alike.filter((o) => measuredContent(o) !== null),
    (o) => measuredContent(o) as string,
  );
  const groups = [...measured.values()];
  const rest = alike.filter((o) => measuredContent(o) === null);
  if (groups.length === 0) return [rest];
  groups[0]?.push(...rest);
  return groups;
}

/** A reel has a habit when at least this many of its clips, and this share of them, do alike. */
const HABIT = { clips: 4, share: 0.7 };

/** The trait that most clips of a reel have, where they have a habit; null where they have none. */
function habitOf(traits: readonly string[]): string | null {
  if (traits.length < HABIT.clips) return null;
  const counts = new Map<string, number>();
  for (const trait of traits) counts.set(trait, (counts.get(trait) ?? 0) + 1);
  const [usual, most] = [...counts].reduce((a, b) => (b[1] > a[1] ? b : a));
  return most >= HABIT.clips - 1 && most >= traits.length * HABIT.share ? usual : null;
}

/** The form of a name: letters as A, digits as 9, so that `A011C002_260412` is `A999A999_999999`. */
const formOf = (name: string): string => name.replace(/[A-Za-z]/g, 'A').replace(/\d/g, '9');

/** What is not like the other clips of its reel. */
function warnUnlike(clips: readonly Original[], warn: Warn): void {
  const rasters = clips.map((o) => `${o.raster.width}×${o.raster.height}`);
  const forms = clips.map((o) => formOf(o.clipName));
  const usual = habitOf(rasters);
  const form = habitOf(forms);
  const model = clips[forms.indexOf(form ?? '')];
  clips.forEach((clip, i) => {
    if (usual !== null && rasters[i] !== usual)
      warn(clip, 'raster-unusual', ORIGINALS_WORDS.rasterUnusual({ raster: rasters[i] ?? '', reel: clip.reel, usual }));
    if (form !== null && forms[i] !== form)
      warn(clip, 'name-unusual', ORIGINALS_WORDS.nameUnusual({ reel: clip.reel, like: model?.clipName ?? '' }));
  });
}

/** Items by key, in the order the keys first appear. */
export function groupBy<T>(items: readonly T[], key: (item: T) => string): Map<string, T[]> {
  const groups = new Map<string, T[]>();
  for (const item of items) {
    const k = key(item);
    const group = groups.get(k);
    if (group) group.push(item);
    else groups.set(k, [item]);
  }
  return groups;
}
