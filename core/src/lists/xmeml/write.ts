import { asLists, atRecordIn, onWholeFrame, trimmed, withCutsAligned, withSourceAsNeeded } from '../../conform';
import {
  type EditList,
  type Framing,
  type ListEvent,
  type PoseKey,
  type Raster,
  recordSpan,
  speedOf,
  startOf,
  type Track,
} from '../../edit';
import { carriedExactly, ceilOf, decimalOf, type Frames, formatTimecode, fractionOf, lengthOf, nominal, type Rate } from '../../time';
import { escaped } from '../../xml';
import { pathOf } from '../paths';
import { TITLE_TEXT } from './effects';

/** An element with text or with elements inside; null is left out. */
type Part = string | null;
const element = (name: string, inside: string | number | readonly Part[], attributes = ''): string =>
  `<${name}${attributes}>${typeof inside === 'object' ? `\n${inside.filter((p) => p !== null).join('\n')}\n` : escaped(String(inside))}</${name}>`;

const rateElement = (rate: Rate) =>
  element('rate', [element('timebase', nominal(rate)), element('ntsc', rate.den === 1001 ? 'TRUE' : 'FALSE')]);

const timecodeElement = (frame: Frames, rate: Rate, reel: string | null) =>
  element('timecode', [
    rateElement(rate),
    element('string', formatTimecode(frame, rate)),
    element('frame', frame),
    element('displayformat', rate.dropFrame ? 'DF' : 'NDF'),
    reel ? element('reel', [element('name', reel)]) : null,
  ]);

const PIXEL_ASPECTS = [
  [1, 'square'],
  [10 / 11, 'NTSC-601'],
  [59 / 54, 'PAL-601'],
] as const;

function formatElement(framing: Framing | null): Part {
  if (!framing) return null;
  const { raster, pixelAspect, fields } = framing;
  const aspect = PIXEL_ASPECTS.find(([ratio]) => pixelAspect !== null && Math.abs(ratio - pixelAspect) < 0.001)?.[1];
  return element('format', [
    element('samplecharacteristics', [
      raster ? element('width', raster.width) : null,
      raster ? element('height', raster.height) : null,
      aspect ? element('pixelaspectratio', aspect) : null,
      fields ? element('fielddominance', { progressive: 'none', 'upper-first': 'upper', 'lower-first': 'lower' }[fields]) : null,
    ]),
  ]);
}

/**
 * Writes interchange XML (`xmeml` version 5). An event whose list says where its file begins names that file, once for all events of it; another
 * names a file of its own whose timecode begins at the first frame used. `in` counts from there. Effects that a file of this
 * format came with go out as they came. Transitions stand with the
 * alignment their cut point needs. Each item counts at the rate of its source. Speeds go out as time remaps, keyed ones as
 * a graph; under a speed `in` and `out` count frames of the item after retiming. A transition that nothing stands before
 * comes from black.
 */
export function writeXmeml(given: EditList): string {
  const list = withSourceAsNeeded(asLists(withCutsAligned(given)));
  const start = startOf(list);
  const w: Writing = { start, rate: list.rate, raster: list.framing?.raster ?? null, came: list.format === 'xmeml', files: new Map() };
  const tracks = (kind: Track['kind']) => list.tracks.filter((t) => t.kind === kind).map((t) => element('track', itemsOf(w, t)));
  const body = element(
    'xmeml',
    [
      element('sequence', [
        element('name', list.title),
        element('duration', Math.max(0, recordSpan(list).out - start)),
        rateElement(list.rate),
        timecodeElement(start, list.rate, null),
        element('media', [element('video', [formatElement(list.framing), ...tracks('picture')]), element('audio', tracks('sound'))]),
      ]),
    ],
    ' version="5"',
  );
  return `<?xml version="1.0" encoding="UTF-8"?>\n<!DOCTYPE xmeml>\n${body}\n`;
}

/** What is needed to write the items of a list. */
interface Writing {
  readonly start: Frames;
  readonly rate: Rate;
  readonly raster: Raster | null;
  /** True where the list came in this format: what it came with that has no place in the model goes out again. */
  readonly came: boolean;
  /** Files that were described, by what they are, with their ids. */
  readonly files: Map<string, string>;
}

function itemsOf(w: Writing, track: Track): string[] {
  const { start } = w;
  return track.events.flatMap((event, index) => {
    const next = track.events[index + 1];
    const joins = next?.transitionIn?.from === 'previous' && next.record.in === event.record.out && next.transitionIn.duration > 0;
    const leaving = joins ? next.transitionIn : null;
    const join = event.transitionIn && event.transitionIn.duration > 0 ? event.transitionIn : null;
    const items: string[] = [];
    if (join) {
      const from = event.record.in - start - join.before;
      const alignment = join.before === 0 ? 'start' : join.before === join.duration ? 'end' : 'center';
      items.push(
        element('transitionitem', [
          element('start', from),
          element('end', from + join.duration),
          element('alignment', fadesOut(event) ? 'end-black' : join.from === 'black' && join.before === 0 ? 'start-black' : alignment),
          element('effect', [
            element('name', join.type === 'dissolve' ? 'Cross Dissolve' : join.type),
            element('effectid', join.type),
            element('effectcategory', join.type === 'wipe' ? 'Wipe' : 'Dissolve'),
            join.wipeCode === null ? null : element('wipecode', Number(join.wipeCode)),
            element('effecttype', 'transition'),
          ]),
        ]),
      );
    }
    // A fade to black is the transition alone.
    if (!fadesOut(event)) items.push(itemOf(w, event, leaving ? leaving.duration - leaving.before : 0, leaving !== null));
    return items;
  });
}

/** True for black that lasts no longer than the transition into it. */
const fadesOut = ({ kind, record, transitionIn: join }: ListEvent): boolean =>
  kind === 'black' && join !== null && join.before === 0 && join.duration === lengthOf(record);

/** The frames of an item in its own count, from its file's first frame on, and what that first frame is. */
function usedFrames(event: ListEvent, head: Frames, tail: Frames, rate: Rate): { file: Frames; in: Frames; out: Frames } {
  const { retime, source } = event;
  const seen = onWholeFrame(atRecordIn(trimmed(event, { in: event.record.in - head, out: event.record.out + tail }), rate));
  const total = inItem(lengthOf(seen.record), event, rate);
  if (retime.kind === 'freeze') {
    const file = beginsAt(event, source.in) ?? source.in;
    return { file, in: source.in - file, out: source.in - file + Math.max(1, lengthOf(source)) };
  }
  if (retime.kind === 'keyed') return { file: source.in, in: 0, out: total };
  // The file begins where the list says, else at the first frame needed, so that no count goes below zero.
  const file = beginsAt(event, seen.source.in) ?? Math.max(0, seen.source.in);
  if (retime.kind !== 'natural') {
    // What a transition would show from before frame 0 stands at a count below zero, so that nothing else moves.
    const first = seen.source.in < 0 ? Number((seen.source.in / Math.abs(speedOf(retime))).toFixed(9)) : 0;
    return { file, in: first, out: first + total };
  }
  return { file, in: seen.source.in - file, out: seen.source.in - file + lengthOf(seen.source) };
}

/** Where the file of an event begins, as its list says; null where it does not, or the event uses frames ahead of that. */
const beginsAt = ({ file }: ListEvent, first: Frames): Frames | null => (file && file.first <= first ? file.first : null);

/** A stretch of record in frames of an item, which counts at the rate of its source. */
const inItem = (frames: number, { sourceRate }: ListEvent, rate: Rate): Frames =>
  ceilOf(carriedExactly(fractionOf(frames), rate, sourceRate));
/** The same where a part of a frame may be said. */
const exactlyInItem = (frames: number, { sourceRate }: ListEvent, rate: Rate): number =>
  Number(decimalOf(carriedExactly(fractionOf(frames), rate, sourceRate)).toFixed(9));

function itemOf(w: Writing, event: ListEvent, tail: Frames, leaves: boolean): string {
  const { start, rate } = w;
  const join = event.transitionIn && event.transitionIn.duration > 0 ? event.transitionIn : null;
  const head = join?.before ?? 0;
  const used = usedFrames(event, head, tail, rate);
  const generator = event.kind !== 'clip';
  const labelled = event.notes.findIndex((n) => n.startsWith(LABEL));
  const label = event.notes[labelled];
  const comments = event.notes.filter((n, i) => i !== labelled && !(generator && n.startsWith(TITLE_TEXT))).slice(0, COMMENTS.length);
  return element(
    generator ? 'generatoritem' : 'clipitem',
    [
      element('name', event.clipName),
      element('enabled', event.enabled ? 'TRUE' : 'FALSE'),
      element('duration', used.out - used.in),
      rateElement(event.sourceRate),
      element('start', join ? -1 : event.record.in - start),
      element('end', leaves ? -1 : event.record.out - start),
      element('in', used.in),
      element('out', used.out),
      generator ? generatedBy(w, event) : fileElement(w, event, used.file),
      ...filters(w, event, used.in, head),
      ...(w.came ? textsOf(event.metadata?.filters) : []),
      ...event.linked.map((id) => element('link', [element('linkclipref', id)])),
      ...event.markers.map((m) =>
        element('marker', [
          element('name', m.text),
          element('in', exactlyInItem(m.record - event.record.in + head, event, rate) + used.in),
          element('out', -1),
        ]),
      ),
      label ? element('labels', [element('label2', label.slice(LABEL.length))]) : null,
      comments.length > 0
        ? element(
            'comments',
            comments.map((n, i) => element(COMMENTS[i] as string, n)),
          )
        : null,
    ],
    ` id="${escaped(event.key)}"`,
  );
}

/** How a generated item is made: as it came, else by what kind of picture it is, with the words of a title. */
function generatedBy(w: Writing, event: ListEvent): string {
  const came = event.metadata?.generated;
  if (w.came && typeof came === 'string') return came;
  const words = event.notes.filter((n) => n.startsWith(TITLE_TEXT)).map((n) => n.slice(TITLE_TEXT.length));
  return element('effect', [
    element('name', event.clipName),
    element('effectid', event.kind),
    element('effectcategory', event.kind === 'title' ? 'Text' : 'Matte'),
    element('effecttype', 'generator'),
    ...words.map((text, i) =>
      element('parameter', [element('parameterid', i === 0 ? 'str' : `str${i + 1}`), element('name', 'Text'), element('value', text)]),
    ),
  ]);
}

/** The file of an event; one that was described already is named by its id alone. */
function fileElement(w: Writing, event: ListEvent, first: Frames): string {
  const { file, fileName, sourceRate, reel } = event;
  const stated = file !== null && file.first === first ? file : null;
  const what = stated && JSON.stringify([fileName, event.mediaPath, reel, sourceRate, stated]);
  const known = what === null ? undefined : w.files.get(what);
  if (known) return `<file id="${known}"/>`;
  const id = `file-${escaped(event.key)}`;
  if (what !== null) w.files.set(what, id);
  const { raster, frames } = stated ?? {};
  return element(
    'file',
    [
      fileName ? element('name', fileName) : null,
      fileName ? element('pathurl', pathOf(event) === event.mediaPath ? event.mediaPath : encodeURI(fileName)) : null,
      rateElement(sourceRate),
      frames ? element('duration', frames) : null,
      timecodeElement(first, sourceRate, reel),
      raster
        ? element('media', [
            element('video', [element('samplecharacteristics', [element('width', raster.width), element('height', raster.height)])]),
          ])
        : null,
    ],
    ` id="${id}"`,
  );
}

const textsOf = (value: unknown): string[] => (Array.isArray(value) ? value.filter((v) => typeof v === 'string') : []);

const LABEL = 'Label: ';

/** The places for comments that an item has. */
const COMMENTS = ['mastercomment1', 'mastercomment2', 'mastercomment3', 'mastercomment4', 'clipcommenta', 'clipcommentb'];

function filters({ rate, raster }: Writing, event: ListEvent, first: Frames, head: Frames): string[] {
  const { retime, placement, file } = event;
  // Where both rasters are stated, 100 is the picture at its own number of pixels.
  const fit = file?.raster && raster && beginsAt(event, event.source.in) !== null ? file.raster.width / raster.width : 1;
  const parameter = (id: string, ...inside: string[]) => element('parameter', [element('parameterid', id), element('name', id), ...inside]);
  const value = (id: string, inside: string | number | readonly Part[]) => parameter(id, element('value', inside));
  const filter = (id: string, parameters: string[]) =>
    element('filter', [element('effect', [element('name', id), element('effectid', id), element('effecttype', 'motion'), ...parameters])]);
  const made: string[] = [];
  if (retime.kind === 'keyed') {
    const keys = retime.keys.map((k) =>
      element('keyframe', [element('when', exactlyInItem(k.record + head, event, rate)), element('value', k.source)]),
    );
    made.push(filter('timeremap', [value('speed', speedOf(retime) * 100), value('variablespeed', 1), parameter('graphdict', ...keys)]));
  } else if (retime.kind !== 'natural') {
    const speed = speedOf(retime);
    made.push(
      filter('timeremap', [
        value('speed', Math.abs(speed) * 100),
        value('reverse', speed < 0 ? 'TRUE' : 'FALSE'),
        value('variablespeed', 0),
      ]),
    );
  }
  if (!placement) return made;
  const { keys } = placement;
  /** A parameter of one value, or of one for each key where it moves. */
  const posed = (id: string, of: (pose: Omit<PoseKey, 'record'>) => number | readonly Part[]) => {
    if (new Set(keys.map((k) => JSON.stringify(of(k)))).size < 2) return value(id, of(placement));
    const when = (k: PoseKey) => Number((first + exactlyInItem(k.record + head, event, rate)).toFixed(9));
    return parameter(id, ...keys.map((k) => element('keyframe', [element('when', when(k)), element('value', of(k))])));
  };
  const any = (says: (pose: Omit<PoseKey, 'record'>) => boolean) => says(placement) || keys.some(says);
  if (any((p) => p.scaleX !== 1 || p.scaleY !== 1 || p.rotation !== 0 || p.x !== 0 || p.y !== 0))
    made.push(
      filter('basic', [
        posed('scale', (p) => (p.scaleX * 100) / fit),
        posed('rotation', (p) => p.rotation),
        posed('center', (p) => [element('horiz', p.x), element('vert', p.y)]),
      ]),
    );
  if (any((p) => Object.values(p.crop).some((share) => share !== 0)))
    made.push(
      filter(
        'crop',
        (['left', 'right', 'top', 'bottom'] as const).map((edge) => posed(edge, (p) => p.crop[edge] * 100)),
      ),
    );
  if (any((p) => p.opacity !== 1)) made.push(filter('opacity', [posed('opacity', (p) => p.opacity * 100)]));
  return made;
}
