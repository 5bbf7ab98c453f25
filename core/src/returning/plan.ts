import type { Conform, Shot } from '../conform';
import { framesUnder, headFrames, neededFrames, shotsByKey } from '../conform';
import { writeCsv } from '../csv';
import type { Cdl, EditList, ListEvent, LutUse, Raster } from '../edit';
import { missingInside, type Original } from '../originals';
import { type FrameRange, type Frames, formatTimecode, formatTimeOfDay, inDay, lengthOf, type Rate, sameSpeed } from '../time';
import { fileUrl } from './addresses';
import { CLIP_CODECS, type ClipCodec, type ReturnAsked } from './asked';
import { type Baking, bakedEvent, bakedFrames, bakingOf, runsAsRecorded } from './bake';
import { clipNames } from './names';
import { RETURN_WORDS } from './wording';

/** One clip to render. Frames of `given` count from 0 in the original; half-open. */
export interface ReturnClip {
  /** The first event that it is for, and all of them, by key. */
  readonly event: string;
  readonly events: readonly string[];
  readonly number: string;
  /** What the clip is called, unique in the return. */
  readonly name: string;
  /** Its file, or the first of its numbered frames, with extension. */
  readonly fileName: string;
  /** The folder of its numbered frames inside the return; empty for a movie. */
  readonly within: string;
  readonly originalPath: string;
  readonly given: FrameRange;
  readonly headHandle: Frames;
  readonly tailHandle: Frames;
  /** Timecode of the clip's first frame: the source's own. */
  readonly start: Frames;
  readonly rate: Rate;
  readonly reel: string;
  readonly raster: Raster;
  readonly cdl: Cdl | null;
  /** The LUT after it; null for none. */
  readonly lut: LutUse | null;
  readonly baking: Baking;
  /** The record frame under its first frame, which may lie before its event; null where the two do not run alike. */
  readonly record: Frames | null;
  /** Whose sound is heard with it; null for nothing. */
  readonly sound: 'original' | 'guide' | 'reference' | null;
  /** The text burnt into its pictures; null for none. */
  readonly burn: Burn | null;
}

/** Text in the pictures of clips to look at: a template (`BURN_FIELDS`), where it stands, and the title of the return. */
export interface Burn extends Pick<ReturnAsked, 'burnIn' | 'burnAt' | 'burnSize'> {
  readonly title: string;
}

/** Frames that a clip has. */
export const framesOfClip = ({ baking, given }: Pick<ReturnClip, 'baking' | 'given'>): Frames => lengthOf(baking.speed?.record ?? given);

/** What of a clip stands in the folder of the return: its file, or the folder of its frames. */
export const entryOf = ({ within, fileName }: Pick<ReturnClip, 'within' | 'fileName'>): string => within || fileName;

/** The name of a numbered frame: by its timecode, counted in frames since midnight, so that a kind of picture that has no place for one still says it. */
export const frameName = (name: string, number: Frames, extension: string): string =>
  `${name}.${String(number).padStart(7, '0')}.${extension}`;

/** About how many bytes a clip takes. */
export const bytesOfClip = (clip: ReturnClip, codec: ClipCodec): number =>
  framesOfClip(clip) * clip.raster.width * clip.raster.height * CLIP_CODECS[codec].bytes;

/** `baked`: its speed is in the pictures, so that only the timecode of its first frame is the source's. */
export type ReturnWarning = {
  readonly event: string;
  readonly code: 'not-paired' | 'short-handles' | 'frames-missing' | 'baked' | 'not-baked' | 'no-sound';
  readonly message: string;
};

export interface ReturnPlan {
  readonly clips: readonly ReturnClip[];
  /** The list that points at the graded clips. */
  readonly list: EditList;
  readonly warnings: readonly ReturnWarning[];
}

/** An event that gets a clip. */
interface Wanted {
  readonly shot: Shot;
  readonly original: Original;
  readonly needed: { readonly wanted: FrameRange; readonly given: FrameRange };
  readonly baking: Baking;
}

/**
 * Plans the return: one clip an event, or one for events that share a stretch of their original and are treated alike, with
 * handles where the original has the frames, and the new list. Clip timecode stays the source's, so that this list and
 * any later one still match. Events that are not paired stay in the list as the editor had them, with a warning.
 */
export function planReturn(list: EditList, conform: Conform, { title, ...asked }: ReturnAsked & { title: string }): ReturnPlan {
  const shots = shotsByKey(conform);
  const warnings: ReturnWarning[] = [];
  const wanted: Wanted[] = [];
  for (const { events } of list.tracks)
    for (const event of events) {
      const shot = shots.get(event.key);
      if (!shot || (shot.exempt && !shot.original)) continue;
      const baking = bakingOf(shot, conform, asked);
      const needed = baking.speed ? bakedFrames(shot, baking.speed) : neededFrames(shot, asked.handles);
      if (!shot.original || !needed || lengthOf(needed.given) === 0) {
        const message = RETURN_WORDS.notPaired({ number: event.number, name: event.clipName || event.reel });
        warnings.push({ event: event.key, code: 'not-paired', message });
      } else wanted.push({ shot, original: shot.original, needed, baking });
    }
  const groups = asked.clips === 'span' ? sharing(wanted, asked) : wanted.map((one) => [one]);
  const names = clipNames(
    groups.map(([first]) => (first as Wanted).shot),
    { template: asked.template, title: list.title },
  );
  const clips = groups.map((group) => clipOf(group, names, { ...asked, title }, conform.rate));
  const clipFor = new Map(clips.flatMap((clip) => clip.events.map((key) => [key, clip] as const)));
  for (const one of wanted) {
    const clip = clipFor.get(one.shot.event.key) as ReturnClip;
    warnings.push(...handleWarnings(one, clip, asked.handles), ...bakeWarnings(one, clip), ...soundWarnings(one, clip, asked));
  }
  const wantedFor = new Map(wanted.map((one) => [one.shot.event.key, one]));
  const tracks = list.tracks.map((track) => ({
    ...track,
    events: track.events.map((event): ListEvent => {
      const [one, clip] = [wantedFor.get(event.key), clipFor.get(event.key)];
      return one && clip ? returnedEvent(event, one, clip, list.rate, asked) : event;
    }),
  }));
  const order = new Map(list.tracks.flatMap((t) => t.events).map((e, i) => [e.key, i]));
  warnings.sort((a, b) => (order.get(a.event) ?? 0) - (order.get(b.event) ?? 0));
  return { clips, list: { ...list, title, tracks, notices: [] }, warnings };
}

/** What must be equal for two events to share a clip. */
const treatment = ({ shot, original }: Wanted, { grade }: ReturnAsked): string =>
  JSON.stringify([original.path, grade === 'baked' ? [shot.cdl, shot.lut] : null]);

/** Events whose frames overlap or touch in one original, and that are treated alike, in the order of the first of each. What is baked is alone. */
function sharing(wanted: readonly Wanted[], asked: ReturnAsked): Wanted[][] {
  const alone = wanted.filter((w) => w.baking.speed || w.baking.placed || w.original.kind === 'still').map((w) => [w]);
  const alike = new Map<string, Wanted[]>();
  for (const one of wanted) {
    if (alone.some(([w]) => w === one)) continue;
    const key = treatment(one, asked);
    alike.set(key, [...(alike.get(key) ?? []), one]);
  }
  const shared = [...alike.values()].flatMap((all) => {
    const runs: Wanted[][] = [];
    let end = Number.NEGATIVE_INFINITY;
    for (const one of [...all].sort((a, b) => a.needed.given.in - b.needed.given.in)) {
      if (one.needed.given.in <= end) runs.at(-1)?.push(one);
      else runs.push([one]);
      end = Math.max(end, one.needed.given.out);
    }
    return runs;
  });
  const order = new Map(wanted.map((w, i) => [w, i]));
  const at = (w: Wanted | undefined) => (w && order.get(w)) ?? 0;
  return [...alone, ...shared].map((run) => run.sort((a, b) => at(a) - at(b))).sort((a, b) => at(a[0]) - at(b[0]));
}

function clipOf(
  group: readonly Wanted[],
  names: ReadonlyMap<string, string>,
  { handles, grade, codec, sound, burnIn, burnAt, burnSize, title }: ReturnAsked & { title: string },
  recordRate: Rate,
): ReturnClip {
  const [{ shot, original, baking }] = group as [Wanted];
  const { event } = shot;
  const given = {
    in: Math.min(...group.map((w) => w.needed.given.in)),
    out: Math.max(...group.map((w) => w.needed.given.out)),
  };
  const wanted = {
    in: Math.min(...group.map((w) => w.needed.wanted.in)),
    out: Math.max(...group.map((w) => w.needed.wanted.out)),
  };
  const still = original.kind === 'still';
  const { speed } = baking;
  const name = names.get(event.key) as string;
  const start = speed?.start ?? (still ? 0 : inDay(original.start + given.in, original.rate));
  const { extension, is } = CLIP_CODECS[codec];
  const record = sameSpeed(speed?.rate ?? original.rate, recordRate) ? firstRecord(shot, baking, given) : null;
  const heard = {
    none: null,
    original: original.sound && !speed && sameSpeed(original.clock, original.rate) ? ('original' as const) : null,
    guide: record === null ? null : ('guide' as const),
    reference: record === null ? null : ('reference' as const),
  };
  return {
    event: event.key,
    events: group.map((w) => w.shot.event.key),
    number: event.number,
    name,
    fileName: is === 'frames' ? frameName(name, start, extension) : `${name}.${extension}`,
    within: is === 'frames' ? name : '',
    originalPath: original.path,
    given,
    headHandle: speed?.headHandle ?? handles - (given.in - wanted.in),
    tailHandle: speed?.tailHandle ?? handles - (wanted.out - given.out),
    start,
    rate: speed?.rate ?? (still ? event.sourceRate : original.rate),
    reel: original.reel,
    raster: baking.raster,
    cdl: grade === 'baked' ? shot.cdl : null,
    lut: grade === 'baked' ? shot.lut : null,
    baking,
    record,
    sound: heard[sound],
    burn: burnIn === '' ? null : { burnIn, burnAt, burnSize, title },
  };
}

/** The record frame under the first frame of a clip, which may lie before its event; null where the two do not run alike. */
function firstRecord(shot: Shot, { speed }: Baking, given: FrameRange): Frames | null {
  const { event, original, sourceStart } = shot;
  if (speed) return event.record.in + speed.record.in;
  return original?.kind !== 'still' && runsAsRecorded(shot) ? event.record.in + given.in - sourceStart : null;
}

function soundWarnings({ shot, original }: Wanted, clip: ReturnClip, { sound }: ReturnAsked): ReturnWarning[] {
  if (sound === 'none' || clip.sound) return [];
  const who = { number: shot.event.number, fileName: clip.fileName };
  const message = sound === 'original' && !original.sound ? RETURN_WORDS.noSound(who) : RETURN_WORDS.soundLeft(who);
  return [{ event: shot.event.key, code: 'no-sound', message }];
}

function handleWarnings({ shot, original, needed, baking }: Wanted, clip: ReturnClip, handles: Frames): ReturnWarning[] {
  const own = {
    head: baking.speed?.headHandle ?? handles - (needed.given.in - needed.wanted.in),
    tail: baking.speed?.tailHandle ?? handles - (needed.wanted.out - needed.given.out),
  };
  const who = { number: shot.event.number, fileName: clip.fileName };
  const missing = Math.max(0, -own.head) + Math.max(0, -own.tail);
  const inside = missing > 0 ? 0 : missingInside(original, needed.given);
  const { key } = shot.event;
  if (missing > 0) return [{ event: key, code: 'frames-missing', message: RETURN_WORDS.framesMissing({ ...who, frames: missing }) }];
  if (inside > 0) return [{ event: key, code: 'frames-missing', message: RETURN_WORDS.framesMissingInside({ ...who, frames: inside }) }];
  if (own.head < handles || own.tail < handles)
    return [{ event: key, code: 'short-handles', message: RETURN_WORDS.shortHandles({ ...who, ...own }) }];
  return [];
}

function bakeWarnings({ shot, baking }: Wanted, clip: ReturnClip): ReturnWarning[] {
  const who = { number: shot.event.number, fileName: clip.fileName };
  const { key } = shot.event;
  return [
    ...(baking.speed ? [{ event: key, code: 'baked' as const, message: RETURN_WORDS.speedBaked(who) }] : []),
    ...(baking.left ? [{ event: key, code: 'not-baked' as const, message: RETURN_WORDS.placementLeft(who) }] : []),
  ];
}

/** A still has no timecode of its own: its clip starts at zero, and the event begins after the handle. */
function returnedEvent(
  event: ListEvent,
  { shot, original, baking }: Wanted,
  clip: ReturnClip,
  rate: Rate,
  { grade }: ReturnAsked,
): ListEvent {
  const named = {
    ...event,
    reel: clip.reel || 'AX',
    clipName: clip.name,
    fileName: clip.fileName,
    sourceRate: clip.rate,
    cdl: grade === 'baked' ? null : shot.cdl,
    placement: baking.placed ? baking.placed.left : event.placement,
  };
  if (baking.speed) return bakedEvent(named, baking.speed);
  const start = original.kind === 'still' ? clip.headHandle + headFrames(event) : original.start + shot.sourceStart;
  const length = sameSpeed(clip.rate, event.sourceRate)
    ? event.source.out - event.source.in
    : framesUnder({ ...event, sourceRate: clip.rate }, rate, event.record.out - event.record.in);
  return { ...named, source: { in: start, out: start + length } };
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
          mediaPath: fileUrl(shot.original.path),
          file: null,
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
  return writeCsv([header, ...rows]);
}
