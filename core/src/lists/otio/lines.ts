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
  for (let i = 0; i < text.length; i++) {
    const c = text.charCodeAt(i);
    if (c === NEWLINE) line++;
    else if (c === OPEN) lines.push(line);
    else if (c === QUOTE) i = endOfQuote(text, i);
  }
  return lines;
}

/** Where a quoted text ends that begins at `from`: at the next quote that no backslash stands before, or rather an even number of them. No line ends in it. */
function endOfQuote(text: string, from: number): number {
  let end = text.indexOf('"', from + 1);
  while (end > 0) {
    let slashes = 0;
    while (text.charCodeAt(end - 1 - slashes) === BACKSLASH) slashes++;
    if (slashes % 2 === 0) return end;
    end = text.indexOf('"', end + 1);
  }
  return text.length;
}
