import { expose } from 'comlink';
import { openViewer, type Told, type Viewer } from './viewer';

/** The viewer on a thread of its own, so that decoding and drawing never hold up the page. */
let viewer: Viewer | null = null;

const thread = {
  /** Takes the canvas it draws onto. False where it cannot draw. */
  begin(canvas: OffscreenCanvas, job: string, tell: (told: Told) => void): boolean {
    viewer = openViewer(canvas, job, tell);
    return viewer !== null;
  },
  load: (...args: Parameters<Viewer['load']>) => viewer?.load(...args),
  lay: (...args: Parameters<Viewer['lay']>) => viewer?.lay(...args),
  learn: (...args: Parameters<Viewer['learn']>) => viewer?.learn(...args),
  show: (...args: Parameters<Viewer['show']>) => viewer?.show(...args),
  compare: (...args: Parameters<Viewer['compare']>) => viewer?.compare(...args),
  play: (...args: Parameters<Viewer['play']>) => viewer?.play(...args),
  stop: () => viewer?.stop(),
  read: (...args: Parameters<Viewer['read']>) => viewer?.read(...args) ?? null,
  keep: () => viewer?.keep() ?? null,
  scope: (...args: Parameters<Viewer['scope']>) => viewer?.scope(...args) ?? null,
  open: () => viewer?.open() ?? { frames: 0, textures: 0 },
  close: () => viewer?.close(),
};
export type ViewerThread = typeof thread;

expose(thread);
