const QUOTE = 34;
const BACKSLASH = 92;
const NEWLINE = 10;
const OPEN = 123;

/**
 * The line (from 1) on which each object of a JSON document begins. The document is walked in the
 * order it is written, as `JSON.parse` keeps it; names that are whole numbers are the exception, and
 * lines after those may be off.
 */
export function linesOf(text: string, json: unknown): ReadonlyMap<object, number> {
  const lines = objectLines(text);
  const found = new Map<object, number>();
  let next = 0;
  const pending: unknown[] = [json];
  while (pending.length > 0) {
    const value = pending.pop();
    if (typeof value !== 'object' || value === null) continue;
    if (!Array.isArray(value)) found.set(value, lines[next++] ?? 1);
    const inside = Array.isArray(value) ? value : Object.values(value);
    for (let i = inside.length - 1; i >= 0; i--) pending.push(inside[i]);
  }
  return found;
}

function objectLines(text: string): number[] {
  const lines: number[] = [];
  let line = 1;
  let quoted = false;
  for (let i = 0; i < text.length; i++) {
    const c = text.charCodeAt(i);
    if (c === NEWLINE) line++;
    else if (quoted && c === BACKSLASH) i++;
    else if (c === QUOTE) quoted = !quoted;
    else if (!quoted && c === OPEN) lines.push(line);
  }
  return lines;
}
