import type { CarryMode, ReelTakes, StandingEvent } from '../edit';
import { namesReel, type Original, withoutExtension } from '../originals';
import { clipsHolding, originalAt, type PairedCut, type Pairing } from '../pairing';

/** How names or reels of the list become those of originals. */
export type Pattern =
  | { readonly kind: 'reel'; readonly takes: ReelTakes }
  /** `*` stands for the part that is kept. */
  | { readonly kind: 'name'; readonly find: string; readonly becomes: string };

/** A pattern with the keys of the events it was seen in: of those still open, and of pairs that were accepted. */
export interface PatternSeen {
  readonly pattern: Pattern;
  readonly open: readonly string[];
  readonly accepted: readonly string[];
}

/** A kept part shorter than this is chance. */
const SHORTEST_KEPT = 4;
/** Reels shorter than this begin too many names. */
const SHORTEST_REEL = 4;
/** More clips than this hold one timecode only where timecode tells nothing. */
const MOST_HOLDING = 24;
/** Patterns that are looked at further, those seen most often first. */
const MOST_PATTERNS = 8;
/** So often a pattern must be seen. */
const OFTEN_ENOUGH = 2;

/**
 * Patterns that would explain open events: seen where an event's timecode lies in a clip of which a name holds the event's,
 * or is held by it, or begins with the event's reel; and seen in pairs that were accepted. Only what exactly one clip at
 * that timecode shows counts, so that two cameras with the same time of day teach nothing.
 */
export function learnPatterns({ pairings, index }: PairedCut, carry: CarryMode): PatternSeen[] {
  const seen = new Map<string, { pattern: Pattern; open: string[]; accepted: string[] }>();
  for (const pairing of pairings) {
    const clips = clipsToLearnFrom(
      pairing,
      (event) => clipsHolding(event, index, carry),
      (path) => originalAt(index, path),
    );
    if (clips.length === 0 || clips.length > MOST_HOLDING) continue;
    for (const [key, pattern] of patternsOfOne(pairing.event, clips)) {
      const known = seen.get(key) ?? { pattern, open: [], accepted: [] };
      known[pairing.accepted ? 'accepted' : 'open'].push(pairing.event.key);
      seen.set(key, known);
    }
  }
  return [...seen.values()]
    .filter((s) => s.open.length > 0 && s.open.length + s.accepted.length >= OFTEN_ENOUGH)
    .sort((a, b) => b.open.length + b.accepted.length - (a.open.length + a.accepted.length))
    .slice(0, MOST_PATTERNS);
}

function clipsToLearnFrom(
  { event, state, accepted, acceptedPath }: Pairing,
  holding: (event: StandingEvent) => readonly Original[],
  at: (path: string) => Original | undefined,
): readonly Original[] {
  if (accepted && acceptedPath) {
    const original = at(acceptedPath);
    return original ? [original] : [];
  }
  return state === 'unpaired' || state === 'doubtful' ? holding(event) : [];
}

/** The patterns that exactly one of some clips shows for an event, each by what it is. */
function patternsOfOne(event: StandingEvent, clips: readonly Original[]): Map<string, Pattern> {
  const shown = new Map<string, { pattern: Pattern; clips: number }>();
  for (const clip of clips)
    for (const pattern of new Map(patternsBetween(event, clip).map((p) => [JSON.stringify(p), p])).values()) {
      const key = JSON.stringify(pattern);
      const known = shown.get(key);
      if (known) known.clips++;
      else shown.set(key, { pattern, clips: 1 });
    }
  return new Map([...shown].filter(([, s]) => s.clips === 1).map(([key, { pattern }]) => [key, pattern]));
}

function patternsBetween(event: StandingEvent, original: Original): Pattern[] {
  const patterns: Pattern[] = [];
  const { reel } = event;
  const fields = { 'file-name': original.fileName, 'clip-name': original.clipName, reel: original.reel } as const;
  if (namesReel(reel) && reel.length >= SHORTEST_REEL)
    for (const of of ['file-name', 'clip-name', 'reel'] as const)
      if (fields[of].length > reel.length && fields[of].toLowerCase().startsWith(reel.toLowerCase()))
        patterns.push({ kind: 'reel', takes: { of, length: reel.length } });
  for (const asked of new Set([event.clipName, event.fileName].map(withoutExtension)))
    for (const given of new Set([original.clipName, original.fileName].map(withoutExtension))) {
      const found = namePattern(asked, given);
      if (found) patterns.push(found);
    }
  return patterns;
}

/** What makes one name of another, where the one holds the other whole and says more; null where neither does. */
function namePattern(asked: string, given: string): Pattern | null {
  const [a, g] = [asked.toLowerCase(), given.toLowerCase()];
  if (a === g || Math.min(a.length, g.length) < SHORTEST_KEPT) return null;
  const inAsked = a.indexOf(g);
  if (inAsked >= 0) return { kind: 'name', find: `${asked.slice(0, inAsked)}*${asked.slice(inAsked + given.length)}`, becomes: '*' };
  const inGiven = g.indexOf(a);
  if (inGiven >= 0) return { kind: 'name', find: '*', becomes: `${given.slice(0, inGiven)}*${given.slice(inGiven + asked.length)}` };
  return null;
}
