import {
  type EditList,
  type ListEvent,
  type Marker,
  NATURAL,
  type Notice,
  PLAIN_EVENT,
  type Placement,
  type Retime,
  type Severity,
  type Track,
  type Transition,
} from '../../edit';
import { canDropFrames, type Frames, parseTimecode, RATES, type Rate, rateOf } from '../../time';
import { fileNameOfUrl } from '../paths';
import { type ListOptions, unreadableList } from '../unreadable';
import { child, children, intAt, type Node, parseXml, textAt } from './tree';

interface Reading {
  readonly rate: Rate;
  /** Record frame of the sequence's first frame. */
  readonly start: Frames;
  /** Files are described once and referred to by id after that. */
  readonly files: Map<string, Node>;
  readonly notices: Notice[];
}

/**
 * Reads interchange XML with the root element `xmeml`, versions 4 and 5. `start` and `end` are
 * frames of the sequence, -1 where a transition stands; `in` and `out` are frames of the file,
 * counted from its first frame, to which the file's own timecode is added. Never throws on content.
 */
export function readXmeml(text: string, options: ListOptions = {}): EditList {
  const root = parseXml(text);
  if (root?.name !== 'xmeml')
    return unreadableList('xmeml', 'The XML is not whole, or its root element is not xmeml. Ask for the file again.');
  const sequences = findSequences(root);
  const sequence = sequences[0];
  if (!sequence) return unreadableList('xmeml', 'The file holds no sequence.');
  const rate = options.rate ?? rateAt(sequence) ?? RATES['24'];
  const timecode = child(sequence, 'timecode');
  const counted = withCounting(rate, textAt(timecode, 'displayformat'));
  const r: Reading = {
    rate: counted,
    start: intAt(timecode, 'frame') ?? parseTimecode(textAt(timecode, 'string'), counted) ?? 0,
    files: collectFiles(root),
    notices: [],
  };
  if (sequences.length > 1) {
    const others = sequences.slice(1).map((s) => `"${textAt(s, 'name')}"`);
    say(
      r,
      'changed',
      'several-sequences',
      `The file holds ${sequences.length} sequences; "${textAt(sequence, 'name')}" was read, and not ${others.join(', ')}.`,
    );
  }
  const media = child(sequence, 'media');
  const tracks = [
    ...children(child(media, 'video'), 'track').map((node, i) => trackOf(r, node, `V${i + 1}`, 'picture')),
    ...children(child(media, 'audio'), 'track').map((node, i) => trackOf(r, node, `A${i + 1}`, 'sound')),
  ].filter((t) => t.events.length > 0);
  const notes = children(sequence, 'marker').map(
    (m) => `Marker at ${textAt(m, 'in')}: ${[textAt(m, 'name'), textAt(m, 'comment')].filter(Boolean).join(' ')}`,
  );
  return { format: 'xmeml', title: textAt(sequence, 'name'), rate: counted, tracks, notes, metadata: null, notices: r.notices };
}

function say(r: Reading, severity: Severity, code: string, message: string, event: string | null = null): void {
  r.notices.push({ severity, code, line: null, event, message });
}

/** Sequences in projects, bins and at the top, outermost first; those inside clips are nested cuts. */
function findSequences(node: Node): Node[] {
  return node.children.flatMap((c) =>
    c.name === 'sequence' ? [c] : ['project', 'bin', 'children'].includes(c.name) ? findSequences(c) : [],
  );
}

function collectFiles(root: Node): Map<string, Node> {
  const files = new Map<string, Node>();
  const pending = [root];
  for (let node = pending.pop(); node; node = pending.pop()) {
    if (node.name === 'file' && node.attributes.id && node.children.length > 0) files.set(node.attributes.id, node);
    pending.push(...node.children);
  }
  return files;
}

/** `timebase` is the whole number of labels a second; `ntsc` TRUE makes it that number times 1000/1001. */
function rateAt(node: Node | null): Rate | null {
  const base = intAt(node, 'rate', 'timebase');
  if (base === null || base <= 0 || base > 1000) return null;
  return /^true$/i.test(textAt(node, 'rate', 'ntsc')) ? rateOf(base * 1000, 1001) : rateOf(base);
}

const withCounting = (rate: Rate, display: string): Rate =>
  /^DF$/i.test(display.trim()) && canDropFrames(rate) ? { ...rate, dropFrame: true } : rate;

/** A transition as it stands on the track: from where to where, in frames of the sequence. */
interface Join {
  readonly start: Frames;
  readonly end: Frames;
  /** The cut point its alignment names. */
  readonly cut: Frames;
  readonly type: 'dissolve' | 'wipe';
  /** True when no clip comes in with it. */
  readonly intoBlack: boolean;
}

const fadesOut = (next: Node | undefined): boolean => !next || next.name === 'transitionitem' || edgesOf(next).start !== -1;

function trackOf(r: Reading, node: Node, name: string, kind: Track['kind']): Track {
  const items = node.children.filter((c) => ['clipitem', 'generatoritem', 'transitionitem'].includes(c.name));
  const joins = items.map((item, index) => {
    const join = item.name === 'transitionitem' ? joinOf(r, item, name) : null;
    // A fade to black begins where its clip's own part ends, as a dissolve does that has something behind it.
    return join && fadesOut(items[index + 1]) ? { ...join, cut: join.start, intoBlack: true } : join;
  });
  const events: ListEvent[] = [];
  items.forEach((item, index) => {
    if (item.name === 'transitionitem') return;
    const before = joins[index - 1] ?? null;
    const after = joins[index + 1] ?? null;
    const event = eventOf(r, item, `${name}/${events.length + 1}`, before, after, kind === 'picture');
    if (!event) return;
    const previous = events.at(-1);
    const from = previous && previous.record.out === event.record.in ? 'previous' : 'black';
    events.push(event.transitionIn ? { ...event, transitionIn: { ...event.transitionIn, from } } : event);
  });
  // A black event carries the fade, as edit lists do.
  for (const join of joins) {
    if (!join?.intoBlack) continue;
    const fade = { type: join.type, duration: join.end - join.start, before: 0, from: 'previous', wipeCode: null } as const;
    const at = events.findIndex((e) => e.record.in >= r.start + join.end);
    const black: ListEvent = {
      ...PLAIN_EVENT,
      id: '',
      kind: 'black',
      reel: 'BL',
      sourceRate: r.rate,
      source: { in: 0, out: fade.duration },
      record: { in: r.start + join.start, out: r.start + join.end },
      transitionIn: fade,
    };
    events.splice(at < 0 ? events.length : at, 0, black);
  }
  return { name, kind, events: events.map((e, i) => ({ ...e, id: `${name}/${i + 1}` })) };
}

function joinOf(r: Reading, item: Node, track: string): Join | null {
  const [start, end] = [intAt(item, 'start'), intAt(item, 'end')];
  if (start === null || end === null || end <= start) {
    say(r, 'lost', 'broken-transition', `A transition on ${track} has no length; a cut stands there.`);
    return null;
  }
  const alignment = textAt(item, 'alignment');
  const cut = alignment.startsWith('start') ? start : alignment.startsWith('end') ? end : Math.floor((start + end) / 2);
  const effect = textAt(item, 'effect', 'name');
  const wipe = /wipe/i.test(`${textAt(item, 'effect', 'effectcategory')} ${effect}`);
  if (!wipe && effect !== '' && !/dissolve|fade/i.test(effect))
    say(r, 'changed', 'transition-kind', `The transition "${effect}" on ${track} was read as a dissolve.`);
  return { start, end, cut, type: wipe ? 'wipe' : 'dissolve', intoBlack: false };
}

const edgesOf = (item: Node) => ({ start: intAt(item, 'start') ?? -1, end: intAt(item, 'end') ?? -1 });

/**
 * One clip on the track. Where `start` or `end` is -1 the transition beside it says where the clip
 * begins or ends to be seen; the cut point is where its alignment puts it.
 */
function eventOf(r: Reading, item: Node, id: string, before: Join | null, after: Join | null, picture: boolean): ListEvent | null {
  const name = textAt(item, 'name');
  const edges = edgesOf(item);
  const seen = { in: edges.start === -1 && before ? before.start : edges.start, out: edges.end === -1 && after ? after.end : edges.end };
  const [first, last] = [intAt(item, 'in'), intAt(item, 'out')];
  if (seen.in < 0 || seen.out <= seen.in || first === null || last === null || last < first) {
    say(
      r,
      'unreadable',
      'broken-item',
      `"${name}" has no place in the sequence that could be read (start ${edges.start}, end ${edges.end}, in ${first}, out ${last}); it was left out.`,
    );
    return null;
  }
  const joined = edges.start === -1 && before ? before : null;
  const leaving = edges.end === -1 && after ? after : null;
  const cutIn = joined ? joined.cut : seen.in;
  const cutOut = leaving ? leaving.cut : seen.out;
  const file = fileOf(r, item);
  const sourceRate = rateAt(item) ?? rateAt(file) ?? r.rate;
  const timecode = child(file, 'timecode');
  const fileRate = withCounting(rateAt(timecode) ?? rateAt(file) ?? sourceRate, textAt(timecode, 'displayformat'));
  const base = intAt(timecode, 'frame') ?? parseTimecode(textAt(timecode, 'string'), fileRate) ?? 0;
  const retime = picture ? retimeOf(r, item, id) : NATURAL;
  const speed = retime.kind === 'constant' ? Math.abs(retime.speed) : retime.kind === 'freeze' ? 0 : 1;
  // `in` and `out` speak of what is seen, transitions included; the event's source begins at the cut.
  const skip = Math.round((cutIn - seen.in) * speed);
  const used = retime.kind === 'freeze' ? last - first : Math.max(1, Math.ceil((cutOut - cutIn) * speed - 1e-6));
  const reverse = retime.kind === 'constant' && retime.speed < 0;
  const start = reverse ? base + last - skip - used : base + first + skip;
  const nested = child(item, 'sequence');
  if (nested)
    say(
      r,
      'changed',
      'nested',
      `The nested cut "${name}" was kept as one event; open it in the editor's system to conform what is inside.`,
      id,
    );
  const generator = item.name === 'generatoritem';
  if (generator) say(r, 'kept', 'generator', `"${name}" is made by the editor's system; it has no camera original and needs none.`, id);
  return {
    ...PLAIN_EVENT,
    id,
    kind: generator ? (/title|text/i.test(`${name} ${textAt(item, 'effect', 'effectcategory')}`) ? 'title' : 'generator') : 'clip',
    reel: textAt(timecode, 'reel', 'name'),
    clipName: name,
    fileName: fileNameOfUrl(textAt(file, 'pathurl')) || textAt(file, 'name'),
    sourceRate: fileRate,
    source: { in: start, out: start + used },
    record: { in: r.start + cutIn, out: r.start + cutOut },
    retime,
    transitionIn: joined && transitionOf(joined),
    placement: picture ? placementOf(item) : null,
    markers: markersOf(item, r, first, seen.in),
    notes: notesOf(item),
    enabled: !/^false$/i.test(textAt(item, 'enabled')),
    number: '',
  };
}

const transitionOf = (join: Join): Transition => ({
  type: join.type,
  before: join.cut - join.start,
  duration: join.end - join.start,
  from: 'previous',
  wipeCode: null,
});

function fileOf(r: Reading, item: Node): Node | null {
  const file = child(item, 'file');
  return file && file.children.length === 0 && file.attributes.id ? (r.files.get(file.attributes.id) ?? file) : file;
}

const effectsOf = (item: Node): Node[] => children(item, 'filter').flatMap((f) => children(f, 'effect'));
const parameter = (effect: Node, id: string): Node | null =>
  children(effect, 'parameter').find((p) => textAt(p, 'parameterid') === id) ?? null;

function retimeOf(r: Reading, item: Node, id: string): Retime {
  for (const effect of effectsOf(item)) {
    const effectId = textAt(effect, 'effectid');
    if (effectId !== 'timeremap') {
      if (!['basic', 'crop', 'opacity'].includes(effectId))
        say(
          r,
          'lost',
          'effect',
          `The effect "${textAt(effect, 'name') || effectId}" on "${textAt(item, 'name')}" has no place in a conform and was left out.`,
          id,
        );
      continue;
    }
    if (
      children(parameter(effect, 'graphdict'), 'keyframe').length > 2 &&
      !/^false$/i.test(textAt(parameter(effect, 'variablespeed'), 'value')) &&
      textAt(parameter(effect, 'variablespeed'), 'value') !== '0'
    )
      say(r, 'changed', 'variable-speed', `"${textAt(item, 'name')}" changes speed on the way; its mean speed was taken.`, id);
    const percent = Number(textAt(parameter(effect, 'speed'), 'value'));
    const reverse = /^true$/i.test(textAt(parameter(effect, 'reverse'), 'value'));
    if (!Number.isFinite(percent) || (percent === 100 && !reverse)) continue;
    if (percent === 0) return { kind: 'freeze' };
    return { kind: 'constant', speed: (reverse ? -Math.abs(percent) : percent) / 100 };
  }
  return NATURAL;
}

/** Scale in percent, rotation in degrees, centre as shares of the frame from its middle. */
function placementOf(item: Node): Placement | null {
  const basic = effectsOf(item).find((e) => textAt(e, 'effectid') === 'basic');
  if (!basic) return null;
  const number = (id: string, otherwise: number) => Number(textAt(parameter(basic, id), 'value') || otherwise);
  const centre = child(parameter(basic, 'center'), 'value');
  const placement = {
    scale: number('scale', 100) / 100,
    rotation: number('rotation', 0),
    x: Number(textAt(centre, 'horiz') || 0),
    y: Number(textAt(centre, 'vert') || 0),
  };
  const plain = placement.scale === 1 && placement.rotation === 0 && placement.x === 0 && placement.y === 0;
  return plain ? null : placement;
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
