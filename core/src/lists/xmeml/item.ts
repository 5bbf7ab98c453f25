import { atRecordIn, runOf, spanOf, trimmed } from '../../conform';
import {
  atLine,
  type Framing,
  type ListEvent,
  type Marker,
  type Notice,
  newEvent,
  type Raster,
  type Retime,
  type Severity,
} from '../../edit';
import {
  canDropFrames,
  ceilOf,
  decimalOf,
  type FrameRange,
  type Frames,
  fraction,
  lengthOf,
  magnitude,
  parseTimecode,
  RATES,
  type Rate,
  range,
  rateOf,
  times,
} from '../../time';
import { child, children, intAt, type Node, textAt } from '../../xml';
import { beyondName, fileNameOfUrl } from '../paths';
import { foreignEffects, isAnimated, placementOf, speedAt } from './effects';

/** What the reading of one sequence carries along. */
export interface Reading {
  readonly rate: Rate;
  /** Record frame of the sequence's first frame. */
  readonly start: Frames;
  readonly frame: Raster | null;
  /** Files and master clips are described once and referred to by id after that. */
  readonly files: ReadonlyMap<string, Node>;
  readonly masters: ReadonlyMap<string, Node>;
  readonly notices: Notice[];
  /** The sequences that events stand for, by event id, until they are opened. */
  readonly nests: Map<string, Node>;
}

export function say(r: Reading, severity: Severity, code: string, at: Node, message: string, event: string | null = null): void {
  r.notices.push({ severity, code, place: atLine(at.line), event, message });
}

/** `timebase` is the whole number of labels a second; `ntsc` TRUE makes it that number times 1000/1001. */
export function rateAt(node: Node | null): Rate | null {
  const base = intAt(node, 'rate', 'timebase');
  if (base === null || base <= 0 || base > 1000) return null;
  return /^true$/i.test(textAt(node, 'rate', 'ntsc')) ? rateOf(base * 1000, 1001) : rateOf(base);
}

export const withCounting = (rate: Rate, display: string): Rate =>
  /^DF$/i.test(display.trim()) && canDropFrames(rate) ? { ...rate, dropFrame: true } : rate;

/** Pixel aspects by the names that stand in the format (ITU-R BT.601 rasters; from memory). */
const PIXEL_ASPECTS: Record<string, number> = { square: 1, 'ntsc-601': 10 / 11, 'pal-601': 59 / 54 };
const FIELDS: Record<string, Framing['fields']> = { none: 'progressive', upper: 'upper-first', lower: 'lower-first' };

/** Raster, pixel aspect and field order as sample characteristics state them. */
export function framingAt(characteristics: Node | null): Framing | null {
  const [width, height] = [intAt(characteristics, 'width'), intAt(characteristics, 'height')];
  const raster = width && height && width > 0 && height > 0 ? { width, height } : null;
  const pixelAspect = PIXEL_ASPECTS[textAt(characteristics, 'pixelaspectratio').toLowerCase()] ?? null;
  const fields = FIELDS[textAt(characteristics, 'fielddominance').toLowerCase()] ?? null;
  return raster || pixelAspect || fields ? { raster, pixelAspect, fields } : null;
}

/** A transition as it stands on the track: from where to where, in frames of the sequence. */
export interface Join {
  readonly start: Frames;
  readonly end: Frames;
  /** The cut point its alignment names. */
  readonly cut: Frames;
  readonly type: 'dissolve' | 'wipe';
  readonly wipeCode: string | null;
  /** True when no clip comes in with it. */
  readonly intoBlack: boolean;
}

export const edgesOf = (item: Node) => ({ start: intAt(item, 'start') ?? -1, end: intAt(item, 'end') ?? -1 });

/**
 * One clip on the track. Where `start` or `end` is -1 the transition beside it says where the clip
 * begins or ends to be seen; the cut point is where its alignment puts it.
 */
export function eventOf(r: Reading, item: Node, key: string, before: Join | null, after: Join | null, picture: boolean): ListEvent | null {
  const name = textAt(item, 'name');
  const edges = edgesOf(item);
  const seen = { in: edges.start === -1 && before ? before.start : edges.start, out: edges.end === -1 && after ? after.end : edges.end };
  const record = {
    in: edges.start === -1 && before ? before.cut : edges.start,
    out: edges.end === -1 && after ? after.cut : edges.end,
  };
  const [first, last] = [intAt(item, 'in'), intAt(item, 'out')];
  if (record.in < 0 || record.out <= record.in || first === null || last === null || last <= first) {
    say(
      r,
      'unreadable',
      'broken-item',
      item,
      `"${name}" (${item.attributes.id ?? 'no id'}) has no place on the record or no source in and out; it was left out.`,
    );
    return null;
  }
  const nested = picture ? child(item, 'sequence') : null;
  const file = fileOf(r, item);
  const timecode = child(file, 'timecode');
  const rate = withCounting(rateAt(timecode) ?? rateAt(file) ?? rateAt(item) ?? r.rate, textAt(timecode, 'displayformat'));
  const base = nested ? 0 : (intAt(timecode, 'frame') ?? parseTimecode(textAt(timecode, 'string'), rate) ?? 0);
  const run = sourceRun(picture ? speedAt(item) : { kind: 'natural' }, { in: first, out: last }, seen, record);
  if (nested) r.nests.set(key, nested);
  const generator = item.name === 'generatoritem';
  if (generator)
    say(r, 'kept', 'generator', item, `"${name}" is made by the editor's system; it has no camera original and needs none.`, key);
  if (picture) sayEffects(r, item, name, key);
  const fileName = fileNameOfUrl(textAt(file, 'pathurl')) || textAt(file, 'name');
  const whole = newEvent({
    key,
    kind: generator ? (/title|text/i.test(`${name} ${textAt(item, 'effect', 'effectcategory')}`) ? 'title' : 'generator') : 'clip',
    reel: textAt(timecode, 'reel', 'name'),
    clipName: name,
    fileName,
    sourceRate: rate,
    mediaPath: beyondName(textAt(file, 'pathurl'), fileName),
    source: { in: base + run.source.in, out: base + run.source.out },
    sourceLabels: `${base} ${first} ${last}`,
    record: { in: r.start + seen.in, out: r.start + seen.out },
    retime: run.retime,
    transitionIn: before && {
      type: before.type,
      before: before.cut - before.start,
      duration: before.end - before.start,
      from: 'previous',
      wipeCode: before.wipeCode,
    },
    placement: picture ? placementOf(item, rasterOf(nested ?? file), r.frame) : null,
    markers: markersOf(item, r, first, seen.in),
    notes: notesOf(item),
    line: item.line,
    enabled: !/^false$/i.test(textAt(item, 'enabled')),
    linked: children(item, 'link')
      .map((l) => textAt(l, 'linkclipref'))
      .filter((ref) => ref !== '' && ref !== item.attributes.id),
  });
  // What is seen under transitions is the event's too; its own part begins and ends at the cuts.
  return atRecordIn(trimmed(whole, { in: r.start + record.in, out: r.start + record.out }), r.rate);
}

/**
 * The source an item uses, from the file's first frame, over all the record it is seen on, transitions included. `in`
 * and `out` count frames of the file, or, when they are as far apart as `start` and `end` under a speed, frames of the
 * item after retiming: both are in use (from memory). A keyed speed begins at the lowest frame that the event's `own`
 * part and its keys name.
 */
function sourceRun(
  speed: ReturnType<typeof speedAt>,
  used: FrameRange,
  seen: FrameRange,
  own: FrameRange,
): { source: FrameRange; retime: Retime } {
  const length = lengthOf(seen);
  if (speed.kind === 'freeze') return { source: used, retime: speed };
  if (speed.kind === 'natural') return { source: range(used.in, used.in + length), retime: speed };
  if (speed.kind === 'graph') {
    const keys = speed.keys.map((k) => ({ record: k.record - used.in, source: k.source }));
    const retime: Retime = { kind: 'keyed', keys };
    const run = runOf(newEvent({ ...UNPLACED, retime }), UNPLACED.sourceRate);
    const span = spanOf(run, own.in - seen.in, own.out - seen.in + 1);
    const first = Math.min(span.in, ...keys.map((k) => Math.floor(k.source)));
    return {
      source: range(first, Math.max(first + 1, span.out - 1, ...keys.map((k) => Math.ceil(k.source)))),
      retime: { kind: 'keyed', keys: keys.map((k) => ({ record: k.record, source: k.source - first })) },
    };
  }
  const pace = magnitude(speed.speed);
  const passed = (frames: Frames) => times(pace, fraction(frames));
  if (Math.abs(lengthOf(used) - length) > 1) return { source: used, retime: speed };
  const from = Math.round(decimalOf(passed(used.in)));
  return { source: range(from, from + Math.max(1, ceilOf(passed(lengthOf(used))))), retime: speed };
}

/** For asking the time map what a speed does where no more is known. */
const UNPLACED = { key: '', sourceRate: RATES['24'], source: range(0, 1), record: range(0, 1) };

function fileOf(r: Reading, item: Node): Node | null {
  const file = child(item, 'file') ?? child(r.masters.get(textAt(item, 'masterclipid')), 'file');
  return file && file.children.length === 0 && file.attributes.id ? (r.files.get(file.attributes.id) ?? file) : file;
}

/** The raster of a file, or of a nested sequence. */
const rasterOf = (node: Node | null): Raster | null => {
  const video = child(child(node, 'media'), 'video');
  return framingAt(child(video, 'samplecharacteristics') ?? child(child(video, 'format'), 'samplecharacteristics'))?.raster ?? null;
};

function sayEffects(r: Reading, item: Node, name: string, key: string): void {
  for (const effect of foreignEffects(item))
    say(r, 'lost', 'effect', item, `The effect "${effect}" on "${name}" has no place in a conform and was left out.`, key);
  if (isAnimated(item))
    say(
      r,
      'changed',
      'animated',
      item,
      `"${name}" changes size, position, crop or opacity on the way; what it begins with was taken.`,
      key,
    );
}

function markersOf(item: Node, r: Reading, first: Frames, seenIn: Frames): Marker[] {
  return children(item, 'marker').map((m) => ({
    record: r.start + seenIn + (intAt(m, 'in') ?? 0) - first,
    colour: null,
    text: [textAt(m, 'name'), textAt(m, 'comment')].filter(Boolean).join(' '),
  }));
}

function notesOf(item: Node): string[] {
  const label = textAt(item, 'labels', 'label2');
  const comments =
    child(item, 'comments')
      ?.children.map((c) => c.text)
      .filter(Boolean) ?? [];
  return [...(label ? [`Label: ${label}`] : []), ...comments];
}
