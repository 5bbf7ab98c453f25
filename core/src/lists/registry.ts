import type { EditList } from '../edit';
import { readEdl, writeEdl } from './edl';
import type { ListOptions } from './options';
import { readOtio, writeOtio } from './otio';
import { guessMapping, isList, readTable, writeTable } from './table';
import { readXmeml, writeXmeml } from './xmeml';

/** What a format has no room for. `layers`: more than one picture track in a file. */
export type Carried =
  | 'layers'
  | 'dissolves'
  | 'wipes'
  | 'keys'
  | 'placement'
  | 'cdl'
  | 'switched-off'
  | 'file-names'
  | 'numbers'
  | 'mixed-rates';

/** One format Gemello reads and writes. */
export interface ListFormat {
  readonly name: string;
  readonly title: string;
  readonly extensions: readonly string[];
  /** True when the first part of a file's text looks like this format. */
  readonly recognises: (head: string) => boolean;
  readonly read: (text: string, options: ListOptions) => EditList;
  readonly write: (list: EditList) => string;
  readonly carries: readonly Carried[];
}

/** Every format, in the order they are tried. A new one adds its folder and a line here. */
export const LIST_FORMATS: readonly ListFormat[] = [
  {
    name: 'otio',
    title: 'OpenTimelineIO',
    extensions: ['otio'],
    recognises: (head) => /^\s*\{/.test(head) && head.includes('OTIO_SCHEMA'),
    read: readOtio,
    write: writeOtio,
    carries: ['layers', 'dissolves', 'wipes', 'keys', 'cdl', 'switched-off', 'file-names', 'numbers', 'mixed-rates'],
  },
  {
    name: 'xmeml',
    title: 'Interchange XML (xmeml)',
    extensions: ['xml', 'xmeml'],
    recognises: (head) => /<xmeml[\s>]/.test(head),
    read: readXmeml,
    write: writeXmeml,
    carries: ['layers', 'dissolves', 'wipes', 'placement', 'switched-off', 'file-names', 'mixed-rates'],
  },
  {
    name: 'edl',
    title: 'Edit list, CMX 3600 style',
    extensions: ['edl'],
    recognises: (head) => /^\s*(TITLE:|FCM:)/im.test(head) || /^\s*\d+\s+\S+.*(\d\d[:;]){3}\d\d/m.test(head),
    read: readEdl,
    write: writeEdl,
    carries: ['layers', 'dissolves', 'wipes', 'keys', 'cdl', 'file-names', 'numbers'],
  },
  {
    name: 'table',
    title: 'Table (CSV, TSV)',
    extensions: ['csv', 'tsv'],
    recognises: (head) =>
      isList(guessMapping((head.split(/\r\n|\r|\n/)[0] ?? '').split(/[,;\t]/).map((h) => h.replace(/^"|"$/g, '').trim()))),
    read: readTable,
    write: writeTable,
    carries: ['layers', 'file-names', 'numbers'],
  },
];

/** A list's file as text: UTF-8, or Latin-1 where it is not valid UTF-8. A byte-order mark is left off. */
export function decodeListText(bytes: Uint8Array): string {
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(bytes);
  } catch {
    return new TextDecoder('latin1').decode(bytes);
  }
}

/** The format of a text, told by its content; null when none knows it. */
export function recogniseList(text: string): ListFormat | null {
  const head = text.slice(0, 65536);
  return LIST_FORMATS.find((f) => f.recognises(head)) ?? null;
}

/** The format a file name's extension stands for; null when none does. */
export function formatOfName(fileName: string): ListFormat | null {
  const extension = /\.([^.]+)$/.exec(fileName)?.[1]?.toLowerCase() ?? '';
  return LIST_FORMATS.find((f) => f.extensions.includes(extension)) ?? null;
}

/** Reads a list of any known format; null when the text is none. */
export function readList(text: string, options: ListOptions = {}): EditList | null {
  return recogniseList(text)?.read(text, options) ?? null;
}
