import { onDemoDesk, picturesOf, type Row, share } from './demo';
import { type Figure, seconds } from './measure';
import { answered, ask } from './server';

const PICTURES = 60;

/** How long a picture is waited for while scan, proof and render run, against nothing running. On the demo's footage; needs `npm run build`. */
export const waits = (): Promise<Figure[]> =>
  onDemoDesk(async (id, rows) => {
    const quiet = await waited(id, rows, 0);
    for (const task of [{ kind: 'scan' }, { kind: 'proof' }, { kind: 'review' }])
      await ask('POST', `/api/jobs/${id}/tasks`, JSON.stringify(task));
    const busy = await waited(id, rows, 1);
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
  });

/** The 95th of a hundred waits, in seconds, for pictures that were never asked for and for the same again. */
async function waited(id: string, rows: readonly Row[], shift: number): Promise<{ cold: number; again: number }> {
  const addresses = picturesOf(id, rows, PICTURES, shift);
  const round = async () => {
    const times: number[] = [];
    for (const address of addresses) times.push(await seconds(() => answered(address)));
    return share(times, 95);
  };
  return { cold: await round(), again: await round() };
}
