/**
 * JSON of timelines as it is in use: the language most systems write it with also writes `NaN`, `Infinity` and `Inf`, which no
 * JSON has (RFC 8259). Each is read as a text that no file holds otherwise, so that it is no number to us, and goes out
 * again as it came.
 */
const MARK = '\0';
const WRITTEN_MARK = '\\u0000';
const TOKENS = ['NaN', 'Infinity', '-Infinity', 'Inf', '-Inf'] as const;

/** Reads a document. Throws SyntaxError where it is none even so. */
export function parseTimeline(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch (error) {
    const plain = withoutOddNumbers(text);
    if (plain === text) throw error;
    return JSON.parse(plain);
  }
}

/** The text with each odd number that stands outside of quotes made a marked text. One pass. */
function withoutOddNumbers(text: string): string {
  const parts: string[] = [];
  let from = 0;
  let quoted = false;
  for (let i = 0; i < text.length; i++) {
    const c = text[i];
    if (quoted && c === '\\') i++;
    else if (c === '"') quoted = !quoted;
    else if (!quoted && (c === 'N' || c === 'I' || c === '-')) {
      const token = TOKENS.find((t) => text.startsWith(t, i));
      if (!token) continue;
      parts.push(text.slice(from, i), `"${WRITTEN_MARK}${token}"`);
      i += token.length - 1;
      from = i + 1;
    }
  }
  return from === 0 ? text : parts.join('') + text.slice(from);
}

/** Writes a document, odd numbers as they came. */
export const timelineText = (document: unknown): string =>
  JSON.stringify(document, null, 1).replace(/"\\u0000(NaN|-?Inf(?:inity)?)"/g, (_, token: string) => token);

/** What an odd number is called in a message; the value itself where it is none. */
export const oddNumber = (value: unknown): string | null =>
  typeof value === 'string' && value.startsWith(MARK) && (TOKENS as readonly string[]).includes(value.slice(1)) ? value.slice(1) : null;
