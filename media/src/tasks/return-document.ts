import type { ReturnSheet } from '@gemello/core';
import PDFDocument from 'pdfkit';
import { fontFile, registerFonts, write } from './letters';

/** Measures of a page, in points: A4 on its side. */
const [MARGIN, GAP, SIZE] = [36, 6, 7.5];
const [INK, QUIET, LINE] = ['#1c1c1c', '#666666', '#cccccc'];
/** Shares of the width, column by column of the table. */
const SHARES = [5, 15, 20, 9, 5.5, 6, 10, 17, 22];

/** The report of a return as a document. */
export function returnPdf({ title, made, summary, before, headings, rows, after }: ReturnSheet): Uint8Array {
  const document = new PDFDocument({
    size: 'A4',
    layout: 'landscape',
    margin: MARGIN,
    info: { Title: title },
    font: fontFile('latin', 'text'),
  });
  registerFonts(document);
  const width = document.page.width - 2 * MARGIN;
  const bottom = () => document.page.height - MARGIN;
  const heading = (text: string) => {
    if (document.y + 40 > bottom()) document.addPage();
    document.moveDown(0.8).fontSize(11).fillColor(INK);
    write(document, 'strong', text);
    document.moveDown(0.2).fontSize(SIZE + 1);
  };
  const lists = (all: ReturnSheet['before']) => {
    for (const section of all) {
      heading(section.heading);
      for (const line of section.lines) write(document, 'text', line);
    }
  };
  const total = SHARES.reduce((sum, n) => sum + n, 0);
  const columns = SHARES.map((share, i) => ({
    left: MARGIN + (width * SHARES.slice(0, i).reduce((sum, n) => sum + n, 0)) / total,
    width: (width * share) / total - GAP,
  }));
  /** A row of the table, on a page of its own where it has no room; as high as its highest cell. */
  const row = (cells: readonly string[], weight: 'text' | 'strong') => {
    document.font(`${weight} latin`).fontSize(SIZE);
    const height = Math.max(...cells.map((text, i) => document.heightOfString(text || ' ', { width: columns[i]?.width ?? 0 })));
    if (document.y + height + 4 > bottom()) document.addPage();
    const top = document.y;
    cells.forEach((text, i) => {
      const column = columns[i];
      if (!column || text === '') return;
      document.x = column.left;
      document.y = top;
      write(document, weight, text, { width: column.width });
    });
    document
      .moveTo(MARGIN, top + height + 2)
      .lineTo(MARGIN + width, top + height + 2)
      .lineWidth(0.4)
      .strokeColor(LINE)
      .stroke();
    document.x = MARGIN;
    document.y = top + height + 4;
  };
  document.fontSize(18).fillColor(INK);
  write(document, 'strong', title);
  document.fontSize(9).fillColor(QUIET);
  write(document, 'text', made);
  document.moveDown(0.3).fillColor(INK);
  write(document, 'text', summary);
  lists(before);
  heading('Returned');
  row(headings, 'strong');
  for (const cells of rows) row(cells, 'text');
  lists(after);
  document.end();
  // Everything is written by now, and waits to be read.
  return document.read() as Uint8Array;
}
