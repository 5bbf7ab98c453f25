import { type EditList, EMPTY_LIST, identified, type Notice, type Track } from '../edit';
import { formatRate, nominal, type Rate, sameSpeed } from '../time';
import { type ListOptions, unreadableList } from './options';
import { LIST_FORMATS, type ListFormat, recogniseList } from './registry';
import { decodeListFile } from './text';
import { LIST_WORDS } from './wording';

/** A file as it was handed over. */
export interface DeliveredFile {
  readonly fileName: string;
  readonly bytes: Uint8Array;
}

/** A file of a delivery; `text` is null where its format is none, `format` where none is known for it. */
export interface ReadFile extends DeliveredFile {
  readonly text: string | null;
  readonly format: ListFormat | null;
}

/** One cut, out of one file or several, and what stands in them. */
export interface Delivery {
  readonly list: EditList;
  readonly files: readonly ReadFile[];
}

/**
 * Reads a cut from its files. Several files are the layers of one cut, from the bottom up in the
 * order given; their sound tracks follow one another. All are read at one rate: the one asked for,
 * else the highest that any of them needs. Files that cannot be read say why in the notices; the
 * others are read all the same.
 */
export function readDelivery(given: readonly DeliveredFile[], options: ListOptions = {}): Delivery {
  const read = given.map((file) => readOne(file, options));
  const files = read.map((r) => r.file);
  const [only] = read;
  if (!only) return { list: unreadableList('none', LIST_WORDS.noFile()), files };
  if (read.length === 1) return { list: only.list, files };
  const whole = read.filter((r) => r.list.tracks.length > 0);
  const rate = options.rate ?? highestRate(whole.map((r) => r.list.rate));
  const lists = read.map((r) =>
    rate && r.file.format && !sameSpeed(r.list.rate, rate) ? r.file.format.read(r.file.bytes, { ...options, rate }) : r.list,
  );
  return { list: stacked(lists, files), files };
}

function readOne({ fileName, bytes }: DeliveredFile, options: ListOptions): { file: ReadFile; list: EditList } {
  const format = recogniseList(bytes);
  if (format) return { file: { fileName, bytes, text: format.textOf(bytes), format }, list: format.read(bytes, options) };
  const decoded = decodeListFile(bytes);
  const text = 'text' in decoded ? decoded.text : '';
  const file = { fileName, bytes, text, format: null };
  if ('problem' in decoded)
    return { file, list: unreadableList('unknown', LIST_WORDS.brokenFile({ fileName, problem: decoded.problem.message })) };
  const first = text.split(/\r\n|\r|\n/).findIndex((l) => l.trim() !== '');
  const reason =
    first < 0
      ? LIST_WORDS.emptyFile({ fileName })
      : LIST_WORDS.unknownFile({ fileName, formats: LIST_FORMATS.map((f) => f.title).join(', ') });
  return { file, list: unreadableList('unknown', reason, first < 0 ? null : first + 1) };
}

const highestRate = (rates: readonly Rate[]): Rate | null => [...rates].sort((a, b) => nominal(b) - nominal(a))[0] ?? null;

function stacked(lists: readonly EditList[], files: readonly ReadFile[]): EditList {
  const counts = { picture: 0, sound: 0 };
  const tracks: Track[] = [];
  const notices: Notice[] = [];
  const base = lists.find((l) => l.tracks.length > 0) ?? lists[0];
  lists.forEach((list, part) => {
    const places = new Map<string, string>();
    for (const track of list.tracks) {
      const name = track.kind === 'picture' ? `V${++counts.picture}` : `A${++counts.sound}`;
      const events = track.events.map((event, i) => {
        const place = `${name}/${i + 1}`;
        places.set(event.key, place);
        return { ...event, key: place, linked: [] };
      });
      tracks.push({ ...track, name, events, part });
    }
    for (const n of list.notices) notices.push({ ...n, part, event: n.event && (places.get(n.event) ?? null) });
    if (base && list.tracks.length > 0 && !sameSpeed(list.rate, base.rate))
      notices.push({
        severity: 'changed',
        code: 'rates-differ',
        place: null,
        event: null,
        part,
        ...LIST_WORDS.ratesDiffer({
          fileName: files[part]?.fileName ?? '',
          rate: formatRate(list.rate),
          below: formatRate(base.rate),
        }),
      });
  });
  // Keys say which of how many equals an event is, over all layers.
  return identified({
    ...EMPTY_LIST,
    format: base?.format ?? 'none',
    title: base?.title ?? '',
    rate: base?.rate ?? ({ num: 24, den: 1, dropFrame: false } as Rate),
    start: base?.start ?? null,
    framing: lists.map((l) => l.framing).find((f) => f !== null) ?? null,
    sequences: [],
    tracks: [...tracks.filter((t) => t.kind === 'picture'), ...tracks.filter((t) => t.kind === 'sound')],
    notes: lists.flatMap((l) => l.notes),
    notices,
  });
}

/** File names in the order of their layers: `cut_V2` before `cut_V10`. */
export const inLayerOrder = <T extends { readonly fileName: string }>(files: readonly T[]): T[] =>
  [...files].sort((a, b) => NATURAL_ORDER.compare(a.fileName, b.fileName));

const NATURAL_ORDER = new Intl.Collator('en', { numeric: true, sensitivity: 'base' });
