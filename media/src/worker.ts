import { setImmediate } from 'node:timers/promises';
import type { MessagePort } from 'node:worker_threads';
import type { Cdl, Original } from '@gemello/core';
import sharp from 'sharp';
import { MediaError } from './engine/av';
import type { Readable } from './engine/reader';
import { grabPicture } from './pictures';
import { probeMovie } from './probe';
import { type ChecksumsPayload, measureChecksums } from './tasks/checksums';
import { type Fingerprinted, fingerprints } from './tasks/fingerprints';
import { type ProvePayload, prove } from './tasks/prove';
import { makeProxies, type ProxiesPayload } from './tasks/proxies';
import { type ReturnPayload, writeReturn } from './tasks/return';
import { type ScanPayload, type ScanSummary, scanSteps } from './tasks/scan';
import { type Progress, type Report, Stopped, type StopSignal } from './tasks/task';

/** One layer of a composed picture. `share` is its opacity over what lies below, 0..1. */
export interface GrabPart {
  readonly clip: Readable;
  readonly frame: number;
  readonly share: number;
  readonly cdl: Cdl | null;
}
export interface GrabPayload {
  readonly parts: readonly GrabPart[];
  readonly width: number;
  readonly height: number;
}

export type Work =
  | { readonly task: 'scan'; readonly payload: ScanPayload }
  | { readonly task: 'proof'; readonly payload: ProvePayload }
  | { readonly task: 'return'; readonly payload: ReturnPayload }
  | { readonly task: 'proxies'; readonly payload: ProxiesPayload }
  | { readonly task: 'checksums'; readonly payload: ChecksumsPayload }
  | { readonly task: 'fingerprints'; readonly payload: readonly Fingerprinted[] }
  | { readonly task: 'probe'; readonly payload: { readonly file: string } }
  | { readonly task: 'grab'; readonly payload: GrabPayload };

/** What is sent along: a flag that stops the work, and a port that hears of its progress, null at the end. */
export type WorkOrder = Work & { readonly stop?: SharedArrayBuffer; readonly port?: MessagePort };

/** What is heard over the port: progress, originals as they are found, null at the end. */
export type Message = Progress | { readonly found: readonly Original[] } | null;

/** Originals are handed over this many at a time. */
const BATCH = 100;

/** Reports are sent at most this often, in milliseconds. */
const PACE = 150;

/**
 * What a thread answers. Errors that have words for the person come back as data, because their
 * class does not survive the way between threads; any other error is thrown.
 */
export type Answer = { readonly value: unknown } | { readonly fault: 'media' | 'stopped'; readonly message: string };

/** Entry point of a worker thread. */
export default async function work(order: WorkOrder): Promise<Answer> {
  try {
    return { value: await perform(order) };
  } catch (error) {
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
  switch (order.task) {
    case 'scan':
      return scanBatches(order.payload, report, signal, (batch) => order.port?.postMessage({ found: batch }));
    case 'proof':
      return prove(order.payload, report, signal);
    case 'return':
      return writeReturn(order.payload, report, signal);
    case 'proxies':
      return makeProxies(order.payload, report, signal);
    case 'checksums':
      return measureChecksums(order.payload, report, signal);
    case 'fingerprints':
      return fingerprints(order.payload);
    case 'probe':
      return probeMovie(order.payload.file);
    case 'grab':
      return composeJpeg(order.payload);
  }
}

/** Scans, letting the event loop turn between batches: what was opened by the media engine is only given back then. */
async function scanBatches(
  payload: ScanPayload,
  report: Report,
  signal: StopSignal,
  take: (batch: Original[]) => void,
): Promise<ScanSummary> {
  const steps = scanSteps(payload, report, signal);
  let batch: Original[] = [];
  try {
    for (;;) {
      const step = steps.next();
      if (step.done) return step.value;
      batch.push(step.value);
      if (batch.length < BATCH) continue;
      take(batch);
      batch = [];
      await setImmediate();
    }
  } finally {
    // When it is stopped, too.
    if (batch.length > 0) take(batch);
  }
}

/** Lays the parts over one another, bottom first, and gives a JPEG. Frames a clip does not have leave black. */
async function composeJpeg({ parts, width, height }: GrabPayload): Promise<Uint8Array> {
  const canvas = new Uint8Array(width * height * 3);
  for (const part of parts) {
    const picture = grabPicture(part.clip, part.frame, width, height, part.cdl);
    const pixels = picture?.pixels;
    const keep = 1 - part.share;
    for (let i = 0; i < canvas.length; i++)
      canvas[i] = (canvas[i] as number) * keep + (pixels ? (pixels[i] as number) : 0) * part.share + 0.5;
  }
  return sharp(canvas, { raw: { width, height, channels: 3 } })
    .jpeg({ quality: 82 })
    .toBuffer();
}
