import type { Shot } from '../conform';
import { withoutExtension } from '../originals';
import { RETURN_WORDS } from './wording';

/** What a template for clip names may take in, in braces. */
export const NAME_FIELDS = ['source', 'clip', 'event', 'reel', 'title'] as const;
type NameField = (typeof NAME_FIELDS)[number];

/** Named after the source, so that the editor can match back to it (common practice). */
export const USUAL_TEMPLATE = '{source}';

/** What is wrong with a template of clip names, as a sentence; null where nothing is. */
export function templateFault(template: string): string | null {
  const fault = fieldFault(template, NAME_FIELDS);
  return fault ?? (FIELD.test(template) ? null : RETURN_WORDS.noField({ known: inBraces(NAME_FIELDS) }));
}

const FIELD = /\{[^{}]*\}/;
const inBraces = (fields: readonly string[]): string => fields.map((f) => `{${f}}`).join(', ');

/** What is wrong with the fields of a template that may take in `known`, as a sentence; null where nothing is. */
export function fieldFault(template: string, known: readonly string[]): string | null {
  const asked = [...template.matchAll(/\{([^{}]*)\}/g)].map((m) => m[1] ?? '');
  const strange = asked.find((name) => !known.includes(name));
  if (strange !== undefined) return RETURN_WORDS.unknownField({ field: strange, known: inBraces(known) });
  return /[{}]/.test(filled(template, () => '')) ? RETURN_WORDS.openBrace() : null;
}

/** A template with its fields as they are. */
export const filled = (template: string, said: (field: string) => string): string =>
  template.replace(/\{([^{}]*)\}/g, (_, field: string) => said(field));

/** Most bytes of a name without its extension (UTF-8): file systems hold 255, and what is being written has an ending of its own. */
const LONGEST = 200;
/** Names that one system or another keeps for its devices. */
const RESERVED = /^(con|prn|aux|nul|com\d|lpt\d)(\.|$)/i;
/** What no name may hold on one system or another, control characters, and blanks, which lists of columns cannot tell from what follows. */
// biome-ignore lint/suspicious/noControlCharactersInRegex: they are what is looked for
const UNFIT = /[\u0000-\u001f\u007f<>:"/\\|?*\s]+/g;

/** A name that every file system takes, as near to what was asked for as can be: letters of any script stay. `clip` where nothing is left. */
export function portableName(name: string): string {
  let fit = name.normalize('NFC').replace(UNFIT, '_').replace(/^\.+/, '');
  while (new TextEncoder().encode(fit).length > LONGEST) fit = [...fit].slice(0, -1).join('');
  fit = fit.replace(/\.+$/, '');
  if (/^_*$/.test(fit)) return 'clip';
  return RESERVED.test(fit) ? `_${fit}` : fit;
}

/** Two names that a file system may take for one. */
export const sameFile = (a: string, b: string): boolean => fileKey(a) === fileKey(b);
const fileKey = (name: string): string => name.normalize('NFC').toLowerCase();

/**
 * Names of the clips of shots, without extension, by the key of their event, from a template; no two that a file system may take for one.
 * Where several come to the same the event's number tells them apart, and where that does not, a count.
 */
export function clipNames(shots: readonly Shot[], { template, title }: { template: string; title: string }): Map<string, string> {
  const rendered = shots.filter((s) => s.original);
  const stems = rendered.map((shot) => portableName(filled(template, (field) => valueIn(shot, field as NameField, title))));
  const uses = new Map<string, number>();
  for (const stem of stems) uses.set(fileKey(stem), (uses.get(fileKey(stem)) ?? 0) + 1);
  const taken = new Set<string>();
  const names = new Map<string, string>();
  rendered.forEach((shot, i) => {
    const plain = stems[i] as string;
    const stem = (uses.get(fileKey(plain)) ?? 0) > 1 ? `${plain}_${portableName(shot.event.number || shot.event.key)}` : plain;
    let name = stem;
    for (let n = 2; taken.has(fileKey(name)); n++) name = `${stem}-${n}`;
    taken.add(fileKey(name));
    names.set(shot.event.key, name);
  });
  return names;
}

function valueIn({ event, original }: Shot, field: NameField, title: string): string {
  switch (field) {
    case 'source':
      return withoutExtension(original?.clipName || original?.fileName || 'clip');
    case 'clip':
      return withoutExtension(event.clipName || event.fileName || original?.clipName || 'clip');
    case 'event':
      return event.number || event.key;
    case 'reel':
      return original?.reel || event.reel;
    case 'title':
      return title;
    default:
      return '';
  }
}
