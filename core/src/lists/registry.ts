import type { EditList } from '../edit';
import { readEdl, writeEdl } from './edl';
import type { ListOptions } from './options';
import { readOtio, writeOtio } from './otio';
import { guessMapping, isList, looksLikeTable, readTable, writeTable } from './table';
import { readXmeml, writeXmeml } from './xmeml';

/** What a format has no room for. `layers`: more than one picture track in a file. */
export type Feature =
  | 'layers'
  | 'dissolves'
  | 'wipes'
  | 'keys'
  | 'placement'
  | 'cdl'
  | 'switched-off'
  | 'file-names'
  | 'numbers'
  | 'mixed-rates'
  | 'keyed-speed'
  | 'framing'
  | 'links';

/** One format Gemello reads and writes. */
export interface ListFormat {
  readonly name: string;
  readonly title: string;
  readonly extensions: readonly string[];
  /** True when the first part of a file's text looks like this format. */
  readonly recognises: (head: string) => boolean;
  readonly read: (text: string, options: ListOptions) => EditList;
  readonly write: (list: EditList) => string;
  readonly carries: readonly Feature[];
  /** True where systems read one picture layer a file, so that layers are better written apart. */
  readonly flat: boolean;
}

/** Every format, in the order they are tried. A new one adds its folder and a line here. */
export const LIST_FORMATS: readonly ListFormat[] = [
  {
    name: 'otio',
    title: 'OpenTimelineIO',
    extensions: ['otio', 'otioz'],
    recognises: (head) => /^\s*\{/.test(head) && head.includes('OTIO_SCHEMA'),
    flat: false,
    read: readOtio,
    write: writeOtio,
    carries: [
      'layers',
      'dissolves',
      'wipes',
      'keys',
      'placement',
      'cdl',
      'switched-off',
      'file-names',
      'numbers',
      'mixed-rates',
      'keyed-speed',
    ],
  },
  {
    name: 'xmeml',
    title: 'Interchange XML (xmeml)',
    extensions: ['xml', 'xmeml'],
    recognises: (head) => /<xmeml[\s>]/.test(head),
    flat: false,
    read: readXmeml,
    write: writeXmeml,
    carries: ['layers', 'dissolves', 'wipes', 'placement', 'switched-off', 'file-names', 'mixed-rates', 'keyed-speed', 'framing', 'links'],
  },
  {
    name: 'edl',
    title: 'Edit list, CMX 3600 style',
    extensions: ['edl'],
    recognises: (head) => /^\s*(TITLE:|FCM:)/im.test(head) || /^\s*\d+\s+\S+.*(\d\d[:;]){3}\d\d/m.test(head),
    flat: true,
    read: readEdl,
    write: writeEdl,
    carries: ['layers', 'dissolves', 'wipes', 'keys', 'cdl', 'file-names', 'numbers'],
  },
  {
    name: 'table',
    title: 'Table (CSV, TSV)',
    extensions: ['csv', 'tsv'],
    recognises: (head) =>
      looksLikeTable(head) ||
      isList(guessMapping((head.split(/\r\n|\r|\n/)[0] ?? '').split(/[,;\t]/).map((h) => h.replace(/^"|"$/g, '').trim()))),
    flat: true,
    read: readTable,
    write: writeTable,
    carries: ['layers', 'file-names', 'numbers'],
  },
];

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
