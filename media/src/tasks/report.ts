import { closeSync, mkdirSync, openSync, writeSync } from 'node:fs';
import path from 'node:path';
import {
  compile,
  type Original,
  type ProofReport,
  partsOf,
  pictureAt,
  REPORT_END,
  type ReferenceLay,
  type ReportEntry,
  type ReportPictures,
  referencePart,
  reportBegin,
  reportRow,
  type Standing,
  totalsText,
  verdictText,
} from '@gemello/core';
import PDFDocument from 'pdfkit';
import sharp from 'sharp';
import type { Composition } from '../compose';
import { drawPicture, heightFor } from '../pictures';
import { becomeWhole, dropHalf, halfOf, isFaultOfFile, MediaError } from '../plain';
import { fontFile, registerFonts, write } from './letters';
import { type Report, type StopSignal, stopIfAsked } from './task';

export interface ReportPayload {
  readonly report: ProofReport;
  readonly list: Standing;
  readonly originals: readonly Original[];
  readonly reference: { readonly movie: Original; readonly lay: ReferenceLay };
  /** Where it is written to: a page (`.html`) or a document (`.pdf`), by its extension. */
  readonly file: string;
}

/** Width of a picture, in pixels. */
const WIDTH = 480;

/** Writes the report of a proof with both pictures of each event: by way of a temporary name, one event after the other, so that memory stays as it is. */
export async function writeProofReport(payload: ReportPayload, progress: Report, signal: StopSignal): Promise<{ file: string }> {
  const { report, file } = payload;
  const format = path.extname(file).toLowerCase();
  if (format !== '.html' && format !== '.pdf')
    throw new MediaError(`A report is written as .html or .pdf, not as ${format || 'a file without an extension'}.`);
  mkdirSync(path.dirname(file), { recursive: true });
  const half = halfOf(file);
  const draw = drawerOf(payload);
  const page = format === '.html' ? pageTo(half, report) : documentTo(half, report);
  try {
    for (const [i, entry] of report.entries.entries()) {
      stopIfAsked(signal);
      progress({ done: i, total: report.entries.length, what: `Event ${entry.number}` });
      await page.add(entry, await draw(entry));
    }
    await page.end();
  } catch (error) {
    await page.end().catch(() => {});
    dropHalf(half);
    throw error;
  }
  becomeWhole(half, file);
  progress({ done: report.entries.length, total: report.entries.length, what: '' });
  return { file };
}

/** Both pictures of an event at its frame; one whose file cannot be read is left out, as its verdict says. */
function drawerOf({ list, originals, reference }: ReportPayload): (entry: ReportEntry) => Promise<ReportPictures> {
  const conform = compile(list, originals);
  const { frame } = conform;
  const height = heightFor(WIDTH, frame.raster, frame.pixelAspect);
  const jpeg = async (composition: Composition): Promise<Uint8Array | null> => {
    if (composition.parts.length === 0) return null;
    try {
      const { picture } = drawPicture(composition, WIDTH, height);
      return await sharp(picture.pixels, { raw: { width: WIDTH, height, channels: 3 } })
        .jpeg({ quality: 80 })
        .toBuffer();
    } catch (error) {
      if (!isFaultOfFile(error)) throw error;
      return null;
    }
  };
  return async ({ frame: at }) => {
    const part = referencePart(reference.movie, reference.lay, at);
    return {
      reference: await jpeg({ parts: part ? [part] : [], frame }),
      conform: await jpeg({ parts: partsOf(pictureAt(conform, at)), frame }),
    };
  };
}

interface Page {
  add(entry: ReportEntry, pictures: ReportPictures): Promise<void>;
  end(): Promise<void>;
}

const base64 = (bytes: Uint8Array | null): string | null => bytes && Buffer.from(bytes).toString('base64');

function pageTo(file: string, report: ProofReport): Page {
  const handle = openSync(file, 'w');
  let open = true;
  writeSync(handle, reportBegin(report));
  return {
    async add(entry, { reference, conform }) {
      writeSync(handle, reportRow(entry, { reference: base64(reference), conform: base64(conform) }));
    },
    async end() {
      if (!open) return;
      open = false;
      writeSync(handle, REPORT_END);
      closeSync(handle);
    },
  };
}

/** Measures of a page, in points: A4 upright, three events on it. */
const [MARGIN, PICTURE, ROW] = [42, 176, 128];
const INK = '#1c1c1c';
const QUIET = '#666666';

function documentTo(file: string, report: ProofReport): Page {
  const handle = openSync(file, 'w');
  const document = new PDFDocument({
    size: 'A4',
    margin: MARGIN,
    info: { Title: `${report.title}: proof` },
    font: fontFile('latin', 'text'),
  });
  const written = new Promise<void>((resolve, reject) => {
    document.on('data', (chunk: Uint8Array) => writeSync(handle, chunk));
    document.on('end', () => {
      closeSync(handle);
      resolve();
    });
    document.on('error', reject);
  });
  registerFonts(document);
  document.fontSize(18).fillColor(INK);
  write(document, 'strong', `${report.title}: proof`);
  document.fontSize(10).fillColor(QUIET);
  write(document, 'text', `Against ${report.reference}, ${report.made}.`);
  document.moveDown(0.5).fillColor(INK);
  write(document, 'strong', totalsText(report));
  document.moveDown(1);
  let open = true;
  return {
    async add(entry, pictures) {
      const bottom = document.page.height - MARGIN;
      if (document.y + ROW > bottom) document.addPage();
      const top = document.y;
      addRow(document, entry, pictures, top);
      document.x = MARGIN;
      document.y = Math.max(top + ROW, document.y + 8);
    },
    async end() {
      if (!open) return;
      open = false;
      document.end();
      await written;
    },
  };
}

function addRow(document: PDFKit.PDFDocument, entry: ReportEntry, { reference, conform }: ReportPictures, top: number): void {
  const width = document.page.width - 2 * MARGIN;
  document
    .moveTo(MARGIN, top - 4)
    .lineTo(MARGIN + width, top - 4)
    .lineWidth(0.5)
    .strokeColor('#cccccc')
    .stroke();
  document.fontSize(9).fillColor(INK);
  document.x = MARGIN;
  document.y = top;
  write(document, 'strong', `${entry.number} ${entry.track}  ${entry.name}`, { continued: true });
  document.fillColor(QUIET);
  write(document, 'text', `   ${entry.recordIn} to ${entry.recordOut}`);
  const below = document.y + 2;
  for (const [i, [name, bytes]] of (
    [
      ['Reference', reference],
      ['Conform', conform],
    ] as const
  ).entries()) {
    const left = MARGIN + i * (PICTURE / 1.6 + 70);
    if (bytes) document.image(Buffer.from(bytes), left, below, { fit: [PICTURE, 90] });
    document
      .fontSize(7)
      .fillColor(QUIET)
      .text(`${name}${bytes ? ` ${entry.at}` : ': no picture'}`, left, below + 92, { lineBreak: false });
  }
  const left = MARGIN + 2 * (PICTURE / 1.6 + 70);
  const room = { width: width - (left - MARGIN) };
  document.font('strong latin').fontSize(9).fillColor(INK).text(verdictText(entry.verdict), left, below, room);
  document.font('text latin').fontSize(8);
  if (entry.score !== null)
    document
      .fillColor(QUIET)
      .text(`agreement ${entry.score.toFixed(2)}`, room)
      .fillColor(INK);
  for (const { text, accepted } of entry.findings) write(document, 'text', accepted ? `${text} (accepted as it is)` : text, room);
  document.fillColor(QUIET);
  for (const decision of entry.decisions) write(document, 'text', `Decided: ${decision}`, room);
}
