import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { generateDemo, seedDemo } from '@gemello/demo';
import { type Figure, inFolder, seconds } from './measure';
import { ask, BASE, serve, stop } from './server';

const PICTURES = 60;

interface Row {
  readonly id: string;
  readonly recordFrames: { readonly in: number; readonly out: number };
  readonly chosen: { readonly path: string; readonly sourceStartFrame: number } | null;
}

/** How long a picture is waited for while scan, proof and render run, against nothing running. On the demo's footage; needs `npm run build`. */
export function waits(): Promise<Figure[]> {
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
      const quiet = await picturesOf(id, shown, 0);
      for (const task of [{ kind: 'scan' }, { kind: 'proof' }, { kind: 'review' }])
        await ask('POST', `/api/jobs/${id}/tasks`, JSON.stringify(task));
      const busy = await picturesOf(id, shown, 1);
      const { tasks } = (await ask('GET', `/api/jobs/${id}`)) as { tasks: { id: string; kind: string }[] };
      for (const task of tasks) await ask('DELETE', `/api/jobs/${id}/tasks/${task.id}`);
      const still =
        tasks.length > 0 ? `${tasks.map((t) => t.kind).join(', ')} still at work at the end` : 'all had ended before the last picture';
      const figure = (name: string, of: 'cold' | 'again'): Figure => ({
        name,
        ours: busy[of],
        yardstick: quiet[of],
        yardstickName: 'with nothing running',
        note: `95th of 100; ${still}`,
      });
      return [
        figure('a picture while scan, proof and render run: never drawn before', 'cold'),
        figure('a picture while scan, proof and render run: drawn before', 'again'),
      ];
    } finally {
      await stop(server);
    }
  });
}

/** The 95th of a hundred waits, in seconds, for pictures that were never asked for and for the same again. */
async function picturesOf(id: string, rows: readonly Row[], shift: number): Promise<{ cold: number; again: number }> {
  const addresses = Array.from({ length: PICTURES }, (_, i) => {
    const row = rows[(i * 7) % rows.length] as Row;
    const { in: from, out } = row.recordFrames;
    const frame = from + ((Math.floor((i * 7) / rows.length) * 5 + shift * 3 + 1) % Math.max(1, out - from));
    return `${BASE}/api/jobs/${id}/picture?side=event&event=${encodeURIComponent(row.id)}&frame=${frame}&width=320`;
  });
  const round = async () => {
    const times: number[] = [];
    for (const address of addresses) times.push(await seconds(async () => (await fetch(address)).arrayBuffer()));
    return times.sort((a, b) => a - b)[Math.floor(times.length * 0.95)] ?? Number.NaN;
  };
  return { cold: await round(), again: await round() };
}
