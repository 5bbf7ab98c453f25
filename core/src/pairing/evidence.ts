import { ratesRun, runOf, sourceSpan } from '../conform';
import type { StandingEvent } from '../edit';
import { looseName, looseReel, missingInside, namesReel, type Original, withoutExtension } from '../originals';
import {
  convertByFrameCount,
  convertByRealTime,
  type Frames,
  formatRate,
  formatTimecode,
  formatTimeOfDay,
  framesPerDay,
  lengthOf,
  type Rate,
  relabel,
  sameSpeed,
} from '../time';
import type { Rules } from './rules';

/** How one criterion speaks: for, somewhat for, against, or nothing to compare. */
export type EvidenceResult = 'agrees' | 'loosely' | 'disagrees' | 'unknown';

/** What speaks for or against a candidate, criterion by criterion, in words a person can check. */
export interface Evidence {
  readonly criterion: 'reel' | 'name' | 'timecode' | 'length' | 'rate';
  readonly result: EvidenceResult;
  readonly detail: string;
}

/** A candidate for an event, looked at. Frames count from 0 in the file. */
export interface Contender {
  readonly original: Original;
  readonly evidence: readonly Evidence[];
  readonly sourceStartFrame: Frames;
  readonly missingHead: Frames;
  readonly missingTail: Frames;
  /** Numbered frames that are missing within what the event asks for. */
  readonly missingInside: Frames;
  /** What was added to the list's timecode to reach the original's; 0 when they agree. */
  readonly shiftFrames: Frames;
  /** True when it meets the rules, missing frames aside. */
  readonly meets: boolean;
}

/** An event that looks for its original. */
export interface Asking {
  readonly event: StandingEvent;
  /** Frames that are needed past its record out. */
  readonly tail: Frames;
  /** Rate of the cut. */
  readonly recordRate: Rate;
}

/**
 * Looks at one original as a candidate for one event. `settledStart`: the frame where an accepted pair begins, which
 * then stands whatever timecode says.
 */
export function examine({ event, tail, recordRate }: Asking, original: Original, rules: Rules, settledStart?: Frames): Contender {
  const reel = compareReel(event, original);
  const name = compareName(event, original);
  const place = locate(event, original, rules, name.result !== 'disagrees' && name.result !== 'unknown');
  const start = settledStart ?? place.start;
  const span = sourceSpan(event, runOf(event, recordRate, original.kind === 'still' ? event.sourceRate : original.rate), tail);
  const still = original.kind === 'still';
  const missingHead = still ? 0 : Math.max(0, -(start + span.in));
  const missingTail = still ? 0 : Math.max(0, start + span.out - original.frames);
  const inside = missingInside(original, { in: start + span.in, out: start + span.out });
  const length: Evidence =
    missingHead + missingTail + inside === 0
      ? { criterion: 'length', result: 'agrees', detail: `has all ${lengthOf(span)} source frames that the event needs` }
      : { criterion: 'length', result: 'disagrees', detail: whatIsMissing({ missingHead, missingTail, missingInside: inside }) };
  return {
    original,
    evidence: [reel, name, place.evidence, length, compareRate(event, original, rules, recordRate)],
    sourceStartFrame: start,
    missingHead,
    missingTail,
    missingInside: inside,
    shiftFrames: place.shift,
    meets: meetsRules(rules, reel, name, place.evidence, still),
  };
}

/** How many frames an event asks for that an original has not, and where; as words. */
function whatIsMissing(c: Pick<Contender, 'missingHead' | 'missingTail' | 'missingInside'>): string {
  const inside = c.missingInside > 0 ? `, ${c.missingInside} inside` : '';
  return `lacks ${c.missingHead} frames at the head, ${c.missingTail} at the tail${inside}`;
}

/** True when an original has not all frames that an event asks for. */
export const isShort = (c: Pick<Contender, 'missingHead' | 'missingTail' | 'missingInside'>): boolean =>
  c.missingHead + c.missingTail + c.missingInside > 0;

function compareReel(event: StandingEvent, original: Original): Evidence {
  const criterion = 'reel';
  if (!namesReel(event.reel)) return { criterion, result: 'unknown', detail: 'the list names no reel' };
  if (!namesReel(original.reel)) return { criterion, result: 'unknown', detail: 'the original has no reel' };
  if (event.reel === original.reel) return { criterion, result: 'agrees', detail: original.reel };
  if (looseReel(event.reel) === looseReel(original.reel))
    return { criterion, result: 'loosely', detail: `${event.reel} ~ ${original.reel}` };
  // Long-reel lists carry the whole clip name in the reel field, and short ones cut it off.
  if (looseName(event.reel) === looseName(original.clipName))
    return { criterion, result: 'loosely', detail: `the reel field holds the clip name ${original.clipName}` };
  return { criterion, result: 'disagrees', detail: `${event.reel} is not ${original.reel}` };
}

/** Clip name and file name are different things; either side may have kept only one, so all are compared. */
function compareName(event: StandingEvent, original: Original): Evidence {
  const criterion = 'name';
  const asked = [event.clipName, event.fileName, ...event.aliases].filter((n) => n.trim() !== '');
  if (asked.length === 0) return { criterion, result: 'unknown', detail: 'the list names no clip' };
  const given = [original.clipName, original.fileName];
  const plain = (n: string) => withoutExtension(n.trim());
  const exact = asked.find((a) => given.some((g) => a === g || plain(a) === plain(g)));
  if (exact) return { criterion, result: 'agrees', detail: exact };
  const loose = asked.find((a) => given.some((g) => looseName(a) === looseName(g)));
  if (loose) return { criterion, result: 'loosely', detail: `${loose} ~ ${original.fileName}` };
  return { criterion, result: 'disagrees', detail: `${asked[0]} is not ${original.fileName}` };
}

interface Place {
  readonly start: Frames;
  readonly shift: Frames;
  readonly evidence: Evidence;
}

/** Finds the event's source in within the original by timecode; failing that, by counting from its first frame. */
function locate(event: StandingEvent, original: Original, rules: Rules, named: boolean): Place {
  const criterion = 'timecode';
  if (original.kind === 'still')
    return { start: 0, shift: 0, evidence: { criterion, result: 'unknown', detail: 'a still is the same at every timecode' } };
  const asked = carry(event.source.in + event.shift, event, original, rules);
  const start = placeIn(original, asked);
  const end = start + lengthOf(event.source);
  const label = formatTimeOfDay(asked, original.rate);
  if (original.hasTimecode && start >= 0 && end <= original.frames)
    return { start, shift: 0, evidence: { criterion, result: 'agrees', detail: `${label} is frame ${start}` } };
  if (original.hasTimecode && overlaps(start, end, original))
    return { start, shift: 0, evidence: { criterion, result: 'loosely', detail: `${label} is only partly inside` } };
  if (named && asked < original.frames)
    return {
      start: asked,
      shift: original.start,
      evidence: {
        criterion,
        result: 'disagrees',
        detail: `the list counts from zero; ${formatTimecode(original.start, original.rate)} must be added`,
      },
    };
  const detail = original.hasTimecode ? `${label} is outside the clip` : 'the original has no timecode';
  return { start, shift: 0, evidence: { criterion, result: original.hasTimecode ? 'disagrees' : 'unknown', detail } };
}

/**
 * True when, by timecode, the event's source lies at least partly in the original. Costs a hundredth of
 * `examine`, and spares it for the other clips of a reel.
 */
export function touches(event: StandingEvent, original: Original, rules: Rules): boolean {
  if (!original.hasTimecode) return false;
  const start = placeIn(original, carry(event.source.in + event.shift, event, original, rules));
  return overlaps(start, start + lengthOf(event.source), original);
}

/**
 * The frame of an original that bears a timecode: below 0 before it, at or past its length behind it, whichever is
 * nearer. Timecode of day begins anew at midnight: an original from 23:59:57:00 on does hold 00:00:00:10.
 */
function placeIn(original: Original, timecode: Frames): Frames {
  const day = framesPerDay(original.rate);
  const into = (((timecode - original.start) % day) + day) % day;
  return into > day / 2 && into >= original.frames ? into - day : into;
}

const overlaps = (start: Frames, end: Frames, original: Original): boolean => start < original.frames && end > 0;

function carry(frames: Frames, event: StandingEvent, original: Original, rules: Rules): Frames {
  if (rules.rates === 'real-time') return convertByRealTime(frames, event.sourceRate, original.rate);
  if (rules.rates === 'frame-count') return convertByFrameCount(frames, event.sourceRate, original.rate);
  return relabel(frames, event.sourceRate, original.rate);
}

function compareRate(event: StandingEvent, original: Original, rules: Rules, recordRate: Rate): Evidence {
  const criterion = 'rate';
  const runs = original.kind === 'still' ? null : ratesRun(original.rate, recordRate, event.rateMode);
  if (original.kind === 'still' || (sameSpeed(event.sourceRate, original.rate) && runs === null))
    return { criterion, result: 'agrees', detail: formatRate(original.rate) };
  const how = { label: 'timecode taken by its label', 'real-time': 'converted by real time', 'frame-count': 'converted by frame count' }[
    rules.rates
  ];
  return {
    criterion,
    result: 'disagrees',
    detail: `${formatRate(original.rate)} in a ${formatRate(recordRate)} cut, ${how}; pictures run ${runs === 'real-time' ? 'in real time' : 'frame for frame'}`,
  };
}

const holds = (rule: 'exact' | 'loose' | 'off', e: Evidence) =>
  rule !== 'off' && (e.result === 'agrees' || (rule === 'loose' && e.result === 'loosely'));

function meetsRules(rules: Rules, reel: Evidence, name: Evidence, timecode: Evidence, still: boolean): boolean {
  const byReel = holds(rules.reel, reel);
  const byName = holds(rules.name, name);
  if (still) return byName;
  const timed = rules.timecode === 'off' || timecode.result === 'agrees' || timecode.result === 'loosely';
  return timed && (rules.need === 'both' ? byReel && byName : byReel || byName);
}
