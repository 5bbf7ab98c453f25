import {
  asLists,
  atOneRate,
  withCutsAligned,
  withoutOverlaps,
  withoutSwitchedOff,
  withSourceAsNeeded,
  withTransitionsAtStart,
} from '../conform';
import { type EditList, identified } from '../edit';
import { isCompound, laidAsAaf, readAaf, writeAaf } from './aaf';
import { arrived } from './arrival';
import { looksLikeEdl, readEdl, writeEdl } from './edl';
import { LIST_KINDS, type ListKind } from './kinds';
import { numbered } from './numbering';
import { type ListOptions, unreadableList } from './options';
import { readOtio, writeOtio } from './otio';
import { inPlainText } from './plain';
import { guessMapping, isList, looksLikeTable, readTable, writeTable } from './table';
import { decodeListFile, encodeListFile, headOf } from './text';
import { readXmeml, writeXmeml } from './xmeml';

/** One format that is read and written. */
export interface ListFormat extends ListKind {
  readonly recognises: (bytes: Uint8Array) => boolean;
  /** Reads a file. Every event has the key that says who it is. Never throws on content. */
  readonly read: (bytes: Uint8Array, options?: ListOptions) => EditList;
  /** The file as text for people; null where the format is none. */
  readonly textOf: (bytes: Uint8Array) => string | null;
  /** A file of this format; its name's extension may say how it is wrapped. */
  readonly write: (list: EditList, fileName?: string) => Uint8Array;
  /** The list as the format lays it, in what it means to say: no more than the layout differs, and what is lost is not yet. */
  readonly asLaid: (list: EditList) => EditList;
}

/** A format that is text: `recognises` gets the first part of it. */
type TextFormat = Omit<ListFormat, 'recognises' | 'read' | 'write' | 'textOf'> & {
  readonly recognises: (head: string) => boolean;
  readonly read: (text: string, options: ListOptions) => EditList;
  readonly write: (list: EditList) => string;
};

/** The list with what the format has a place for: text, and no more than it can say of what is switched off. */
const writable = ({ canSwitchOff }: ListKind, list: EditList): EditList => {
  const { list: plain } = inPlainText(list);
  return canSwitchOff ? plain : withoutSwitchedOff(plain);
};

const ofText = (format: TextFormat): ListFormat => ({
  ...format,
  recognises: (bytes) => format.recognises(headOf(bytes)),
  read(bytes, options = {}) {
    const decoded = decodeListFile(bytes);
    return 'problem' in decoded
      ? unreadableList(format.name, decoded.problem)
      : identified(arrived(numbered(format.read(decoded.text, options))));
  },
  write: (list, fileName = '') => encodeListFile(fileName, format.write(writable(format, list))),
  asLaid: (list) => asLists(format.asLaid(format.canSwitchOff ? list : withoutSwitchedOff(list))),
  textOf(bytes) {
    const decoded = decodeListFile(bytes);
    return 'text' in decoded ? decoded.text : null;
  },
});

/** True where the first line has the headings of a list; the rows below may begin with numbers, as those of an edit list do. */
const hasHeadings = (head: string): boolean =>
  isList(
    guessMapping((head.replace(/^\uFEFF/, '').split(/\r\n|\r|\n/)[0] ?? '').split(/[,;\t]/).map((h) => h.replace(/^"|"$/g, '').trim())),
  );

/** Every format, in the order they are tried: one that is no text comes first, by its first bytes. A new one adds its folder, its kind and a line here. */
export const LIST_FORMATS: readonly ListFormat[] = [
  {
    ...LIST_KINDS.aaf,
    recognises: isCompound,
    read: (bytes, options = {}) => identified(arrived(numbered(readAaf(bytes, options)))),
    write: (list) => writeAaf(writable(LIST_KINDS.aaf, list)),
    asLaid: (list) => asLists(laidAsAaf(list)),
    textOf: () => null,
  },
  ofText({
    ...LIST_KINDS.otio,
    recognises: (head) => /^\s*\{/.test(head) && head.includes('OTIO_SCHEMA'),
    // The items of a track follow one another.
    asLaid: (list) => withSourceAsNeeded(withoutOverlaps(asLists(list))),
    read: readOtio,
    write: writeOtio,
  }),
  ofText({
    ...LIST_KINDS.xmeml,
    recognises: (head) => /<xmeml[\s>]/.test(head),
    asLaid: (list) => withSourceAsNeeded(asLists(withCutsAligned(list))),
    read: readXmeml,
    write: writeXmeml,
  }),
  ofText({
    ...LIST_KINDS.edl,
    recognises: (head) => looksLikeEdl(head) && !hasHeadings(head),
    // Events begin with their transitions, and all is counted at the rate of the record.
    asLaid: (list) => atOneRate(asLists(withTransitionsAtStart(list))),
    read: readEdl,
    write: writeEdl,
  }),
  ofText({
    ...LIST_KINDS.table,
    recognises: (head) => looksLikeTable(head) || hasHeadings(head),
    // Events begin with their transitions, and all is counted at the rate of the record.
    asLaid: (list) => atOneRate(asLists(withTransitionsAtStart(list))),
    read: readTable,
    write: writeTable,
  }),
];

/** The format of a file, told by its content; null when none knows it. */
export const recogniseList = (bytes: Uint8Array): ListFormat | null => LIST_FORMATS.find((f) => f.recognises(bytes)) ?? null;

const extensionOf = (fileName: string): string => /\.([^.]+)$/.exec(fileName)?.[1]?.toLowerCase() ?? '';
/** The format that a file name's extension stands for, and that is written; null when none does. */
export const formatOfName = (fileName: string): ListFormat | null =>
  LIST_FORMATS.find((f) => f.extensions.includes(extensionOf(fileName))) ?? null;

/** Reads a list of any known format; null when the file is none. */
export const readList = (bytes: Uint8Array, options: ListOptions = {}): EditList | null =>
  recogniseList(bytes)?.read(bytes, options) ?? null;
