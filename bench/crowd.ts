import { onDemoDesk, picturesOf, share } from './demo';
import { type Figure, seconds } from './measure';
import { answered, ask, BASE } from './server';

/** Clients that ask at once, and how often each; the first few small answers are those while the proof begins. */
const [CLIENTS, SMALL, FIRST, PICTURES] = [20, 400, 40, 10];

/** How long twenty clients wait while a proof runs: for a small answer, for the job, for pictures never drawn, and for the same again; one alone with nothing running is the yardstick. */
export const crowd = (): Promise<Figure[]> =>
  onDemoDesk(async (id, rows) => {
    const small = Array.from({ length: SMALL }, () => `${BASE}/api/jobs/${id}/filters`);
    const job = Array.from({ length: FIRST }, () => `${BASE}/api/jobs/${id}`);
    const alone = {
      small: await asked(small),
      job: await asked(job),
      cold: await asked(picturesOf(id, rows, PICTURES, 7)),
      again: await asked(picturesOf(id, rows, PICTURES, 7)),
    };
    await ask('POST', `/api/jobs/${id}/tasks`, JSON.stringify({ kind: 'proof' }));
    const all = picturesOf(id, rows, CLIENTS * PICTURES, 1);
    const together = (of: (client: number) => string[]) => Promise.all(Array.from({ length: CLIENTS }, (_, client) => asked(of(client))));
    const share20 = (client: number) => all.slice(client * PICTURES, (client + 1) * PICTURES);
    const answers = await together(() => small);
    const crowded = {
      first: answers.map((of) => of.slice(0, FIRST)),
      small: answers,
      job: await together(() => job),
      cold: await together(share20),
      again: await together(share20),
    };
    const { tasks } = (await ask('GET', `/api/jobs/${id}`)) as { tasks: { id: string; kind: string }[] };
    for (const task of tasks) await ask('DELETE', `/api/jobs/${id}/tasks/${task.id}`);
    const still = tasks.some((t) => t.kind === 'proof') ? 'the proof still at work at the end' : 'the proof had ended before';
    const figure = (name: string, of: keyof typeof crowded, against: keyof typeof alone, asks: string | null): Figure => ({
      name: `${CLIENTS} clients during a proof: ${name}`,
      ours: share(crowded[of].flat(), 95),
      yardstick: share(alone[against], 95),
      yardstickName: 'one alone, nothing running',
      note: `95th of a hundred; ${asks ? `asked ${asks}; ` : ''}middle ${Math.round(share(crowded[of].flat(), 50) * 1000)} ms; ${still}`,
    });
    return [
      figure('a small answer', 'small', 'small', 'under 50 ms'),
      figure('a small answer, while the proof begins', 'first', 'small', null),
      figure('the job, for which its drives are looked at', 'job', 'job', null),
      figure('a picture never drawn before', 'cold', 'cold', 'under 1 s'),
      figure('a picture drawn before', 'again', 'again', 'under 300 ms'),
    ];
  });

/** How long each of these addresses is waited for, one after the other, in seconds. */
async function asked(addresses: readonly string[]): Promise<number[]> {
  const times: number[] = [];
  for (const address of addresses) times.push(await seconds(() => answered(address)));
  return times;
}
