import { asLists } from '../conform';
import { type EditList, identified } from '../edit';
import { readEdl, writeEdl } from './edl';
import { type ListOptions, unreadableList } from './options';
import { readOtio, writeOtio } from './otio';
import { guessMapping, isList, looksLikeTable, readTable, writeTable } from './table';
import { decodeListFile, encodeListFile, headOf } from './text';
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
  | 'links'
  | 'part-frames';

/** One format Gemello reads and writes. */
export interface ListFormat {
  readonly name: string;
  readonly title: string;
  readonly extensions: readonly string[];
  readonly recognises: (bytes: Uint8Array) => boolean;
  /** Reads a file. Every event has the key that says who it is. Never throws on content. */
  readonly read: (bytes: Uint8Array, options?: ListOptions) => EditList;
  /** A file of this format; its name's extension may say how it is wrapped. */
  readonly write: (list: EditList, fileName?: string) => Uint8Array;
  /** The file as text for people; null where the format is none. */
  readonly textOf: (bytes: Uint8Array) => string | null;
  readonly carries: readonly Feature[];
  /** True where systems read one picture layer a file, so that layers are better written apart. */
  readonly flat: boolean;
  /** True where a source is counted from the first frame of its event's transition, and not from the cut. */
  readonly fromTransition: boolean;
}

/** A format that is text: `recognises` gets the first part of it. */
type TextFormat = Omit<ListFormat, 'recognises' | 'read' | 'write' | 'textOf'> & {
  readonly recognises: (head: string) => boolean;
  readonly read: (text: string, options: ListOptions) => EditList;
  readonly write: (list: EditList) => string;
};

const ofText = (format: TextFormat): ListFormat => ({
  ...format,
  recognises: (bytes) => format.recognises(headOf(bytes)),
  read(bytes, options = {}) {
    const decoded = decodeListFile(bytes);
    return 'problem' in decoded ? unreadableList(format.name, decoded.problem) : identified(format.read(decoded.text, options));
  },
  write: (list, fileName = '') => encodeListFile(fileName, format.write(asLists(list))),
  textOf(bytes) {
    const decoded = decodeListFile(bytes);
    return 'text' in decoded ? decoded.text : null;
  },
});

/** Every format, in the order they are tried. A new one adds its folder and a line here. */
export const LIST_FORMATS: readonly ListFormat[] = [
  ofText({
    name: 'otio',
    title: 'OpenTimelineIO',
    extensions: ['otio', 'otioz'],
    recognises: (head) => /^\s*\{/.test(head) && head.includes('OTIO_SCHEMA'),
    flat: false,
    fromTransition: false,
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
      'part-frames',
    ],
  }),
  ofText({
    name: 'xmeml',
    title: 'Interchange XML (xmeml)',
    extensions: ['xml', 'xmeml'],
    recognises: (head) => /<xmeml[\s>]/.test(head),
    flat: false,
    fromTransition: true,
    read: readXmeml,
    write: writeXmeml,
    carries: ['layers', 'dissolves', 'wipes', 'placement', 'switched-off', 'file-names', 'mixed-rates', 'keyed-speed', 'framing', 'links'],
  }),
  ofText({
    name: 'edl',
    title: 'Edit list, CMX 3600 style',
    extensions: ['edl'],
    recognises: (head) => /^\s*(TITLE:|FCM:)/im.test(head) || /^\s*\d+\s+\S+.*(\d\d[:;]){3}\d\d/m.test(head),
    flat: true,
    fromTransition: true,
    read: readEdl,
    write: writeEdl,
    carries: ['layers', 'dissolves', 'wipes', 'keys', 'cdl', 'file-names', 'numbers'],
  }),
  ofText({
    name: 'table',
    title: 'Table (CSV, TSV)',
    extensions: ['csv', 'tsv'],
    recognises: (head) =>
      looksLikeTable(head) ||
      isList(guessMapping((head.split(/\r\n|\r|\n/)[0] ?? '').split(/[,;\t]/).map((h) => h.replace(/^"|"$/g, '').trim()))),
    flat: true,
    fromTransition: true,
    read: readTable,
    write: writeTable,
    carries: ['layers', 'file-names', 'numbers'],
  }),
];

/** The format of a file, told by its content; null when none knows it. */
export const recogniseList = (bytes: Uint8Array): ListFormat | null => LIST_FORMATS.find((f) => f.recognises(bytes)) ?? null;

/** The format a file name's extension stands for; null when none does. */
export function formatOfName(fileName: string): ListFormat | null {
  const extension = /\.([^.]+)$/.exec(fileName)?.[1]?.toLowerCase() ?? '';
  return LIST_FORMATS.find((f) => f.extensions.includes(extension)) ?? null;
}

/** Reads a list of any known format; null when the file is none. */
export const readList = (bytes: Uint8Array, options: ListOptions = {}): EditList | null =>
  recogniseList(bytes)?.read(bytes, options) ?? null;
