import { SaxesParser } from 'saxes';
import type { Node } from './node';
import { scanned } from './scan';

export type { Node } from './node';

/** Elements deeper than this are no list. */
const DEEPEST = 400;

/**
 * Reads XML into a tree in one pass. Declared entities are never expanded and stand as they are
 * written; outside references are never looked up. When it is not well-formed, what is wrong and in
 * which line (from 1).
 */
export const parseXml = (text: string): Node | Fault => scanned(text, DEEPEST) ?? parsed(text);

/** What is wrong with a text, and in which line. */
interface Fault {
  readonly fault: string;
  readonly line: number;
}

/** The same by a parser that knows all of XML, and says what is wrong; several times slower (docs/decisions/0041). */
export function parsed(text: string): Node | Fault {
  const parser = new SaxesParser({ xmlns: false });
  const top: Building = { name: '', attributes: {}, children: [], text: '', line: 1 };
  const open = [top];
  let fault: { fault: string; line: number } | null = null;
  parser.on('error', (error) => {
    // An entity that the file declares itself: kept as text, and no fault.
    if (/undefined entity/i.test(error.message)) return;
    fault ??= { fault: error.message.replace(/^\d+:\d+:\s*/, '').replace(/\.$/, ''), line: parser.line };
  });
  let line = 1;
  parser.on('opentagstart', () => {
    line = parser.line;
  });
  parser.on('opentag', ({ name, attributes }) => {
    // Most elements have no attributes and many no children: those share one empty value.
    const node: Building = { name, attributes: attributesOf(attributes as Record<string, string>), children: NO_CHILDREN, text: '', line };
    const around = open.at(-1);
    if (around) {
      if (around.children === NO_CHILDREN) around.children = [];
      (around.children as Node[]).push(node);
    }
    open.push(node);
    if (open.length > DEEPEST) fault ??= { fault: 'elements stand too deep in one another', line };
  });
  parser.on('text', (part) => {
    const node = open.at(-1);
    if (node) node.text += part;
  });
  parser.on('cdata', (part) => {
    const node = open.at(-1);
    if (node) node.text += part;
  });
  parser.on('closetag', () => {
    const node = open.length > 1 ? open.pop() : undefined;
    if (node) node.text = node.text.trim();
  });
  for (let at = 0; at < text.length && !fault; at += CHUNK) parser.write(text.slice(at, at + CHUNK));
  if (!fault) parser.close();
  return fault ?? top.children[0] ?? { fault: 'it holds no element', line: 1 };
}

interface Building extends Omit<Node, 'children' | 'text'> {
  children: readonly Node[];
  text: string;
}

const NO_CHILDREN: readonly Node[] = [];
const NO_ATTRIBUTES: Readonly<Record<string, string>> = {};

function attributesOf(found: Record<string, string>): Readonly<Record<string, string>> {
  for (const _ in found) return found;
  return NO_ATTRIBUTES;
}

/** Characters given to the parser at once, so that a broken file is left soon. */
const CHUNK = 1 << 16;

export function child(node: Node | null | undefined, name: string): Node | null {
  if (node) for (const c of node.children) if (c.name === name) return c;
  return null;
}
export function children(node: Node | null | undefined, name: string): readonly Node[] {
  if (!node) return NO_CHILDREN;
  let found: Node[] | null = null;
  for (const c of node.children)
    if (c.name === name) {
      if (found) found.push(c);
      else found = [c];
    }
  return found ?? NO_CHILDREN;
}
/** The text below a chain of names; empty when any is missing. */
export function textAt(node: Node | null | undefined, ...names: string[]): string {
  let at = node ?? null;
  for (const name of names) at = child(at, name);
  return at?.text ?? '';
}
/** The number below a chain of names, whole or not (`25`, `25.0`, `-1`, `1e3`); null where there is none, or none of a list. */
export function numberAt(node: Node | null | undefined, ...names: string[]): number | null {
  let at = node ?? null;
  for (const name of names) at = child(at, name);
  const text = at?.text ?? '';
  if (/^\d{1,15}$/.test(text)) return Number(text);
  const number = text.length <= LONGEST_NUMBER && /^[+-]?(?:\d+\.?\d*|\.\d+)(?:e[+-]?\d{1,3})?$/i.test(text) ? Number(text) : null;
  return number !== null && Math.abs(number) <= LARGEST_NUMBER ? number : null;
}
/** The same as a whole number, the nearest where it is none. */
export function intAt(node: Node | null | undefined, ...names: string[]): number | null {
  const number = numberAt(node, ...names);
  return number === null || !Number.isSafeInteger(Math.round(number)) ? null : Math.round(number);
}
const LONGEST_NUMBER = 40;
/** No number of a list is larger; a day in ticks is 2.2e16. */
const LARGEST_NUMBER = 1e18;

export const escaped = (text: string): string =>
  text.replace(/[&<>"]/g, (c) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[c] ?? c);

/** An element as text again: what it holds, without comments and as plain text where it was quoted otherwise. */
export function serialized({ name, attributes, children: inside, text }: Node): string {
  const said = Object.entries(attributes).map(([of, value]) => ` ${of}="${escaped(value)}"`);
  const held = inside.map(serialized).join('');
  return `<${name}${said.join('')}>${held === '' ? escaped(text) : held}</${name}>`;
}
