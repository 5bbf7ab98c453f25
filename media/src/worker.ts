import { setImmediate } from 'node:timers/promises';
import type { MessagePort } from 'node:worker_threads';
import type { Original } from '@gemello/core';
import sharp from 'sharp';
import type { Composition } from './compose';
import { MediaError } from './engine/av';
import { drawPicture } from './pictures';
import { probeMovie } from './probe';
import { type ChecksumsPayload, measureChecksums } from './tasks/checksums';
import { type Fingerprinted, fingerprints } from './tasks/fingerprints';
import { type ProvePayload, prove } from './tasks/prove';
import { makeProxies, type ProxiesPayload } from './tasks/proxies';
import { type RenderPayload, render } from './tasks/render';
import { type ReturnPayload, writeReturn } from './tasks/return';
import { type ScanPayload, type ScanSummary, scanSteps } from './tasks/scan';
import { drawStill, type StillsPayload, writeStills } from './tasks/stills';
import { type Progress, type Report, Stopped, type StopSignal } from './tasks/task';

/** A picture for a screen: what it is made of, and its size in pixels. */
export interface DrawPayload {
  readonly composition: Composition;
  readonly width: number;
  readonly height: number;
}

/** A still of what is seen, to be kept. */
export type StillPayload = Parameters<typeof drawStill>[0];

export type Work =
  | { readonly task: 'scan'; readonly payload: ScanPayload }
  | { readonly task: 'proof'; readonly payload: ProvePayload }
  | { readonly task: 'return'; readonly payload: ReturnPayload }
  | { readonly task: 'proxies'; readonly payload: ProxiesPayload }
  | { readonly task: 'checksums'; readonly payload: ChecksumsPayload }
  | { readonly task: 'fingerprints'; readonly payload: readonly Fingerprinted[] }
  | { readonly task: 'probe'; readonly payload: { readonly file: string } }
  | { readonly task: 'render'; readonly payload: RenderPayload }
  | { readonly task: 'stills'; readonly payload: StillsPayload }
  | { readonly task: 'still'; readonly payload: StillPayload }
  | { readonly task: 'draw'; readonly payload: DrawPayload };

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
    case 'render':
      return render(order.payload, report, signal);
    case 'stills':
      return writeStills(order.payload, report, signal);
    case 'still':
      return drawStill(order.payload);
    case 'draw':
      return drawJpeg(order.payload);
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

/** A picture as a JPEG, for a screen. */
async function drawJpeg({ composition, width, height }: DrawPayload): Promise<Uint8Array> {
  const { picture } = drawPicture(composition, width, height);
  return sharp(picture.pixels, { raw: { width, height, channels: 3 } })
    .jpeg({ quality: 82 })
    .toBuffer();
}
