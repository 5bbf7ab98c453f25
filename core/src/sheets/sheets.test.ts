import { SaxesParser } from 'saxes';
import { describe, expect, it } from 'vitest';
import { SHEET_END, sheetBegin, TABLE_END, tableBegin } from '.';

/** The elements and texts of a page, as an XML parser that knows nothing of it reads them; HTML's void elements closed. */
function readOf(page: string): { open: string[]; texts: string[] } {
  const parser = new SaxesParser();
  const [open, texts]: [string[], string[]] = [[], []];
  parser.on('opentag', ({ name }) => open.push(name));
  parser.on('text', (text) => text.trim() && texts.push(text.trim()));
  parser.on('error', (error) => {
    throw error;
  });
  parser.write(page.replace('<!doctype html>', '').replaceAll(/<(meta[^>]*)>/g, '<$1/>')).close();
  return { open, texts };
}

describe('a page with a table', () => {
  const odd = 'Salt & <script>alert(1)</script> "wind"';
  const page = `${sheetBegin(odd)}${tableBegin(['Event', odd])}<tr><td>001</td><td>x</td></tr>${TABLE_END}${SHEET_END}`;
  it('is whole, and no title or heading becomes a part of it', () => {
    const { open, texts } = readOf(page);
    expect(open).not.toContain('script');
    expect(open.filter((name) => name === 'th')).toHaveLength(2);
    expect(texts.filter((text) => text === odd)).toHaveLength(3);
  });
  it('needs nothing beside it', () => {
    expect(page).not.toMatch(/ (src|href)=/);
  });
});
