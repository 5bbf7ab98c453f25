import type { Original } from '@gemello/core';
import { proxy, type Remote, transfer, wrap } from 'comlink';
import type { ConformView } from '../../contract/ledger';
import type { Told } from './viewer';
import type { ViewerThread } from './viewer.worker';

/** Another version of the cut that a side shows, and an original that is only tried. */
export interface Borrowed {
  readonly version: { readonly list: string; readonly view: ConformView | null } | null;
  readonly stranger: { readonly original: Original; readonly look: string } | null;
}

/** The viewer of a page: a canvas, and the thread that draws onto it. */
export interface Kept {
  readonly thread: Remote<ViewerThread>;
  /** False where it cannot draw. */
  readonly ready: Promise<boolean>;
  /** Puts the canvas where it is shown now; it begins to draw where it first is. */
  moveTo(element: HTMLElement): void;
  /** Calls whoever shows the canvas now. */
  hear(listener: ((told: Told) => void) | null): void;
  /** Hands over what the thread does not have yet. */
  load(conform: ConformView | null, look: string, borrowed: Borrowed): Promise<void>;
}

let kept: { readonly job: string; readonly viewer: Kept; lost(): boolean; close(): void } | null = null;

/**
 * The viewer of a job. There is one on a page, and it is kept while stages change: the canvas moves to where it is shown next,
 * with all that the thread holds of the cut. One of another job is closed, and one whose thread could not be fetched, as while the server is away.
 */
export function viewerOf(job: string): Kept {
  if (kept?.job === job && !kept.lost()) return kept.viewer;
  kept?.close();
  kept = { job, ...openKept(job) };
  return kept.viewer;
}

function openKept(job: string): Omit<NonNullable<typeof kept>, 'job'> {
  const worker = new Worker(new URL('./viewer.worker.ts', import.meta.url), { type: 'module' });
  const thread = wrap<ViewerThread>(worker);
  const canvas = document.createElement('canvas');
  canvas.className = 'block w-full h-full bg-black';
  Object.assign(canvas, { viewer: thread });
  let begun = false;
  let lost = false;
  let tell: (can: boolean) => void = () => {};
  const ready = new Promise<boolean>((resolve) => {
    tell = resolve;
  });
  // Its script could not be fetched: one that has begun answers, whatever it can draw on.
  worker.onerror = () => {
    lost = true;
    tell(false);
  };
  void ready.then(() => {
    worker.onerror = null;
  });
  let listener: ((told: Told) => void) | null = null;
  const hear = proxy((told: Told) => listener?.(told));
  let has: { conform?: ConformView | null; look?: string } & Partial<Borrowed> = {};
  const viewer: Kept = {
    thread,
    ready,
    moveTo(element) {
      element.replaceChildren(canvas);
      if (begun) return;
      begun = true;
      const offscreen = canvas.transferControlToOffscreen();
      void thread.begin(transfer(offscreen, [offscreen]), job, hear).then(tell, () => tell(false));
    },
    hear(to) {
      listener = to;
    },
    async load(conform, look, { version, stranger }) {
      const had = has;
      has = { conform, look, version, stranger };
      if (version && version !== had.version) void thread.lay(version.list, version.view);
      if (stranger && stranger !== had.stranger) void thread.learn([stranger.original], { [stranger.original.path]: stranger.look });
      if (conform !== had.conform || look !== had.look) await thread.load(conform, look);
    },
  };
  const close = () => (lost ? worker.terminate() : void thread.close().finally(() => worker.terminate()));
  return { viewer, lost: () => lost, close };
}
