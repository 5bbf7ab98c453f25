import type { MessagePort } from 'node:worker_threads';
import { renderReference, renderTake } from './render';
import type { Take } from './scenario';

export type DemoJob =
  | { readonly kind: 'take'; readonly take: Take; readonly media: string; readonly proxies: string }
  | { readonly kind: 'reference'; readonly file: string; readonly guide: string };

/** Entry point of a drawing thread. The port hears of every frame. */
export default async function work({ job, port }: { job: DemoJob; port: MessagePort }): Promise<void> {
  const tick = () => port.postMessage(1);
  if (job.kind === 'take') await renderTake(job.take, job.media, job.proxies, tick);
  else await renderReference(job.file, job.guide, tick);
}
