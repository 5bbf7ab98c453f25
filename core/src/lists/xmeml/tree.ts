import { XMLParser } from 'fast-xml-parser';

/** One element: its name, attributes, children and text. */
export interface Node {
  readonly name: string;
  readonly attributes: Readonly<Record<string, string>>;
  readonly children: readonly Node[];
  readonly text: string;
}

const ENTITIES: Record<string, string> = { amp: '&', lt: '<', gt: '>', quot: '"', apos: "'" };

/** The five entities of XML and character numbers; any other stays as it is written, so that none can grow. */
const decoded = (text: string): string =>
  text.replace(/&(?:#(\d{1,7})|#x([0-9a-f]{1,6})|(amp|lt|gt|quot|apos));/gi, (whole, ten, hex, name) => {
    if (name) return ENTITIES[String(name).toLowerCase()] ?? whole;
    const code = ten ? Number(ten) : Number.parseInt(hex, 16);
    return code > 0 && code <= 0x10ffff ? String.fromCodePoint(code) : whole;
  });

/**
 * Reads XML into a tree. Declared entities and outside references are never looked up. Null when
 * it is not well-formed.
 */
export function parseXml(text: string): Node | null {
  const parser = new XMLParser({
    preserveOrder: true,
    ignoreAttributes: false,
    attributeNamePrefix: '',
    processEntities: false,
    parseTagValue: false,
    parseAttributeValue: false,
    trimValues: true,
  });
  try {
    const raw = parser.parse(text.replace(/<!DOCTYPE[^[>]*(\[[\s\S]*?\])?\s*>/i, ''), true) as RawNode[];
    return raw.map(nodeOf).find((n) => n !== null && !n.name.startsWith('?')) ?? null;
  } catch {
    return null;
  }
}

type RawNode = { [name: string]: unknown };

function nodeOf(raw: RawNode): Node | null {
  const name = Object.keys(raw).find((key) => key !== ':@' && key !== '#text');
  if (!name) return null;
  const inside = (raw[name] as RawNode[]) ?? [];
  const attributes = Object.fromEntries(
    Object.entries((raw[':@'] as Record<string, string>) ?? {}).map(([key, value]) => [key, decoded(String(value))]),
  );
  const text = inside.map((child) => (child['#text'] === undefined ? '' : String(child['#text']))).join('');
  return { name, attributes, children: inside.map(nodeOf).filter((n) => n !== null), text: decoded(text) };
}

export const child = (node: Node | null | undefined, name: string): Node | null => node?.children.find((c) => c.name === name) ?? null;
export const children = (node: Node | null | undefined, name: string): Node[] => node?.children.filter((c) => c.name === name) ?? [];
/** The text below a chain of names; empty when any is missing. */
export const textAt = (node: Node | null | undefined, ...names: string[]): string =>
  names.reduce<Node | null | undefined>((at, name) => child(at, name), node)?.text ?? '';
/** The whole number below a chain of names, or null. */
export function intAt(node: Node | null | undefined, ...names: string[]): number | null {
  const text = textAt(node, ...names);
  return /^-?\d+$/.test(text) ? Number(text) : null;
}
export const escaped = (text: string): string =>
  text.replace(/[&<>"]/g, (c) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[c] ?? c);
