import type { Node } from './node';

/** Characters that no XML has (XML 1.0, 2.2); what holds one is left to the parser that says so. */
// biome-ignore lint/suspicious/noControlCharactersInRegex: they are what is looked for
const FORBIDDEN = /[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff\ud800-\udfff]/;
const NAME = /^[A-Za-z_][A-Za-z0-9_.-]*$/;
const [TAB, NEWLINE, SPACE, QUOTE, APOSTROPHE, SLASH, EQUALS, GREATER, QUESTION, BANG] = [9, 10, 32, 34, 39, 47, 61, 62, 63, 33];
const isSpace = (c: number): boolean => c === SPACE || c === NEWLINE || c === TAB;

const NO_CHILDREN: readonly Node[] = [];
const NO_ATTRIBUTES: Readonly<Record<string, string>> = {};

interface Building {
  readonly name: string;
  readonly attributes: Readonly<Record<string, string>>;
  children: readonly Node[];
  text: string;
  readonly line: number;
}

/**
 * The tree of a plain XML text, by looking from one `<` to the next; null for everything else: what is not well-formed, nests deeper than `deepest`, has
 * a document type with declarations of its own, names or entities beyond the usual. Of what it gives, it gives the same tree as the full parser.
 */
export function scanned(source: string, deepest: number): Node | null {
  if (FORBIDDEN.test(source)) return null;
  const text = source.includes('\r') ? source.replace(/\r\n?/g, '\n') : source;
  const names = new Map<string, string>();
  const open: Building[] = [];
  const ended: Ended = { at: 0, closed: false };
  let top: Building | null = null;
  let root: Building | null = null;
  let line = 1;
  let counted = text.charCodeAt(0) === 0xfeff ? 1 : 0;
  let at = counted;
  for (;;) {
    const tag = text.indexOf('<', at);
    if (tag < 0) break;
    if (tag > at && !textTaken(top, text, at, tag)) return null;
    for (let n = text.indexOf('\n', counted); n >= 0 && n < tag; n = text.indexOf('\n', n + 1)) {
      line++;
      counted = n + 1;
    }
    const first = text.charCodeAt(tag + 1);
    if (first === SLASH) {
      if (!top || !text.startsWith(top.name, tag + 2)) return null;
      let end = tag + 2 + top.name.length;
      while (isSpace(text.charCodeAt(end))) end++;
      if (text.charCodeAt(end) !== GREATER) return null;
      top.text = top.text.trim();
      open.pop();
      top = open[open.length - 1] ?? null;
      at = end + 1;
      continue;
    }
    if (first === BANG || first === QUESTION) {
      const end = passed(text, tag, first, top);
      if (end < 0) return null;
      at = end;
      continue;
    }
    if (root && !top) return null;
    const node = element(text, tag, line, names, ended);
    if (!node) return null;
    if (top) {
      if (top.children === NO_CHILDREN) top.children = [node];
      else (top.children as Node[]).push(node);
    } else root = node;
    if (!ended.closed) {
      open.push(node);
      top = node;
      if (open.length >= deepest) return null;
    }
    at = ended.at;
  }
  return root && !top && text.slice(at).trim() === '' ? root : null;
}

/** Takes the text up to the next tag; false where it cannot stand there. */
function textTaken(top: Building | null, text: string, from: number, to: number): boolean {
  let begin = from;
  while (begin < to && isSpace(text.charCodeAt(begin))) begin++;
  if (begin === to) {
    // Spaces alone count where they part two texts.
    if (top && top.text !== '') top.text += text.slice(from, to);
    return true;
  }
  if (!top) return false;
  const part = text.slice(top.text === '' ? begin : from, to);
  if (part.includes(']]>')) return false;
  const said = part.includes('&') ? unescaped(part) : part;
  if (said === null) return false;
  top.text = top.text === '' ? said : top.text + said;
  return true;
}

/** Where a comment, an instruction, a document type or quoted text ends; -1 for what is none of these, or is not closed. */
function passed(text: string, tag: number, first: number, top: Building | null): number {
  if (first === QUESTION) {
    const end = text.indexOf('?>', tag + 2);
    if (end < 0) return -1;
    const said = text.slice(tag, end + 2);
    // A declaration stands first.
    if (/^<\?xml\b/i.test(said)) return declares(text, tag, end) ? end + 2 : -1;
    return /^<\?[A-Za-z_][\w.-]*(?:\s[^?]*)?\?>$/.test(said) ? end + 2 : -1;
  }
  if (text.startsWith('<!--', tag)) {
    const end = text.indexOf('--', tag + 4);
    return end >= 0 && text.charCodeAt(end + 2) === GREATER ? end + 3 : -1;
  }
  if (text.startsWith('<![CDATA[', tag)) {
    const end = text.indexOf(']]>', tag + 9);
    if (end < 0 || !top) return -1;
    top.text += text.slice(tag + 9, end);
    return end + 3;
  }
  const end = text.indexOf('>', tag);
  return !top && end >= 0 && /^<!DOCTYPE\s+[A-Za-z_][\w.-]*\s*>$/.test(text.slice(tag, end + 1)) ? end + 1 : -1;
}

const declares = (text: string, tag: number, end: number): boolean =>
  (tag === 0 || (tag === 1 && text.charCodeAt(0) === 0xfeff)) &&
  /^<\?xml\s+version\s*=\s*(["'])1\.0\1(\s+encoding\s*=\s*(["'])[A-Za-z][A-Za-z0-9._-]*\3)?(\s+standalone\s*=\s*(["'])(yes|no)\5)?\s*\?>$/.test(
    text.slice(tag, end + 2),
  );

/** Where a tag ends, and whether it closed its element; one for all tags, since there are so many. */
interface Ended {
  at: number;
  closed: boolean;
}

/** An element by its tag, and in `ended` where that ends. Null where the tag is not plain. */
function element(text: string, tag: number, line: number, names: Map<string, string>, ended: Ended): Building | null {
  let at = tag + 1;
  let c = text.charCodeAt(at);
  while (c !== GREATER && c !== SLASH && !isSpace(c)) {
    if (Number.isNaN(c)) return null;
    c = text.charCodeAt(++at);
  }
  const name = plainName(text.slice(tag + 1, at), names);
  if (name === null) return null;
  let attributes: Record<string, string> | null = null;
  for (;;) {
    const before = at;
    while (isSpace(c)) c = text.charCodeAt(++at);
    if (c === GREATER) break;
    if (c === SLASH) {
      if (text.charCodeAt(at + 1) !== GREATER) return null;
      ended.at = at + 2;
      ended.closed = true;
      return { name, attributes: attributes ?? NO_ATTRIBUTES, children: NO_CHILDREN, text: '', line };
    }
    if (before === at) return null;
    const begin = at;
    while (c !== EQUALS && !isSpace(c) && !Number.isNaN(c) && c !== GREATER) c = text.charCodeAt(++at);
    const key = plainName(text.slice(begin, at), names);
    while (isSpace(c)) c = text.charCodeAt(++at);
    if (key === null || c !== EQUALS) return null;
    c = text.charCodeAt(++at);
    while (isSpace(c)) c = text.charCodeAt(++at);
    if (c !== QUOTE && c !== APOSTROPHE) return null;
    const close = text.indexOf(c === QUOTE ? '"' : "'", at + 1);
    if (close < 0) return null;
    const value = text.slice(at + 1, close);
    // Line ends and tabs in a value are spaces to XML, and it may hold no tag.
    const said = /[<\n\t]/.test(value) ? null : value.includes('&') ? unescaped(value) : value;
    attributes ??= {};
    if (said === null || key in attributes || key === '__proto__') return null;
    attributes[key] = said;
    at = close + 1;
    c = text.charCodeAt(at);
  }
  ended.at = at + 1;
  ended.closed = false;
  return { name, attributes: attributes ?? NO_ATTRIBUTES, children: NO_CHILDREN, text: '', line };
}

/** A name once for all elements that have it; null where it is not plain. */
function plainName(found: string, names: Map<string, string>): string | null {
  const known = names.get(found);
  if (known !== undefined) return known;
  if (!NAME.test(found)) return null;
  names.set(found, found);
  return found;
}

const ENTITIES: Readonly<Record<string, string>> = { lt: '<', gt: '>', amp: '&', quot: '"', apos: "'" };

/** A text with the five entities of XML resolved, and those by number; null where it has another. */
function unescaped(text: string): string | null {
  let other = false;
  const said = text.replace(/&([^;&\s]*);?/g, (whole, name: string) => {
    const known = ENTITIES[name];
    if (known !== undefined && whole.endsWith(';')) return known;
    const number = /^#(?:x([0-9a-f]{1,6})|(\d{1,7}))$/i.exec(name);
    const code = number ? (number[1] ? Number.parseInt(number[1], 16) : Number(number[2])) : Number.NaN;
    if (!whole.endsWith(';') || !((code >= 32 || code === 9 || code === 10 || code === 13) && code < 0xd800) || name.startsWith('#X')) {
      other = true;
      return whole;
    }
    return String.fromCharCode(code);
  });
  return other ? null : said;
}
