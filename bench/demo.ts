import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { generateDemo, seedDemo } from '@gemello/demo';
import { type Figure, inFolder } from './measure';
import { ask, BASE, serve, stop } from './server';

/** An event of the demo's cut that has an original. */
export interface Row {
  readonly id: string;
  readonly recordFrames: { readonly in: number; readonly out: number };
  /** `short`: its original lacks frames, of which there is no picture. */
  readonly state: string;
  readonly chosen: { readonly path: string; readonly sourceStartFrame: number } | null;
}

/** A desk of its own with the demo on it, all that has an original paired; gone when the work with it is done. Needs `npm run build`. */
export function onDemoDesk(work: (job: string, rows: readonly Row[]) => Promise<Figure[]>): Promise<Figure[]> {
  return inFolder(async (folder) => {
    const root = path.dirname(path.dirname(fileURLToPath(import.meta.url)));
    const paths = await generateDemo(path.join(root, '.data', 'demo'), () => {});
    const server = await serve(folder);
    try {
      const id = await seedDemo(BASE, paths);
      const { rows } = (await ask('GET', `/api/jobs/${id}/ledger?as=rows`)) as { rows: Row[] };
      const shown = rows.filter((r) => r.chosen);
      const pairs = shown.map((r) => ({
        kind: 'pair',
        event: r.id,
        original: r.chosen?.path,
        sourceStartFrame: r.chosen?.sourceStartFrame,
      }));
      await ask('POST', `/api/jobs/${id}/decisions`, JSON.stringify({ decisions: pairs }));
      return await work(
        id,
        shown.filter((r) => r.state !== 'short'),
      );
    } finally {
      await stop(server);
    }
  });
}

/** The addresses of so many pictures of a job, all over its events; `shift` gives others. */
export const picturesOf = (id: string, rows: readonly Row[], many: number, shift: number): string[] =>
  Array.from({ length: many }, (_, i) => {
    const row = rows[(i * 7) % rows.length] as Row;
    const { in: from, out } = row.recordFrames;
    const frame = from + ((Math.floor((i * 7) / rows.length) * 5 + shift * 3 + 1) % Math.max(1, out - from));
    return `${BASE}/api/jobs/${id}/picture?side=event&event=${encodeURIComponent(row.id)}&frame=${frame}&width=320`;
  });

/** What so many of a hundred stay below. */
export const share = (times: readonly number[], hundredths: number): number =>
  [...times].sort((a, b) => a - b)[Math.floor((times.length * hundredths) / 100)] ?? Number.NaN;
