import { setImmediate } from 'node:timers/promises';
import type { MessagePort } from 'node:worker_threads';
import {
  type Colours,
  coloursOf,
  type Delivery,
  type EditList,
  LIST_FORMATS,
  type ListOptions,
  type LogMapping,
  readDecisionsFile,
  readDelivery,
  readWholeLog,
  type WriteOptions,
  writeList,
} from '@gemello/core';
import sharp from 'sharp';
import type { Composition } from './compose';
import { drawPicture, heightFor } from './pictures';
import { MediaError, type Refusal, refused } from './plain';
import { probeGuide, probeMovie } from './probe';
import type { ProofBasis } from './tasks/against';
import { checkReturned, type ReturnCheckPayload } from './tasks/check';
import { type ChecksumsPayload, measureChecksums } from './tasks/checksums';
import { type ComparePayload, compareSteps } from './tasks/compare';
import { type CopyPayload, makeCopy } from './tasks/copies';
import { type CutsPayload, findCuts } from './tasks/cuts';
import { type Fingerprinted, fingerprints } from './tasks/fingerprints';
import { hearPeaks, hearPiece, type PeaksPayload, type PiecePayload } from './tasks/heard';
import { type MixPayload, measureMix } from './tasks/mix';
import { type ProvePayload, prepareProof, proofSteps } from './tasks/prove';
import { makeProxies, type ProxiesPayload } from './tasks/proxies';
import { findShots, prepareRebuild, type RebuildBasis, type ShotsFound, type ShotsPayload, tellJoins } from './tasks/rebuild';
import { type RenderPayload, render } from './tasks/render';
import { type ReportPayload, writeProofReport } from './tasks/report';
import { writeReturn } from './tasks/return';
import { type ReturnPayload, renderShare, type Share } from './tasks/return-clips';
import { type ScanPayload, scanSteps } from './tasks/scan';
import { type SearchPayload, searchElsewhere } from './tasks/search';
import { drawStill, type StillsPayload, writeStills } from './tasks/stills';
import { type Progress, type Report, Stopped } from './tasks/task';

/** A picture for a screen: what it is made of, and its size in pixels. */
export interface DrawPayload {
  readonly composition: Composition;
  readonly width: number;
  readonly height: number;
}

/** Pictures whose colours are looked at, each so many pixels across. */
export interface ColoursPayload {
  readonly compositions: readonly Composition[];
  readonly width: number;
}

/** A still of what is seen, to be kept. */
export type StillPayload = Parameters<typeof drawStill>[0];

export type Work =
  | { readonly task: 'scan'; readonly payload: ScanPayload }
  | { readonly task: 'prepare-proof'; readonly payload: ProofBasis }
  | { readonly task: 'prove-each'; readonly payload: ProvePayload }
  | { readonly task: 'search'; readonly payload: SearchPayload }
  | { readonly task: 'compare'; readonly payload: ComparePayload }
  | { readonly task: 'copy'; readonly payload: CopyPayload }
  | { readonly task: 'piece'; readonly payload: PiecePayload }
  | { readonly task: 'mix'; readonly payload: MixPayload }
  | { readonly task: 'peaks'; readonly payload: PeaksPayload }
  | { readonly task: 'cuts'; readonly payload: CutsPayload }
  | { readonly task: 'prepare-rebuild'; readonly payload: RebuildBasis }
  | { readonly task: 'find-shots'; readonly payload: ShotsPayload }
  | { readonly task: 'tell-joins'; readonly payload: JoinsPayload }
  | { readonly task: 'proof-report'; readonly payload: ReportPayload }
  | { readonly task: 'return'; readonly payload: ReturnPayload }
  | { readonly task: 'return-share'; readonly payload: ReturnPayload & { readonly share: Share } }
  | { readonly task: 'check-return'; readonly payload: ReturnCheckPayload }
  | { readonly task: 'proxies'; readonly payload: ProxiesPayload }
  | { readonly task: 'checksums'; readonly payload: ChecksumsPayload }
  | { readonly task: 'fingerprints'; readonly payload: readonly Fingerprinted[] }
  | { readonly task: 'probe' | 'probe-guide'; readonly payload: { readonly file: string } }
  | { readonly task: 'render'; readonly payload: RenderPayload }
  | { readonly task: 'stills'; readonly payload: StillsPayload }
  | { readonly task: 'still'; readonly payload: StillPayload }
  | { readonly task: 'draw'; readonly payload: DrawPayload }
  | { readonly task: 'colours'; readonly payload: ColoursPayload }
  | { readonly task: 'read-list'; readonly payload: ReadListPayload }
  | { readonly task: 'write-list'; readonly payload: WriteListPayload }
  | { readonly task: 'read-log'; readonly payload: ReadLogPayload }
  | { readonly task: 'read-decisions'; readonly payload: { readonly text: string } };

/** What joins are told from: shots that were found. */
export type JoinsPayload = Omit<ShotsPayload, 'only'> & Pick<ShotsFound, 'shots'>;

/** The files of a list, and how they are to be read. */
export interface ReadListPayload {
  readonly files: Parameters<typeof readDelivery>[0];
  readonly options: ListOptions;
}

/** A list, and the format it is to be written in, by one of its extensions. */
export interface WriteListPayload {
  readonly list: EditList;
  readonly extension: string;
  readonly fileName: string;
  readonly options: WriteOptions;
}

/** The text of a clip log, how it is called as a source, and which column holds what; guessed where that is not said. */
export interface ReadLogPayload {
  readonly text: string;
  readonly source: string;
  readonly mapping: LogMapping | undefined;
}

/** What is sent along: a flag that stops the work, and a port that hears of its progress, null at the end. */
export type WorkOrder = Work & { readonly stop?: SharedArrayBuffer; readonly port?: MessagePort };

/** What is heard over the port: progress, parts of the work as they are done, null at the end. */
export type Message = Progress | { readonly parts: readonly unknown[] } | null;

/** Parts are handed over when there are this many, or when none were for so long, in milliseconds. */
const BATCH = 100;
const LONGEST_WAIT = 250;

/** Reports are sent at most this often, in milliseconds. */
const PACE = 150;

/**
 * What a thread answers. Errors that have words for the person come back as data, because their
 * class does not survive the way between threads; any other error is thrown.
 */
export type Answer =
  | { readonly value: unknown }
  | { readonly fault: 'media' | 'stopped'; readonly message: string }
  | { readonly fault: Refusal; readonly needed: number | null };

/** What a thread does with an order. */
export async function work(order: WorkOrder): Promise<Answer> {
  try {
    return { value: await perform(order) };
  } catch (error) {
    const refusal = refused(error);
    if (refusal) return { fault: refusal.why, needed: refusal.needed };
    if (error instanceof MediaError) return { fault: 'media', message: error.message };
    if (error instanceof Stopped) return { fault: 'stopped', message: error.message };
    throw error;
  } finally {
    order.port?.postMessage(null);
  }
}

function perform(order: WorkOrder): unknown {
  const flag = order.stop ? new Int32Array(order.stop) : null;
  const signal = {
    get aborted() {
      return flag !== null && Atomics.load(flag, 0) === 1;
    },
  };
  let last = 0;
  const report: Report = (progress) => {
    const now = performance.now();
    if (now - last < PACE && progress.done < progress.total) return;
    last = now;
    order.port?.postMessage(progress);
  };
  const handOver = (parts: readonly unknown[]) => order.port?.postMessage({ parts });
  switch (order.task) {
    case 'scan':
      return inBatches(scanSteps(order.payload, report, signal), handOver);
    case 'prepare-proof':
      return prepareProof(order.payload, report, signal);
    case 'prove-each':
      return inBatches(proofSteps(order.payload, report, signal), handOver);
    case 'search':
      return searchElsewhere(order.payload, report, signal);
    case 'compare':
      return inBatches(compareSteps(order.payload, report, signal), handOver);
    case 'copy':
      return makeCopy(order.payload, report, signal);
    case 'piece':
      return hearPiece(order.payload);
    case 'peaks':
      return hearPeaks(order.payload, report, signal);
    case 'cuts':
      return findCuts(order.payload, report, signal);
    case 'prepare-rebuild':
      return prepareRebuild(order.payload, report, signal);
    case 'find-shots':
      return findShots(order.payload, report, signal);
    case 'tell-joins':
      return tellJoins(order.payload, report, signal);
    case 'proof-report':
      return writeProofReport(order.payload, report, signal);
    case 'mix':
      return measureMix(order.payload, report, signal);
    case 'return':
      return writeReturn(order.payload, report, signal);
    case 'return-share':
      return renderShare(order.payload, order.payload.share, report, signal);
    case 'proxies':
      return makeProxies(order.payload, report, signal);
    case 'checksums':
      return measureChecksums(order.payload, report, signal);
    case 'fingerprints':
      return fingerprints(order.payload);
    case 'check-return':
      return checkReturned(order.payload, report, signal);
    case 'probe':
      return probeMovie(order.payload.file);
    case 'probe-guide':
      return probeGuide(order.payload.file);
    case 'render':
      return render(order.payload, report, signal);
    case 'stills':
      return writeStills(order.payload, report, signal);
    case 'still':
      return drawStill(order.payload);
    case 'draw':
      return drawJpeg(order.payload);
    case 'colours':
      return coloursIn(order.payload);
    case 'read-list':
      return sendable(readDelivery(order.payload.files, order.payload.options));
    case 'read-log':
      return readWholeLog(order.payload.text, order.payload.source, order.payload.mapping);
    case 'read-decisions':
      return readDecisionsFile(order.payload.text);
    case 'write-list':
      return writtenList(order.payload);
  }
}

/** Does work part by part, letting the event loop turn between batches: what was opened by the media engine is only given back then. */
async function inBatches<Part, Rest>(steps: Generator<Part, Rest>, handOver: (batch: readonly Part[]) => void): Promise<Rest> {
  let batch: Part[] = [];
  let last = Number.NEGATIVE_INFINITY;
  try {
    for (;;) {
      const step = steps.next();
      if (step.done) return step.value;
      batch.push(step.value);
      if (batch.length < BATCH && performance.now() - last < LONGEST_WAIT) continue;
      handOver(batch);
      batch = [];
      last = performance.now();
      await setImmediate();
    }
  } finally {
    // When it is stopped, too.
    if (batch.length > 0) handOver(batch);
  }
}

/** Formats hold functions, which do not go between threads: their names do. */
export interface SentDelivery {
  readonly list: EditList;
  readonly files: readonly (Omit<Delivery['files'][number], 'format'> & { readonly format: string | null })[];
}

const sendable = ({ list, files }: Delivery): SentDelivery => ({
  list,
  files: files.map((file) => ({ ...file, format: file.format?.name ?? null })),
});

function writtenList({ list, extension, fileName, options }: WriteListPayload) {
  const format = LIST_FORMATS.find((f) => f.extensions.includes(extension));
  if (!format) throw new Error(`no format ${extension}`);
  return writeList(list, format, fileName, options);
}

/** The colours of pictures, one after the other, as many of each. */
function coloursIn({ compositions, width }: ColoursPayload): Colours {
  const each = compositions.map((composition) => {
    const { raster, pixelAspect } = composition.frame;
    return coloursOf(drawPicture(composition, width, heightFor(width, raster, pixelAspect)).picture.pixels, 3);
  });
  const all = new Float32Array(each.reduce((sum, one) => sum + one.length, 0));
  let at = 0;
  for (const one of each) {
    all.set(one, at);
    at += one.length;
  }
  return all;
}

/** A picture as a JPEG, for a screen. */
async function drawJpeg({ composition, width, height }: DrawPayload): Promise<Uint8Array> {
  const { picture } = drawPicture(composition, width, height);
  return sharp(picture.pixels, { raw: { width, height, channels: 3 } })
    .jpeg({ quality: 82 })
    .toBuffer();
}
