import { writeCsv } from '../csv';
import { type EditList, type ListEvent, type Notice, pictureTracks, recordSpan } from '../edit';
import { canDropFrames, formatRate, relabel } from '../time';
import type { Sentence } from '../words';
import { lossesOf } from './losses';
import { type ShortReel, shortReels } from './reels';
import type { ListFormat } from './registry';
import { LIST_WORDS } from './wording';

/** How a list is to be written. What is absent stays as it is in the cut. */
export interface WriteOptions {
  readonly title?: string | undefined;
  /** `anew`: events are numbered in record order from 1. */
  readonly numbering?: 'keep' | 'anew' | undefined;
  /** Longest reel in characters, 4 to 128; longer ones are shortened without collision. */
  readonly reelLength?: number | undefined;
  /** How record timecode is counted; the first label of the cut stays, and every length in frames. */
  readonly counting?: 'drop' | 'non-drop' | undefined;
  /** `apart`: one file a picture layer, for systems that read one layer a list. Sound goes with the first. */
  readonly layers?: 'together' | 'apart' | undefined;
}

/** What a list becomes: its files, what they cannot carry, and the reels that had to be shortened. */
export interface Written {
  readonly files: readonly { readonly fileName: string; readonly bytes: Uint8Array }[];
  readonly notices: readonly Notice[];
  readonly reels: readonly ShortReel[];
}

/**
 * Writes a list in a format under a name, with all it cannot carry told beside it. Shortened reels
 * come with a table of the originals, `NAME_reels.csv`.
 */
export function writeList(given: EditList, format: ListFormat, fileName: string, options: WriteOptions = {}): Written {
  const { list, reels, notices } = arranged(given, options);
  const [stem, extension] = [fileName.replace(/\.[^.]*$/, ''), /\.[^.]*$/.exec(fileName)?.[0] ?? ''];
  const layers = options.layers === 'apart' ? pictureTracks(list) : [];
  const files =
    layers.length > 1
      ? layers.map((layer, i) => ({
          fileName: `${stem}_${layer.name}${extension}`,
          bytes: format.write(
            { ...list, tracks: [{ ...layer, name: 'V1' }, ...(i === 0 ? list.tracks.filter((t) => t.kind === 'sound') : [])] },
            fileName,
          ),
        }))
      : [{ fileName, bytes: format.write(list, fileName) }];
  // No list goes out that was not read again: what differs is told.
  const losses = lossesOf(
    list,
    format,
    files.map((f) => f.bytes),
  );
  if (reels.length > 0) files.push({ fileName: `${stem}_reels.csv`, bytes: new TextEncoder().encode(reelTable(reels)) });
  return { files, notices: [...notices, ...losses], reels };
}

const reelTable = (reels: readonly ShortReel[]): string => writeCsv([['Reel', 'Written as'], ...reels.map((r) => [r.original, r.written])]);

function arranged(given: EditList, options: WriteOptions): { list: EditList; reels: ShortReel[]; notices: Notice[] } {
  const notices: Notice[] = [];
  const say = (code: string, said: Sentence) => notices.push({ severity: 'changed', code, place: null, event: null, ...said });
  let list = options.title === undefined ? given : { ...given, title: options.title };
  if (options.counting) list = recounted(list, options.counting === 'drop', say);
  if (options.numbering === 'anew') list = numberedAnew(list);
  const reels: ShortReel[] = [];
  if (options.reelLength !== undefined) {
    const short = shortReels(
      list.tracks.flatMap((t) => t.events.map((e) => e.reel)),
      options.reelLength,
    );
    for (const [original, written] of short) if (original !== written) reels.push({ original, written });
    if (reels.length > 0) {
      list = withEvents(list, (e) => {
        const written = short.get(e.reel) ?? e.reel;
        return written === e.reel ? e : { ...e, reel: written, notes: [...e.notes, `ORIGINAL REEL: ${e.reel}`] };
      });
      say('reels-shortened', LIST_WORDS.reelsShortened({ reels: reels.length, length: options.reelLength }));
    }
  }
  return { list, reels, notices };
}

const withEvents = (list: EditList, change: (event: ListEvent) => ListEvent): EditList => ({
  ...list,
  tracks: list.tracks.map((t) => ({ ...t, events: t.events.map(change) })),
});

/** The same cut with its record counted the other way from the same first label. */
function recounted(list: EditList, drop: boolean, say: (code: string, said: Sentence) => void): EditList {
  if (list.rate.dropFrame === drop) return list;
  if (drop && !canDropFrames(list.rate)) {
    say('drop-frame-impossible', LIST_WORDS.dropFrameImpossible({ rate: formatRate(list.rate) }));
    return list;
  }
  const rate = { ...list.rate, dropFrame: drop };
  const start = recordSpan(list).in;
  const by = relabel(start, list.rate, rate) - start;
  const moved = withEvents(list, (e) => ({
    ...e,
    record: { in: e.record.in + by, out: e.record.out + by },
    markers: e.markers.map((m) => ({ ...m, record: m.record + by })),
  }));
  return { ...moved, rate, start: list.start === null ? null : list.start + by };
}

/** Numbers events in record order; what stands alike on several tracks keeps one number. */
function numberedAnew(list: EditList): EditList {
  const key = (e: ListEvent) => JSON.stringify([e.number, e.reel, e.source, e.record]);
  const all = list.tracks.flatMap((t) => t.events).sort((a, b) => a.record.in - b.record.in);
  const numbers = new Map<string, string>();
  const width = Math.max(3, String(all.length).length);
  for (const e of all) if (!numbers.has(key(e))) numbers.set(key(e), String(numbers.size + 1).padStart(width, '0'));
  return withEvents(list, (e) => ({ ...e, number: numbers.get(key(e)) ?? e.number }));
}
