import Papa from 'papaparse';
import type { Conform, Shot } from '../conform';
import { framesUnder, headFrames, neededFrames, shotsByKey } from '../conform';
import type { Cdl, EditList, ListEvent } from '../edit';
import { missingInside, type Original, withoutExtension } from '../originals';
import { type FrameRange, type Frames, formatTimecode, formatTimeOfDay, inDay, type Rate, sameSpeed } from '../time';
import { RETURN_WORDS } from './wording';

/** One clip to render. Frames count from 0 in the original; `given` is half-open. */
export interface ReturnClip {
  readonly event: string;
  readonly number: string;
  /** File name with extension, unique in the return. */
  readonly fileName: string;
  readonly originalPath: string;
  readonly given: FrameRange;
  readonly headHandle: Frames;
  readonly tailHandle: Frames;
  /** Timecode of the clip's first frame: the source's own. */
  readonly start: Frames;
  readonly rate: Rate;
  readonly reel: string;
  readonly cdl: Cdl | null;
  /** Path of the LUT after it; null for none. */
  readonly lut: string | null;
}

export interface ReturnPlan {
  readonly clips: readonly ReturnClip[];
  /** The list that points at the graded clips. */
  readonly list: EditList;
  readonly warnings: readonly { event: string; code: 'not-paired' | 'short-handles' | 'frames-missing'; message: string }[];
}

export interface ReturnOptions {
  /** Frames asked for before and after what the cut shows; 0 or more. */
  readonly handles: Frames;
  readonly extension: string;
  readonly title: string;
}

/**
 * Plans the return: one clip an event, from its original, with handles where the original has the
 * frames, and the new list. Clip timecode stays the source's, so that this list and any later one
 * still match. Events that are not paired stay in the list as the editor had them, with a warning.
 */
export function planReturn(list: EditList, conform: Conform, options: ReturnOptions): ReturnPlan {
  const shots = shotsByKey(conform);
  const names = clipNames([...shots.values()], options.extension);
  const clips: ReturnClip[] = [];
  const warnings: { event: string; code: 'not-paired' | 'short-handles' | 'frames-missing'; message: string }[] = [];
  const tracks = list.tracks.map((track) => ({
    ...track,
    events: track.events.map((event): ListEvent => {
      const shot = shots.get(event.key);
      if (!shot || (shot.exempt && !shot.original)) return event;
      const frames = neededFrames(shot, options.handles);
      const fileName = names.get(event.key);
      if (!shot.original || !frames || !fileName || frames.given.out === frames.given.in) {
        warnings.push({
          event: event.key,
          code: 'not-paired',
          message: RETURN_WORDS.notPaired({ number: event.number, name: event.clipName || event.reel }),
        });
        return event;
      }
      const clip = clipOf(shot, frames, fileName, options.handles);
      clips.push(clip);
      warnings.push(...handleWarnings(clip, shot.original, options.handles));
      return returnedEvent(event, shot, clip, list.rate);
    }),
  }));
  return { clips, list: { ...list, title: options.title, tracks, notices: [] }, warnings };
}

type Needed = NonNullable<ReturnType<typeof neededFrames>>;

function clipOf(shot: Shot, frames: Needed, fileName: string, handles: Frames): ReturnClip {
  const original = shot.original as NonNullable<Shot['original']>;
  const still = original.kind === 'still';
  return {
    event: shot.event.key,
    number: shot.event.number,
    fileName,
    originalPath: original.path,
    given: frames.given,
    headHandle: handles - (frames.given.in - frames.wanted.in),
    tailHandle: handles - (frames.wanted.out - frames.given.out),
    start: still ? 0 : inDay(original.start + frames.given.in, original.rate),
    rate: still ? shot.event.sourceRate : original.rate,
    reel: original.reel,
    cdl: shot.cdl,
    lut: shot.lut,
  };
}

function handleWarnings(clip: ReturnClip, original: Original, handles: Frames): ReturnPlan['warnings'] {
  const missing = Math.max(0, -clip.headHandle) + Math.max(0, -clip.tailHandle);
  const who = { number: clip.number, fileName: clip.fileName };
  if (missing > 0)
    return [
      {
        event: clip.event,
        code: 'frames-missing',
        message: RETURN_WORDS.framesMissing({ ...who, frames: missing }),
      },
    ];
  const inside = missingInside(original, clip.given);
  if (inside > 0)
    return [
      {
        event: clip.event,
        code: 'frames-missing',
        message: RETURN_WORDS.framesMissingInside({ ...who, frames: inside }),
      },
    ];
  if (clip.headHandle < handles || clip.tailHandle < handles)
    return [
      {
        event: clip.event,
        code: 'short-handles',
        message: RETURN_WORDS.shortHandles({ ...who, head: clip.headHandle, tail: clip.tailHandle }),
      },
    ];
  return [];
}

/** A still has no timecode of its own: its clip starts at zero, and the event begins after the handle. */
function returnedEvent(event: ListEvent, shot: Shot, clip: ReturnClip, rate: Rate): ListEvent {
  const original = shot.original as NonNullable<Shot['original']>;
  const start = original.kind === 'still' ? clip.headHandle + headFrames(event) : original.start + shot.sourceStart;
  const length = sameSpeed(clip.rate, event.sourceRate)
    ? event.source.out - event.source.in
    : framesUnder({ ...event, sourceRate: clip.rate }, rate, event.record.out - event.record.in);
  return {
    ...event,
    reel: clip.reel || 'AX',
    clipName: withoutExtension(clip.fileName),
    fileName: clip.fileName,
    sourceRate: clip.rate,
    source: { in: start, out: start + length },
    cdl: null,
  };
}

/** Named after the source file; where one source (or two of one name) is used more than once, the event's number tells them apart. */
function clipNames(shots: readonly Shot[], extension: string): Map<string, string> {
  const base = (shot: Shot) => withoutExtension(shot.original?.clipName || shot.original?.fileName || 'clip').replace(/[^\w.-]+/g, '_');
  const uses = new Map<string, number>();
  const rendered = shots.filter((s) => s.original);
  for (const shot of rendered) uses.set(base(shot).toLowerCase(), (uses.get(base(shot).toLowerCase()) ?? 0) + 1);
  const taken = new Set<string>();
  const names = new Map<string, string>();
  for (const shot of rendered) {
    const stem =
      (uses.get(base(shot).toLowerCase()) ?? 0) > 1
        ? `${base(shot)}_${shot.event.number || shot.event.key.replace(/[^\w-]+/g, '-')}`
        : base(shot);
    let name = stem;
    for (let n = 2; taken.has(name.toLowerCase()); n++) name = `${stem}-${n}`;
    taken.add(name.toLowerCase());
    names.set(shot.event.key, `${name}.${extension}`);
  }
  return names;
}

/** The list with the originals' own reels, names and timecodes, nothing rendered. */
export function relinkedList(list: EditList, conform: Conform, title: string): EditList {
  const shots = shotsByKey(conform);
  return {
    ...list,
    title,
    notices: [],
    tracks: list.tracks.map((track) => ({
      ...track,
      events: track.events.map((event): ListEvent => {
        const shot = shots.get(event.key);
        if (!shot?.original) return event;
        const start = shot.original.start + shot.sourceStart;
        return {
          ...event,
          reel: shot.original.reel || 'AX',
          clipName: shot.original.clipName,
          fileName: shot.original.fileName,
          sourceRate: shot.original.rate,
          source: { in: start, out: start + event.source.out - event.source.in },
          cdl: shot.cdl,
        };
      }),
    })),
  };
}

/** The pairs as a table for people and spreadsheets (RFC 4180 quoting). */
export function pairsTable(conform: Conform): string {
  const header = ['event', 'track', 'record in', 'record out', 'reel', 'clip name', 'original', 'source in', 'source out', 'slip', 'state'];
  const rows = conform.layers.flatMap((layer) =>
    layer.shots.map((shot) => {
      const { event, original } = shot;
      const start = original ? original.start + shot.sourceStart : event.source.in;
      const rate = original?.rate ?? event.sourceRate;
      return [
        event.number,
        layer.name,
        formatTimecode(event.record.in, conform.rate),
        formatTimecode(event.record.out, conform.rate),
        original?.reel ?? event.reel,
        original?.clipName ?? event.clipName,
        original?.path ?? '',
        formatTimeOfDay(start, rate),
        formatTimeOfDay(start + event.source.out - event.source.in, rate),
        String(shot.slip),
        original ? 'paired' : shot.exempt ? 'exempt' : 'open',
      ];
    }),
  );
  return `${Papa.unparse([header, ...rows])}\r\n`;
}
