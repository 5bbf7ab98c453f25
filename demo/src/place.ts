import { createHash } from 'node:crypto';
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';

/** Where the demo's files lie. */
export interface DemoPaths {
  readonly root: string;
  /** Camera originals, one folder a volume. */
  readonly media: string;
  readonly proxies: string;
  readonly list: string;
  /** The same cut exported a second time, as interchange XML. */
  readonly second: string;
  readonly reference: string;
  /** The guide sound, which the reference carries too. */
  readonly guide: string;
  /** A volume that is not mounted yet: move its folder into `media` to mount it. */
  readonly unmounted: string;
}

export function demoPaths(root: string): DemoPaths {
  const turnover = path.join(root, 'turnover');
  return {
    root,
    media: path.join(root, 'media'),
    proxies: path.join(root, 'proxies'),
    list: path.join(turnover, 'salt_year_v04.edl'),
    second: path.join(turnover, 'salt_year_v04.xml'),
    reference: path.join(turnover, 'salt_year_v04_ref.mp4'),
    guide: path.join(turnover, 'salt_year_v04_guide.wav'),
    unmounted: path.join(root, 'unmounted'),
  };
}

/** Changes whenever the code that draws or writes the demo does. */
export function version(): string {
  const hash = createHash('sha256');
  const here = path.dirname(fileURLToPath(import.meta.url));
  const engine = path.dirname(fileURLToPath(import.meta.resolve('@gemello/media/engine')));
  for (const folder of [here, path.join(here, 'scenes'), engine])
    for (const name of readdirSync(folder).sort()) if (name.endsWith('.ts')) hash.update(readFileSync(path.join(folder, name)));
  return hash.digest('hex').slice(0, 16);
}

/** What says by which code the demo below a folder was made. */
export const stampFile = (root: string): string => path.join(root, 'made.txt');

/** True when the demo below a folder was made by the code as it is now. */
export const isCurrent = (root: string): boolean => existsSync(stampFile(root)) && readFileSync(stampFile(root), 'utf8') === version();
