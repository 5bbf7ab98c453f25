import { atRecordIn, trimmed } from '../../conform';
import {
  atLine,
  type EventKind,
  type Framing,
  type ListEvent,
  type Marker,
  type Notice,
  newEvent,
  type Raster,
  type Severity,
} from '../../edit';
import {
  carriedExactly,
  decimalOf,
  type Frames,
  formatRate,
  fraction,
  fractionOf,
  minus,
  plus,
  type Rate,
  range,
  sameSpeed,
  ZERO,
} from '../../time';
import type { Sentence } from '../../words';
import { child, children, intAt, type Node, numberAt, textAt } from '../../xml';
import { type NoticeLog, tell } from '../notices';
import { beyondName, fileNameOfUrl } from '../paths';
import { foreignEffects, keptOf, type Speed, speedAt, titleText } from './effects';
import { brokenKeysOf, curvesOf, placementOf } from './placement';
import { fileClock, type ItemRates, rateAt } from './rates';
import { isAsLong, sourceRun, stillAt, tickedIn, type Used } from './source';
import { XMEML_WORDS } from './wording';

/** What the reading of one sequence carries along. */
export interface Reading {
  readonly rate: Rate;
  /** The rate the sequence itself states; read at another, all that it counts at that rate is read so too. */
  readonly stated: Rate;
  /** Record frame of the sequence's first frame. */
  readonly start: Frames;
  readonly frame: Raster | null;
  /** Files and master clips are described once and referred to by id after that. */
  readonly files: ReadonlyMap<string, Node>;
  readonly masters: ReadonlyMap<string, Node>;
  readonly log: NoticeLog<Notice>;
  /** The sequences that events stand for, by event id, until they are opened. */
  readonly nests: Map<string, Node>;
  /** Rates that were told to be mixed, so that each mixture is told once. */
  readonly mixtures: Set<string>;
}

export function say(r: Reading, severity: Severity, code: string, at: Node, said: Sentence, event: string | null = null): void {
  tell(r.log, { severity, code, place: atLine(at.line), event, ...said });
}

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
  /** True when it is stated to come from black, whatever stands before it. */
  readonly fromBlack: boolean;
}

const NATURAL_SPEED: Speed = { kind: 'natural' };

export const edgesOf = (item: Node) => ({ start: intAt(item, 'start') ?? -1, end: intAt(item, 'end') ?? -1 });

/**
 * One clip on the track. Where `start` or `end` is -1 the transition beside it says where the clip
 * begins or ends to be seen; the cut point is where its alignment puts it. `start` and `end` count at the sequence's rate,
 * `in` and `out` at the item's own, and both are carried to the rate of the file.
 */
export function eventOf(r: Reading, item: Node, key: string, before: Join | null, after: Join | null, picture: boolean): ListEvent | null {
  const name = textAt(item, 'name');
  const edges = edgesOf(item);
  const seen = { in: edges.start === -1 && before ? before.start : edges.start, out: edges.end === -1 && after ? after.end : edges.end };
  const record = {
    in: edges.start === -1 && before ? before.cut : edges.start,
    out: after && endsIn(edges.end, after) ? after.cut : edges.end,
  };
  const generator = item.name === 'generatoritem';
  const nested = picture ? child(item, 'sequence') : null;
  const file = nested ? null : fileOf(r, item, name, key);
  const itemRate = asRead(r, rateAt(item) ?? rateAt(file)) ?? r.rate;
  const clock = fileClock(file, itemRate, (rate) => asRead(r, rate) ?? rate);
  const rates: ItemRates = { sequence: r.rate, item: itemRate, file: nested ? itemRate : clock.rate };
  const used =
    inFile(usedOf(item), subclipStart(r, item)) ?? (generator ? { in: ZERO, out: fraction(Math.max(1, seen.out - seen.in)) } : null);
  if (record.in < 0 || record.out <= record.in || used === null) {
    say(r, 'unreadable', 'broken-item', item, XMEML_WORDS.brokenItem({ name, id: item.attributes.id ?? 'no id' }));
    return null;
  }
  const held = picture && !generator ? stillAt(item, file, used) : null;
  const stated: Speed | null = held ? { kind: 'freeze' } : generator ? NATURAL_SPEED : speedAt(item);
  if (stated === null) say(r, 'lost', 'broken-speed', item, XMEML_WORDS.brokenSpeed({ name }), key);
  const speed = stated ?? NATURAL_SPEED;
  const run = sourceRun(speed, held ? { in: held, out: fractionOf(decimalOf(held) + 1) } : used, seen, record, rates);
  const base = nested ? 0 : clock.start;
  if (nested) r.nests.set(key, nested);
  if (generator) say(r, 'kept', 'generator', item, XMEML_WORDS.generator({ name }), key);
  if (picture) sayEffects(r, item, name, key);
  if (clock.unread) say(r, 'changed', 'no-timecode', item, XMEML_WORDS.noTimecode({ name }), key);
  if (clock.otherwise)
    say(r, 'changed', 'labels-disagree', item, XMEML_WORDS.labelsDisagree({ name: `The file of "${name}"`, ...clock.otherwise }), key);
  if (!nested && !generator) {
    sayRates(r, item, name, rates, key);
    sayPosition(r, item, name, used, rates.item, key);
    if (speed.kind === 'natural') sayLength(r, item, name, used, seen, rates, key);
  }
  const fileName = fileNameOfUrl(textAt(file, 'pathurl')) || textAt(file, 'name');
  const whole = newEvent({
    key,
    kind: generator ? generatorKind(item, name) : 'clip',
    reel: textAt(file, 'timecode', 'reel', 'name'),
    clipName: name,
    fileName,
    sourceRate: rates.file,
    mediaPath: beyondName(textAt(file, 'pathurl'), fileName),
    file: file && !generator ? { first: clock.start, frames: intAt(file, 'duration'), raster: rasterOf(file) } : null,
    metadata: keptOf(item, generator),
    source: range(base + run.source.in, base + run.source.out),
    sourceLabels: `${base} ${numberAt(item, 'in')} ${numberAt(item, 'out')}`,
    phase: run.phase,
    record: { in: r.start + seen.in, out: r.start + seen.out },
    retime: run.retime,
    transitionIn: before && {
      type: before.type,
      before: before.cut - before.start,
      duration: before.end - before.start,
      from: 'previous',
      wipeCode: before.wipeCode,
    },
    placement: picture
      ? placementOf(item, rasterOf(nested ?? file), r.frame, (when) =>
          decimalOf(carriedExactly(minus(fractionOf(when), used.in), rates.item, rates.sequence)),
        )
      : null,
    markers: markersOf(item, r, used, seen.in, rates, key),
    notes: [...titleText(item), ...notesOf(item)],
    line: item.line,
    enabled: !/^false$/i.test(textAt(item, 'enabled')),
    linked: children(item, 'link')
      .map((l) => textAt(l, 'linkclipref'))
      .filter((ref) => ref !== '' && ref !== item.attributes.id),
  });
  // What is seen under transitions is the event's too; its own part begins and ends at the cuts.
  return atRecordIn(trimmed(whole, { in: r.start + record.in, out: r.start + record.out }), r.rate);
}

/** True where an item ends in a transition: at -1, or at a number that lies within it. */
const endsIn = (end: Frames, join: Join): boolean =>
  end === -1 || (!join.intoBlack && !join.fromBlack && end >= join.start && end <= join.end);

/** A rate as it is read: where a person set another for the cut, what counts as the cut does goes with it. */
const asRead = (r: Reading, rate: Rate | null): Rate | null =>
  rate && sameSpeed(rate, r.stated) ? { ...rate, num: r.rate.num, den: r.rate.den } : rate;

/** The effects that stand for what is made without media, by the names our own writer gives them too. */
function generatorKind(item: Node, name: string): EventKind {
  const id = textAt(item, 'effect', 'effectid').toLowerCase();
  if (id === 'bars' || id === 'title' || id === 'black' || id === 'generator') return id;
  return /title|text/i.test(`${name} ${textAt(item, 'effect', 'effectcategory')}`) ? 'title' : 'generator';
}

/** `in` and `out` as numbers, whole or not; null where they are none or hold nothing. */
function usedOf(item: Node): Used | null {
  const [first, last] = [numberAt(item, 'in'), numberAt(item, 'out')];
  return first === null || last === null || last <= first ? null : { in: fractionOf(first), out: fractionOf(last) };
}

/** Where a subclip begins in its clip, in frames of the item, which counts from there (from memory). */
const subclipStart = (r: Reading, item: Node): number =>
  numberAt(child(item, 'subclipinfo') ?? child(r.masters.get(textAt(item, 'masterclipid')), 'subclipinfo'), 'startoffset') ?? 0;

const inFile = (used: Used | null, offset: number): Used | null =>
  used && offset !== 0 ? { in: plus(used.in, fractionOf(offset)), out: plus(used.out, fractionOf(offset)) } : used;

/** The file of an item: its own, its master clip's, or that of the active angle where it has several. */
function fileOf(r: Reading, item: Node, name: string, key: string): Node | null {
  const angles = children(child(item, 'multiclip'), 'angle');
  const active = angles.find((a) => /^true$/i.test(textAt(a, 'activevideoangle'))) ?? angles[0];
  if (active) {
    const shown = child(active, 'clip');
    const whole = shown && shown.children.length === 0 ? (r.masters.get(shown.attributes.id ?? '') ?? shown) : shown;
    say(
      r,
      'changed',
      'several-angles',
      item,
      XMEML_WORDS.severalAngles({ name, angles: angles.length, active: textAt(whole, 'name') }),
      key,
    );
    return described(r, child(whole, 'file'));
  }
  return described(r, child(item, 'file') ?? child(r.masters.get(textAt(item, 'masterclipid')), 'file'));
}

const described = (r: Reading, file: Node | null): Node | null =>
  file && file.children.length === 0 && file.attributes.id ? (r.files.get(file.attributes.id) ?? file) : file;

/** The raster of a file, or of a nested sequence. */
const rasterOf = (node: Node | null): Raster | null => {
  const video = child(child(node, 'media'), 'video');
  return framingAt(child(video, 'samplecharacteristics') ?? child(child(video, 'format'), 'samplecharacteristics'))?.raster ?? null;
};

function sayEffects(r: Reading, item: Node, name: string, key: string): void {
  for (const effect of foreignEffects(item)) say(r, 'lost', 'effect', item, XMEML_WORDS.effect({ effect, name }), key);
  if (brokenKeysOf(item) > 0) say(r, 'lost', 'broken-key', item, XMEML_WORDS.brokenKey({ name, count: brokenKeysOf(item) }), key);
  const curves = curvesOf(item);
  if (curves.length > 0)
    say(r, 'changed', 'curved-motion', item, XMEML_WORDS.curvedMotion({ name, curves: curves.slice(0, 3).join(', ') }), key);
}

function sayRates(r: Reading, at: Node, name: string, { item, file, sequence }: ItemRates, key: string): void {
  if (sameSpeed(item, file) && sameSpeed(item, sequence)) return;
  const mixture = `${formatRate(item)} ${formatRate(file)}`;
  if (r.mixtures.has(mixture)) return;
  r.mixtures.add(mixture);
  say(
    r,
    'kept',
    'rates-carried',
    at,
    XMEML_WORDS.ratesCarried({ name, item: formatRate(item), file: formatRate(file), cut: formatRate(sequence) }),
    key,
  );
}

/** Some systems state the source position a second time, in ticks: where the two disagree one of them is wrong. */
function sayPosition(r: Reading, item: Node, name: string, used: Used, rate: Rate, key: string): void {
  const ticked = tickedIn(item, rate);
  if (ticked === null || Math.abs(ticked - decimalOf(used.in)) < 0.6) return;
  say(
    r,
    'changed',
    'positions-disagree',
    item,
    XMEML_WORDS.positionsDisagree({ name, frame: decimalOf(used.in), tick: ticked.toFixed(2), rate: formatRate(rate) }),
    key,
  );
}

function sayLength(
  r: Reading,
  at: Node,
  name: string,
  used: Used,
  seen: { in: Frames; out: Frames },
  { item, sequence }: ItemRates,
  key: string,
): void {
  const length = minus(used.out, used.in);
  if (isAsLong(length, seen, item, sequence)) return;
  say(
    r,
    'changed',
    'length-differs',
    at,
    XMEML_WORDS.lengthDiffers({ name, length: decimalOf(length), rate: formatRate(item), record: seen.out - seen.in }),
    key,
  );
}

/** Markers count as `in` does. */
function markersOf(item: Node, r: Reading, used: Used, seenIn: Frames, { item: rate, sequence }: ItemRates, key: string): Marker[] {
  return children(item, 'marker').flatMap((m): Marker[] => {
    const at = numberAt(m, 'in');
    if (at === null) {
      say(r, 'lost', 'broken-marker', m, XMEML_WORDS.brokenMarker({ marker: markerText(m) }), key);
      return [];
    }
    const into = carriedExactly(minus(fractionOf(at), used.in), rate, sequence);
    return [{ record: r.start + seenIn + Math.round(decimalOf(into)), colour: null, text: markerText(m) }];
  });
}

export const markerText = (marker: Node): string => [textAt(marker, 'name'), textAt(marker, 'comment')].filter(Boolean).join(' ');

function notesOf(item: Node): string[] {
  const label = textAt(item, 'labels', 'label2');
  const comments =
    child(item, 'comments')
      ?.children.map((c) => c.text)
      .filter(Boolean) ?? [];
  return [...(label ? [`Label: ${label}`] : []), ...comments];
}
