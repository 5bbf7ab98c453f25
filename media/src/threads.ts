import { availableParallelism } from 'node:os';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { MessageChannel } from 'node:worker_threads';
import {
  type Colours,
  type Cutting,
  type Delivery,
  type EventProof,
  LIST_FORMATS,
  type LogReading,
  type MeasuredChecksum,
  type Original,
  type readDecisionsFile,
  type Written,
} from '@gemello/core';
import { Piscina } from 'piscina';
import { DiskRefuses, MediaError } from './plain';
import type { Guide } from './probe/sound';
import type { ProofBasis, ReferenceLaid } from './tasks/against';
import type { ReturnCheck, ReturnCheckPayload } from './tasks/check';
import type { ChecksumsPayload } from './tasks/checksums';
import type { ComparePayload, EventLooks } from './tasks/compare';
import type { CopyPayload } from './tasks/copies';
import type { CutsPayload } from './tasks/cuts';
import type { Fingerprinted } from './tasks/fingerprints';
import type { PeaksPayload, PiecePayload } from './tasks/heard';
import type { MixMeasured, MixPayload } from './tasks/mix';
import type { ProofSummary, ProvePayload } from './tasks/prove';
import type { ProxiesPayload, ProxiesResult } from './tasks/proxies';
import type { RebuildBasis, RebuildLaid, ShotsFound, ShotsPayload } from './tasks/rebuild';
import type { RenderPayload, RenderResult } from './tasks/render';
import type { ReportPayload } from './tasks/report';
import type { ReturnResult } from './tasks/return';
import type { ClipDone, ReturnPayload, Share } from './tasks/return-clips';
import type { ScanPayload, ScanSummary } from './tasks/scan';
import type { SearchPayload, SearchResult } from './tasks/search';
import type { StillsPayload, StillsResult } from './tasks/stills';
import { type FileFault, type Report, Stopped } from './tasks/task';
import type {
  Answer,
  ColoursPayload,
  DrawPayload,
  JoinsPayload,
  Message,
  ReadListPayload,
  ReadLogPayload,
  SentDelivery,
  StillPayload,
  Work,
  WorkOrder,
  WriteListPayload,
} from './worker';

/** True where this is run as it is written, and not as JavaScript that was made of it (scripts/bundle.mjs). */
const asWritten = import.meta.url.endsWith('.ts');

/**
 * How a thread is started that begins with a file of this folder, by its name: as JavaScript where that was made of it, since a thread that
 * reads TypeScript takes four times as long to start; else as written.
 */
export function threadFrom(name: 'thread' | 'look') {
  const { GEMELLO_THREADS: made } = process.env;
  if (made) return { filename: path.join(made, `${name}.mjs`), execArgv: [] };
  return { filename: fileURLToPath(new URL(asWritten ? `./${name}.ts` : `./${name}.mjs`, import.meta.url)), execArgv: loader() };
}

/** What Node is told so that it reads TypeScript. */
export const loader = (): string[] => (asWritten ? ['--import', new URL('./typescript.mjs', import.meta.url).href] : []);

/** Work that a person waits for has threads of its own, which nothing else is given. */
export const LANES = ['waited', 'background'] as const;
export type Lane = (typeof LANES)[number];

/** How a piece of work is to be done; all of it may be left out. */
export interface How {
  readonly report?: Report | undefined;
  readonly signal?: AbortSignal | undefined;
  /** `background` where nothing else is said of long work. */
  readonly lane?: Lane;
}

/** Runs media work on threads, so that whoever calls stays free to answer. */
export interface MediaThreads {
  /** How many pieces of long work run at once. */
  readonly abreast: number;
  /** Reads what one movie file says of itself; rejects with a MediaError when it is no movie. */
  probe(file: string): Promise<Original>;
  probeGuide(file: string): Promise<Guide>;
  /** Originals are handed to `take` while the scan goes on, some at a time. */
  scan(payload: ScanPayload, take: (found: readonly Original[]) => void, how?: How): Promise<ScanSummary>;
  /** Quick fingerprints of clips, in their order. */
  fingerprints(clips: readonly Fingerprinted[]): Promise<string[]>;
  /** Makes what several threads prove from, where it is not kept already. */
  prepareProof(payload: ProofBasis, how?: How): Promise<ReferenceLaid>;
  /** Proofs are handed to `take` while the work goes on, some at a time. */
  proveEach(payload: ProvePayload, take: (proofs: readonly EventProof[]) => void, how?: How): Promise<ProofSummary>;
  search(payload: SearchPayload, how?: How): Promise<SearchResult>;
  /** What was seen of candidates is handed to `take` while the work goes on; gives the files that could not be read. */
  compareEach(payload: ComparePayload, take: (looks: readonly EventLooks[]) => void, how?: How): Promise<readonly FileFault[]>;
  /** Makes the viewing copy of one section of a clip; gives the number of frames it holds. */
  makeCopy(payload: CopyPayload, how?: How): Promise<number>;
  /** A piece of what is heard of a movie: left and right in turn, 48 000 a second. */
  hearPiece(payload: PiecePayload): Promise<Int16Array>;
  /** Writes how loud a movie is along its length; gives the number of points. */
  hearPeaks(payload: PeaksPayload, how?: How): Promise<number>;
  /** Finds cuts, dissolves and fades of a movie. */
  findCuts(payload: CutsPayload, how?: How): Promise<Cutting>;
  /** Finds how a reference lies and where it is cut, its shots in originals, and how they join (`rebuildWhole`). */
  prepareRebuild(payload: RebuildBasis, how?: How): Promise<RebuildLaid>;
  findShots(payload: ShotsPayload, how?: How): Promise<ShotsFound>;
  tellJoins(payload: JoinsPayload, how?: How): Promise<ShotsFound>;
  writeProofReport(payload: ReportPayload, how?: How): Promise<{ file: string }>;
  writeReturn(payload: ReturnPayload, how?: How): Promise<ReturnResult>;
  /** Makes a share of the clips of a return. */
  renderShare(payload: ReturnPayload & { readonly share: Share }, how?: How): Promise<readonly ClipDone[]>;
  /** Looks at the folder of a return, whoever wrote it. */
  checkReturn(payload: ReturnCheckPayload, how?: How): Promise<ReturnCheck>;
  makeProxies(payload: ProxiesPayload, how?: How): Promise<ProxiesResult>;
  measureChecksums(payload: ChecksumsPayload, how?: How): Promise<MeasuredChecksum[]>;
  /** Lays a mix against the guide sound of a movie. */
  measureMix(payload: MixPayload, how?: How): Promise<MixMeasured>;
  render(payload: RenderPayload, how?: How): Promise<RenderResult>;
  writeStills(payload: StillsPayload, how?: How): Promise<StillsResult>;
  /** A JPEG for a screen. */
  draw(payload: DrawPayload): Promise<Uint8Array>;
  /** Colours of some pictures, evenly picked. */
  colours(payload: ColoursPayload): Promise<Colours>;
  /** A PNG to be kept. */
  still(payload: StillPayload): Promise<Uint8Array>;
  readList(payload: ReadListPayload): Promise<Delivery>;
  writeList(payload: WriteListPayload): Promise<Written>;
  readLog(payload: ReadLogPayload): Promise<LogReading>;
  readDecisions(text: string): Promise<ReturnType<typeof readDecisionsFile>>;
  close(): Promise<void>;
}

/** A thread more is kept so long when it has nothing to do, in milliseconds: most work asks for it again. */
const IDLE = 20_000;
/** Work that was asked to stop is given this long, in milliseconds; then its thread is left to itself, and another one starts. */
const GRACE = 5000;
/** What a person looks at is waited for this long, in milliseconds: a drive that is asleep takes about ten seconds. */
const PATIENCE = 20_000;

/**
 * Opens the threads: as many for long work as there are cores, at low priority, and others for what a person waits for. Those of a lane are
 * started by its first work; those of the lanes in `soon` now, so that whoever asks first need not wait for it.
 */
export function openThreads(soon: readonly Lane[] = []): MediaThreads {
  const cores = availableParallelism();
  const options = { ...threadFrom('thread'), atomics: 'async' as const, idleTimeout: IDLE, minThreads: 1 };
  const start: Record<Lane, () => Piscina> = {
    background: () => new Piscina({ ...options, maxThreads: cores, env: { ...process.env, GEMELLO_NICE: '10' } }),
    waited: () => new Piscina({ ...options, maxThreads: Math.max(2, cores) }),
  };
  const pools = new Map<Lane, Piscina>();
  const threadsOf = (lane: Lane): Piscina => {
    const pool = pools.get(lane) ?? start[lane]();
    pools.set(lane, pool);
    return pool;
  };
  soon.forEach(threadsOf);

  const run = async (work: Work, how: How = {}, take?: (parts: readonly never[]) => void): Promise<unknown> => {
    const { report, signal, lane = 'background' } = how;
    const stop = new SharedArrayBuffer(4);
    const leave = new AbortController();
    let grace: NodeJS.Timeout | undefined;
    const raise = () => {
      Atomics.store(new Int32Array(stop), 0, 1);
      grace = setTimeout(() => leave.abort(), GRACE);
    };
    if (signal?.aborted) raise();
    signal?.addEventListener('abort', raise, { once: true });
    const { port1, port2 } = new MessageChannel();
    // The answer may overtake the last reports, which come by another way: both are waited for.
    const reported = new Promise<void>((resolve) => {
      port1.on('message', (message: Message) => {
        if (message === null) resolve();
        else if ('parts' in message) take?.(message.parts as readonly never[]);
        else report?.(message);
      });
      port1.once('close', resolve);
    });
    try {
      const order: WorkOrder = { ...work, stop, port: port2 };
      const answer = await threadsOf(lane).run(order, { transferList: [port2], signal: leave.signal });
      await reported;
      return resultOf(answer);
    } catch (error) {
      if (leave.signal.aborted) throw new Stopped('Stopped; what it was reading did not answer');
      throw error;
    } finally {
      clearTimeout(grace);
      signal?.removeEventListener('abort', raise);
      port1.close();
    }
  };
  const look = async (work: Work) => {
    const late = AbortSignal.timeout(PATIENCE);
    try {
      return resultOf(await threadsOf('waited').run(work, { signal: late }));
    } catch (error) {
      if (late.aborted)
        throw new MediaError(`What this is read from did not answer within ${PATIENCE / 1000} seconds. Is its drive asleep or gone?`);
      throw error;
    }
  };
  return {
    abreast: cores,
    probe: (file) => look({ task: 'probe', payload: { file } }) as Promise<Original>,
    probeGuide: (file) => look({ task: 'probe-guide', payload: { file } }) as Promise<Guide>,
    scan: (payload, take, how) => run({ task: 'scan', payload }, how, take) as Promise<ScanSummary>,
    fingerprints: (payload) => run({ task: 'fingerprints', payload }) as Promise<string[]>,
    prepareProof: (payload, how) => run({ task: 'prepare-proof', payload }, how) as Promise<ReferenceLaid>,
    proveEach: (payload, take, how) => run({ task: 'prove-each', payload }, how, take) as Promise<ProofSummary>,
    search: (payload, how) => run({ task: 'search', payload }, how) as Promise<SearchResult>,
    compareEach: (payload, take, how) => run({ task: 'compare', payload }, how, take) as Promise<readonly FileFault[]>,
    hearPiece: (payload) => run({ task: 'piece', payload }, { lane: 'waited' }) as Promise<Int16Array>,
    hearPeaks: (payload, how) => run({ task: 'peaks', payload }, how) as Promise<number>,
    makeCopy: (payload, how) => run({ task: 'copy', payload }, how) as Promise<number>,
    findCuts: (payload, how) => run({ task: 'cuts', payload }, how) as Promise<Cutting>,
    prepareRebuild: (payload, how) => run({ task: 'prepare-rebuild', payload }, how) as Promise<RebuildLaid>,
    findShots: (payload, how) => run({ task: 'find-shots', payload }, how) as Promise<ShotsFound>,
    tellJoins: (payload, how) => run({ task: 'tell-joins', payload }, how) as Promise<ShotsFound>,
    writeProofReport: (payload, how) => run({ task: 'proof-report', payload }, how) as Promise<{ file: string }>,
    measureMix: (payload, how) => run({ task: 'mix', payload }, how) as Promise<MixMeasured>,
    renderShare: (payload, how) => run({ task: 'return-share', payload }, how) as Promise<readonly ClipDone[]>,
    writeReturn: (payload, how) => run({ task: 'return', payload }, how) as Promise<ReturnResult>,
    checkReturn: (payload, how) => run({ task: 'check-return', payload }, how) as Promise<ReturnCheck>,
    makeProxies: (payload, how) => run({ task: 'proxies', payload }, how) as Promise<ProxiesResult>,
    measureChecksums: (payload, how) => run({ task: 'checksums', payload }, how) as Promise<MeasuredChecksum[]>,
    render: (payload, how) => run({ task: 'render', payload }, how) as Promise<RenderResult>,
    writeStills: (payload, how) => run({ task: 'stills', payload }, how) as Promise<StillsResult>,
    draw: (payload) => look({ task: 'draw', payload }) as Promise<Uint8Array>,
    colours: (payload) => look({ task: 'colours', payload }) as Promise<Colours>,
    still: (payload) => look({ task: 'still', payload }) as Promise<Uint8Array>,
    readList: async (payload) => asDelivery((await run({ task: 'read-list', payload }, { lane: 'waited' })) as SentDelivery),
    writeList: (payload) => run({ task: 'write-list', payload }, { lane: 'waited' }) as Promise<Written>,
    readLog: (payload) => run({ task: 'read-log', payload }, { lane: 'waited' }) as Promise<LogReading>,
    readDecisions: (text) =>
      run({ task: 'read-decisions', payload: { text } }, { lane: 'waited' }) as Promise<ReturnType<typeof readDecisionsFile>>,
    close: async () => {
      await Promise.all([...pools.values()].map((pool) => pool.destroy()));
    },
  };
}

const asDelivery = ({ list, files }: SentDelivery): Delivery => ({
  list,
  files: files.map((file) => ({ ...file, format: LIST_FORMATS.find((f) => f.name === file.format) ?? null })),
});

/** The value of an answer; a fault is thrown again as what it was on the thread. */
function resultOf(answer: Answer): unknown {
  if ('value' in answer) return answer.value;
  if ('needed' in answer) throw new DiskRefuses(answer.fault, answer.needed);
  throw answer.fault === 'media' ? new MediaError(answer.message) : new Stopped(answer.message);
}
