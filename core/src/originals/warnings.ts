import { framesPerDay, sameSpeed } from '../time';
import type { Original, Warning } from './model';
import { looksLikeProxy, namesReel } from './names';

/**
 * Adds what can only be seen by comparing the originals with one another: a reel where every clip
 * starts at zero, overlapping timecode on a reel, one name in two places. Order is kept.
 */
export function withWarnings(originals: readonly Original[]): Original[] {
  const extra = new Map<string, Warning[]>();
  const warn = (original: Original, code: string, message: string) => {
    extra.set(original.path, [...(extra.get(original.path) ?? []), { code, message }]);
  };
  for (const original of originals) warnAlone(original, warn);
  for (const clips of groupBy(
    originals.filter((o) => o.kind !== 'still' && o.kind !== 'sound' && namesReel(o.reel)),
    (o) => o.reel,
  ).values())
    warnReel(clips, warn);
  for (const clips of groupBy(originals, (o) => o.clipName.toLowerCase()).values())
    if (clips.length > 1)
      for (const clip of clips)
        warn(clip, 'same-name', `${clips.length} originals are called ${clip.clipName}. Look at them side by side before one is chosen.`);
  return originals.map((o) => ({ ...o, warnings: [...o.warnings, ...(extra.get(o.path) ?? [])] }));
}

type Warn = (original: Original, code: string, message: string) => void;

function warnAlone(original: Original, warn: Warn): void {
  if (original.kind === 'still') return;
  if (!original.hasTimecode)
    warn(
      original,
      'timecode-absent',
      'The file carries no timecode. Only its name can speak for it; look for a sidecar or the card it came from.',
    );
  if (original.hasTimecode && original.start + original.frames > framesPerDay(original.rate))
    warn(original, 'crosses-midnight', 'The clip runs past 24:00:00:00; timecodes after midnight start again at zero.');
  if (looksLikeProxy(original.fileName))
    warn(original, 'looks-like-proxy', "The name ends like a light copy's. Make sure it is not standing in for its original.");
}

function warnReel(clips: readonly Original[], warn: Warn): void {
  const timed = clips.filter((c) => c.hasTimecode);
  if (timed.length > 1 && timed.every((c) => c.start === 0))
    for (const clip of timed)
      warn(clip, 'reel-starts-at-zero', `Every clip of reel ${clip.reel} starts at 00:00:00:00, so timecode cannot tell them apart.`);
  const inOrder = [...timed].sort((a, b) => a.start - b.start);
  inOrder.forEach((clip, index) => {
    const next = inOrder[index + 1];
    if (!next || clip.start === 0 || !sameSpeed(clip.rate, next.rate) || next.start >= clip.start + clip.frames) return;
    if (next.clipName.toLowerCase() === clip.clipName.toLowerCase()) return;
    warn(clip, 'timecode-overlaps', `Its timecode overlaps ${next.fileName} on reel ${clip.reel}.`);
    warn(next, 'timecode-overlaps', `Its timecode overlaps ${clip.fileName} on reel ${clip.reel}.`);
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
