import { createRequire } from 'node:module';
import { availableParallelism } from 'node:os';
import { fileURLToPath, pathToFileURL } from 'node:url';
import { MessageChannel } from 'node:worker_threads';
import type { MeasuredChecksum, Original } from '@gemello/core';
import { Piscina } from 'piscina';
import { MediaError } from './engine/av';
import type { ChecksumsPayload } from './tasks/checksums';
import type { Fingerprinted } from './tasks/fingerprints';
import type { ProvePayload, ProveResult } from './tasks/prove';
import type { ProxiesPayload, ProxiesResult } from './tasks/proxies';
import type { RenderPayload, RenderResult } from './tasks/render';
import type { ReturnPayload, ReturnResult } from './tasks/return';
import type { ScanPayload, ScanSummary } from './tasks/scan';
import type { StillsPayload, StillsResult } from './tasks/stills';
import { type Report, Stopped } from './tasks/task';
import type { Answer, DrawPayload, Message, StillPayload, Work, WorkOrder } from './worker';

/** Threads start with the loader that lets them read TypeScript. */
export const TSX = pathToFileURL(createRequire(import.meta.url).resolve('tsx')).href;

/** Runs media work on threads, so that whoever calls stays free to answer. */
export interface MediaThreads {
  /** Reads what one movie file says of itself; rejects with a MediaError when it is no movie. */
  probe(file: string): Promise<Original>;
  /** Originals are handed to `take` while the scan goes on, some at a time. */
  scan(payload: ScanPayload, take: (found: readonly Original[]) => void, report?: Report, signal?: AbortSignal): Promise<ScanSummary>;
  /** Quick fingerprints of clips, in their order. */
  fingerprints(clips: readonly Fingerprinted[]): Promise<string[]>;
  prove(payload: ProvePayload, report?: Report, signal?: AbortSignal): Promise<ProveResult>;
  writeReturn(payload: ReturnPayload, report?: Report, signal?: AbortSignal): Promise<ReturnResult>;
  makeProxies(payload: ProxiesPayload, report?: Report, signal?: AbortSignal): Promise<ProxiesResult>;
  measureChecksums(payload: ChecksumsPayload, report?: Report, signal?: AbortSignal): Promise<MeasuredChecksum[]>;
  render(payload: RenderPayload, report?: Report, signal?: AbortSignal): Promise<RenderResult>;
  writeStills(payload: StillsPayload, report?: Report, signal?: AbortSignal): Promise<StillsResult>;
  /** A JPEG for a screen. Runs beside long work, on a thread of its own. */
  draw(payload: DrawPayload): Promise<Uint8Array>;
  /** A PNG to be kept. Runs beside long work, too. */
  still(payload: StillPayload): Promise<Uint8Array>;
  close(): Promise<void>;
}

/** Opens the threads: one for long work at a time, and others for pictures. */
export function openThreads(): MediaThreads {
  const options = {
    filename: fileURLToPath(new URL('./worker.ts', import.meta.url)),
    execArgv: ['--import', TSX],
    atomics: 'async' as const,
    minThreads: 1,
  };
  const long = new Piscina({ ...options, maxThreads: 1 });
  const pictures = new Piscina({ ...options, maxThreads: Math.max(1, Math.min(4, availableParallelism() - 1)) });

  const run = async (work: Work, report?: Report, signal?: AbortSignal, take?: (found: readonly Original[]) => void): Promise<unknown> => {
    const stop = new SharedArrayBuffer(4);
    const raise = () => Atomics.store(new Int32Array(stop), 0, 1);
    if (signal?.aborted) raise();
    signal?.addEventListener('abort', raise, { once: true });
    const { port1, port2 } = new MessageChannel();
    // The answer may overtake the last reports, which come by another way: both are waited for.
    const reported = new Promise<void>((resolve) => {
      port1.on('message', (message: Message) => {
        if (message === null) resolve();
        else if ('found' in message) take?.(message.found);
        else report?.(message);
      });
      port1.once('close', resolve);
    });
    try {
      const order: WorkOrder = { ...work, stop, port: port2 };
      const answer = await long.run(order, { transferList: [port2] });
      await reported;
      return resultOf(answer);
    } finally {
      signal?.removeEventListener('abort', raise);
      port1.close();
    }
  };
  const look = async (work: Work) => resultOf(await pictures.run(work));
  return {
    probe: (file) => look({ task: 'probe', payload: { file } }) as Promise<Original>,
    scan: (payload, take, report, signal) => run({ task: 'scan', payload }, report, signal, take) as Promise<ScanSummary>,
    fingerprints: (payload) => run({ task: 'fingerprints', payload }) as Promise<string[]>,
    prove: (payload, report, signal) => run({ task: 'proof', payload }, report, signal) as Promise<ProveResult>,
    writeReturn: (payload, report, signal) => run({ task: 'return', payload }, report, signal) as Promise<ReturnResult>,
    makeProxies: (payload, report, signal) => run({ task: 'proxies', payload }, report, signal) as Promise<ProxiesResult>,
    measureChecksums: (payload, report, signal) => run({ task: 'checksums', payload }, report, signal) as Promise<MeasuredChecksum[]>,
    render: (payload, report, signal) => run({ task: 'render', payload }, report, signal) as Promise<RenderResult>,
    writeStills: (payload, report, signal) => run({ task: 'stills', payload }, report, signal) as Promise<StillsResult>,
    draw: (payload) => look({ task: 'draw', payload }) as Promise<Uint8Array>,
    still: (payload) => look({ task: 'still', payload }) as Promise<Uint8Array>,
    close: async () => {
      await Promise.all([long.destroy(), pictures.destroy()]);
    },
  };
}

/** The value of an answer; a fault is thrown again as what it was on the thread. */
function resultOf(answer: Answer): unknown {
  if ('value' in answer) return answer.value;
  throw answer.fault === 'stopped' ? new Stopped(answer.message) : new MediaError(answer.message);
}
