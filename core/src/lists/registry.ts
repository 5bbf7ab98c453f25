import type { EditList } from '../edit';
import type { Rate } from '../time';
import { readEdl, writeEdl } from './edl';

/** One format Gemello reads and writes. */
export interface ListFormat {
  readonly name: string;
  readonly title: string;
  readonly extensions: readonly string[];
  /** True when the first part of a file's text looks like this format. */
  readonly recognises: (text: string) => boolean;
  readonly read: (text: string, options: { rate?: Rate | undefined }) => EditList;
  readonly write: (list: EditList) => string;
}

/** Every format, in the order they are tried. A new one adds its folder and a line here. */
export const LIST_FORMATS: readonly ListFormat[] = [
  {
    name: 'edl',
    title: 'Edit list, CMX 3600 style',
    extensions: ['edl'],
    recognises: (text) => /^\s*(TITLE:|FCM:)/im.test(text) || /^\s*\d+\s+\S+.*(\d\d[:;]){3}\d\d/m.test(text),
    read: readEdl,
    write: writeEdl,
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

/** Reads a list of any known format; null when the text is none. */
export function readList(text: string, options: { rate?: Rate | undefined } = {}): EditList | null {
  return recogniseList(text)?.read(text, options) ?? null;
}
