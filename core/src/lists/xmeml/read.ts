import { type EditList, EMPTY_LIST, type Framing, type ListEvent, newEvent, type Track } from '../../edit';
import { type Frames, formatRate, formatTimecode, nominal, RATES, type Rate, relabel, sameSpeed } from '../../time';
import type { Sentence } from '../../words';
import { child, children, intAt, type Node, parseXml, textAt } from '../../xml';
import { MOST_OPENED, nestedNotice, type Opened, openNested, withOpened } from '../nested';
import { allTold, noticeLog, tell } from '../notices';
import { type ListOptions, unreadableList } from '../options';
import { edgesOf, eventOf, framingAt, type Join, markerText, type Reading, say } from './item';
import { begunAt, rateAt, withCounting } from './rates';
import { XMEML_WORDS } from './wording';

/** Nested sequences below this depth are not opened. */
const DEEPEST = 16;

/**
 * Reads interchange XML with the root element `xmeml`, versions 4 and 5. `start` and `end` are
 * frames of the sequence, -1 where a transition stands; `in` and `out` are frames at the item's own rate, counted from the
 * file's first frame; they are carried to the file's rate, and its timecode is added. Nested sequences are
 * opened where that shows the same picture. Never throws on content.
 */
export function readXmeml(text: string, options: ListOptions = {}): EditList {
  const root = parseXml(text);
  if ('fault' in root) return unreadableList('xmeml', XMEML_WORDS.brokenXml({ fault: root.fault }), root.line);
  if (root.name !== 'xmeml') return unreadableList('xmeml', XMEML_WORDS.otherRoot({ name: root.name }));
  const sequences = findSequences(root);
  const sequence = sequences[options.sequence ?? 0] ?? sequences[0];
  if (!sequence) return unreadableList('xmeml', XMEML_WORDS.noSequence());
  const described = descriptions(root);
  const list = sequenceList(sequence, options, described, [sequence]);
  if (sequences.length < 2) return list;
  const others = sequences.filter((s) => s !== sequence).map((s) => `"${textAt(s, 'name')}"`);
  const said = XMEML_WORDS.severalSequences({ sequences: sequences.length, title: list.title, others: others.join(', ') });
  return {
    ...list,
    sequences: sequences.map((s) => ({ name: textAt(s, 'name'), durationFrames: intAt(s, 'duration') ?? 0, events: itemsOf(s) })),
    notices: [{ severity: 'changed', code: 'several-sequences', place: null, event: null, ...said }, ...list.notices],
  };
}

/** How many clips and generators stand on the picture tracks of a sequence. */
const itemsOf = (sequence: Node): number =>
  children(child(child(sequence, 'media'), 'video'), 'track').reduce(
    (sum, t) => sum + children(t, 'clipitem').length + children(t, 'generatoritem').length,
    0,
  );

/** Sequences in projects, bins and at the top, outermost first; those inside clips are nested cuts. */
function findSequences(node: Node): Node[] {
  return node.children.flatMap((c) =>
    c.name === 'sequence' ? [c] : ['project', 'bin', 'children'].includes(c.name) ? findSequences(c) : [],
  );
}

interface Descriptions {
  readonly files: Map<string, Node>;
  readonly masters: Map<string, Node>;
  readonly sequences: Map<string, Node>;
  /** How many events nested sequences may still be opened into. */
  readonly left: { events: number };
}

/** Everything that is described once, by id. */
function descriptions(root: Node): Descriptions {
  const found: Descriptions = { files: new Map(), masters: new Map(), sequences: new Map(), left: { events: MOST_OPENED } };
  const by: Record<string, Map<string, Node>> = { file: found.files, clip: found.masters, sequence: found.sequences };
  const pending = [root];
  for (let node = pending.pop(); node; node = pending.pop()) {
    if (node.attributes.id && node.children.length > 0) by[node.name]?.set(node.attributes.id, node);
    if (node.children.length > 0) for (const c of node.children) pending.push(c);
  }
  return found;
}

/** `path` holds the sequences that are open around this one, itself the last. */
function sequenceList(sequence: Node, options: ListOptions, described: Descriptions, path: readonly Node[]): EditList {
  const log = noticeLog();
  const stated = rateAt(sequence);
  const { rate, assumed } = stated ? { rate: stated, assumed: null } : rateOfItems(sequence, described);
  const timecode = child(sequence, 'timecode');
  const counted = withCounting(options.rate ?? rate, timecode);
  const begun = begunAt(timecode, withCounting(rate, timecode));
  const media = child(sequence, 'media');
  const framing = framingAt(child(child(child(media, 'video'), 'format'), 'samplecharacteristics'));
  const outermost = path.length === 1;
  const r: Reading = {
    rate: counted,
    stated: rate,
    start: outermost ? relabelled(begun.start ?? 0, withCounting(rate, timecode), counted) : 0,
    frame: framing?.raster ?? null,
    files: described.files,
    masters: described.masters,
    log,
    nests: new Map(),
    mixtures: new Set(),
  };
  if (!options.rate && assumed) say(r, 'changed', 'rate-assumed', sequence, assumed);
  if (outermost && begun.otherwise)
    say(r, 'changed', 'labels-disagree', timecode ?? sequence, XMEML_WORDS.labelsDisagree({ name: 'The cut', ...begun.otherwise }));
  const read = [
    ...children(child(media, 'video'), 'track').map((node, i) => trackOf(r, node, `V${i + 1}`, 'picture')),
    ...children(child(media, 'audio'), 'track').map((node, i) => trackOf(r, node, `A${i + 1}`, 'sound')),
  ];
  const { tracks, keys } = withOpened(read, openedIn(r, read, options, described, path));
  const markers = children(sequence, 'marker');
  const notes = markers.map((m) => `Marker at ${formatTimecode(r.start + (intAt(m, 'in') ?? 0), counted)}: ${markerText(m)}`);
  if (notes.length > 0 && outermost) say(r, 'kept', 'sequence-markers', sequence, XMEML_WORDS.sequenceMarkers({ count: notes.length }));
  return {
    ...EMPTY_LIST,
    format: 'xmeml',
    title: textAt(sequence, 'name'),
    rate: counted,
    start: outermost ? r.start : null,
    framing: framingWith(framing, options),
    tracks: withLinks(tracks, read, keys),
    notes,
    notices: allTold(log).map((n) => ({ ...n, event: (n.event && keys.get(n.event)) ?? n.event })),
  };
}

/** The rate of a sequence that states none: that of its first item that does. */
function rateOfItems(sequence: Node, { files }: Descriptions): { rate: Rate; assumed: Sentence } {
  const name = textAt(sequence, 'name');
  for (const track of children(child(child(sequence, 'media'), 'video'), 'track'))
    for (const item of children(track, 'clipitem')) {
      const file = child(item, 'file');
      const rate = rateAt(item) ?? rateAt(file) ?? rateAt(files.get(file?.attributes.id ?? '') ?? null);
      if (rate)
        return {
          rate,
          assumed: XMEML_WORDS.rateOfFirstClip({ name, rate: formatRate(rate) }),
        };
    }
  return {
    rate: RATES['24'],
    assumed: XMEML_WORDS.rateAssumed({ name }),
  };
}

/** A first frame read at another rate: its label stays and the count follows it. */
const relabelled = (start: Frames, stated: Rate, read: Rate): Frames =>
  nominal(stated) === nominal(read) ? start : relabel(start, stated, read);

const framingWith = (stated: Framing | null, { raster }: ListOptions): Framing | null =>
  raster ? { pixelAspect: null, fields: null, ...stated, raster } : stated;

/** Links name items by the ids they have in the file; ours name events. The id stays nowhere else. */
function withLinks(tracks: readonly Track[], read: readonly Track[], keys: ReadonlyMap<string, string>): Track[] {
  const linked = tracks.some((t) => t.events.some((e) => e.linked.length > 0));
  const byItem = new Map(
    linked ? read.flatMap((t) => t.events.map((e) => [String(e.metadata?.id ?? ''), keys.get(e.key) ?? e.key] as const)) : [],
  );
  // The events were made just now: they are changed where they are.
  for (const { events } of tracks)
    for (const event of events as readonly Linked[]) {
      event.metadata = withoutId(event.metadata);
      if (event.linked.length > 0) event.linked = event.linked.flatMap((ref) => byItem.get(ref) ?? []).filter((key) => key !== event.key);
    }
  return [...tracks];
}

type Linked = { -readonly [K in 'metadata' | 'linked']: ListEvent[K] } & Pick<ListEvent, 'key'>;

const withoutId = (metadata: ListEvent['metadata']): ListEvent['metadata'] => {
  if (metadata === null) return null;
  const { id: _, ...kept } = metadata;
  for (const _any in kept) return kept;
  return null;
};

/** The nested sequences that can be opened, by the id of the event that shows them. */
function openedIn(
  r: Reading,
  tracks: readonly Track[],
  options: ListOptions,
  described: Descriptions,
  path: readonly Node[],
): Map<string, Opened> {
  const opened = new Map<string, Opened>();
  for (const track of tracks)
    track.events.forEach((event, index) => {
      const named = r.nests.get(event.key);
      if (!named) return;
      const sequence = named.children.length > 0 ? named : described.sequences.get(named.attributes.id ?? '');
      if (sequence && path.includes(sequence)) {
        say(r, 'lost', 'nested-circle', named, XMEML_WORDS.nestedCircle({ name: event.clipName }), event.key);
        return;
      }
      if (described.left.events <= 0 || path.length > DEEPEST) {
        say(
          r,
          'lost',
          'nested-too-many',
          named,
          XMEML_WORDS.nestedTooMany({ name: event.clipName, deepest: path.length > DEEPEST ? DEEPEST : null, most: MOST_OPENED }),
          event.key,
        );
        return;
      }
      described.left.events--;
      const leaves = track.events[index + 1]?.transitionIn?.from === 'previous';
      const inside = sequence ? sequenceList(sequence, { ...options, rate: undefined }, described, [...path, sequence]) : null;
      const made = inside && sameSpeed(inside.rate, r.rate) ? openNested(event, inside.tracks, leaves, r.rate) : null;
      if (made && inside) {
        opened.set(event.key, made);
        described.left.events -= made.layers.reduce((sum, l) => sum + l.length, 0);
        for (const n of inside.notices) tell(r.log, { ...n, event: event.key });
      }
      const { code, said } = nestedNotice(event.clipName, made);
      say(r, 'changed', code, named, said, event.key);
    });
  return opened;
}

/**
 * True for a transition that no clip comes in with. What follows comes in with it where it begins at -1, or states its own beginning as a number that
 * lies within the transition (some systems write both sides so).
 */
function fadesOut(next: Node | undefined, { start, end }: Pick<Join, 'start' | 'end'>): boolean {
  if (!next || next.name === 'transitionitem') return true;
  const begins = edgesOf(next).start;
  return begins !== -1 && (begins < start || begins > end);
}

function trackOf(r: Reading, node: Node, name: string, kind: Track['kind']): Track {
  const items = node.children.filter((c) => ['clipitem', 'generatoritem', 'transitionitem'].includes(c.name));
  const trackOff = /^false$/i.test(textAt(node, 'enabled'));
  const joins = items.map((item, index) => {
    const join = item.name === 'transitionitem' ? joinOf(r, item, name) : null;
    if (!join) return null;
    const next = items[index + 1];
    // A fade to black begins where its clip's own part ends, as a dissolve does that has something behind it.
    if (/^end-?black/i.test(textAt(item, 'alignment')) || fadesOut(next, join)) return { ...join, cut: join.start, intoBlack: true };
    const begins = next ? edgesOf(next).start : -1;
    return begins === -1 ? join : { ...join, cut: begins };
  });
  const events: ListEvent[] = [];
  items.forEach((item, index) => {
    if (item.name === 'transitionitem') return;
    // A fade to black before it leads to nothing, and not to this.
    const before = joins[index - 1]?.intoBlack ? null : (joins[index - 1] ?? null);
    const event = eventOf(r, item, `${name}/${events.length + 1}`, before, joins[index + 1] ?? null, kind === 'picture');
    if (!event) return;
    const previous = events.at(-1);
    const from = previous && previous.record.out === event.record.in ? 'previous' : 'black';
    events.push({
      ...event,
      transitionIn: event.transitionIn && { ...event.transitionIn, from },
      enabled: event.enabled && !trackOff,
      metadata: { ...event.metadata, id: item.attributes.id ?? '' },
    });
  });
  if (trackOff && events.length > 0) say(r, 'changed', 'track-off', node, XMEML_WORDS.trackOff({ name }));
  // A black event carries the fade, as edit lists do. The ids of notices stand, since it takes the next free place.
  const faded = [...events];
  const ends = new Set(events.map((e) => e.record.out));
  for (const join of joins) {
    if (!join?.intoBlack) continue;
    const record = { in: r.start + join.start, out: r.start + join.end };
    const from = ends.has(record.in) ? 'previous' : 'black';
    const black: ListEvent = newEvent({
      key: `${name}/${faded.length + 1}`,
      kind: 'black',
      reel: 'BL',
      sourceRate: r.rate,
      source: { in: 0, out: join.end - join.start },
      record,
      transitionIn: { type: join.type, duration: join.end - join.start, before: 0, from, wipeCode: join.wipeCode },
    });
    faded.push(black);
  }
  if (faded.length > events.length) faded.sort((a, b) => a.record.in - b.record.in || a.record.out - b.record.out);
  return { name, kind, events: faded };
}

function joinOf(r: Reading, item: Node, track: string): Join | null {
  const [start, end] = [intAt(item, 'start'), intAt(item, 'end')];
  if (start === null || end === null || end <= start) {
    say(r, 'lost', 'broken-transition', item, XMEML_WORDS.transitionWithoutLength({ track }));
    return null;
  }
  const alignment = textAt(item, 'alignment');
  const cut = alignment.startsWith('start') ? start : alignment.startsWith('end') ? end : Math.floor((start + end) / 2);
  const effect = textAt(item, 'effect', 'name');
  // Irises, pushes and the like are patterns with a code as wipes are; a dissolve has the code 0 or none.
  const code = intAt(item, 'effect', 'wipecode') ?? 0;
  const wipe = code > 0 || /wipe|iris/i.test(`${textAt(item, 'effect', 'effectcategory')} ${effect}`);
  if (!wipe && effect !== '' && !/dissolve|fade/i.test(effect))
    say(r, 'changed', 'transition-kind', item, XMEML_WORDS.transitionKind({ effect, track }));
  if (wipe && code === 0) say(r, 'changed', 'no-wipe-code', item, XMEML_WORDS.noWipeCode({ effect, track }));
  return {
    start,
    end,
    cut,
    type: wipe ? 'wipe' : 'dissolve',
    wipeCode: wipe && code > 0 ? String(code).padStart(3, '0') : null,
    intoBlack: false,
    fromBlack: /^start-?black/i.test(alignment),
  };
}
