import PDFDocument from 'pdfkit';
import { describe, expect, it } from 'vitest';
import { registerFonts, runsOf, write } from '../src/tasks/letters';

describe('the letters of a document', () => {
  it('are taken from the file that has them, and one that none has is said to be missing', () => {
    expect(runsOf('Świt 3')).toEqual([
      { script: 'latin-ext', text: 'Ś' },
      { script: 'latin', text: 'wit 3' },
    ]);
    expect(runsOf('Αλάτι').map((r) => r.script)).toEqual(['greek']);
    expect(runsOf('Соль').map((r) => r.script)).toEqual(['cyrillic']);
    expect(runsOf('塩')).toEqual([{ script: 'latin', text: '¿' }]);
  });
  it('stand in one line, whatever files they are from', () => {
    const document = new PDFDocument({ size: 'A4' });
    registerFonts(document);
    const before = document.y;
    write(document, 'text', 'Świt, Αλάτι, Соль');
    const line = document.y - before;
    write(document, 'text', 'Dawn');
    expect(document.y - before).toBeCloseTo(2 * line, 1);
    document.end();
  });
});
