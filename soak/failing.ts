import { anyOf, notes, pause, type Round } from './rounds';
import type { Drives, World } from './world';
import { untilIdle } from './world';

/** The longest that anyone waits for an answer: one that has nothing to do with any drive, and one that a drive is asked for first (media/src/drives.ts gives it 3 s), in milliseconds. */
const PATIENCE = { desk: 1500, job: 6000 } as const;
/** How long a drive is as it should not be, in milliseconds. */
const FOR = 1500;

/** Asks for the desk and the job, again and again, while something is wrong; gives who waited too long. */
async function answered({ server, job }: World, what: string): Promise<string[]> {
  const until = Date.now() + FOR;
  const asking = async (of: keyof typeof PATIENCE, address: string): Promise<string[]> => {
    const fell: string[] = [];
    for (; Date.now() < until; await pause(100)) {
      const asked = Date.now();
      const answer = await server.ask('GET', address);
      const waited = Date.now() - asked;
      if (answer?.status !== 200) fell.push(`the ${of} was answered by ${answer?.status} while ${what}`);
      else if (waited > PATIENCE[of]) fell.push(`the ${of} was answered after ${waited} ms while ${what}`);
    }
    return fell;
  };
  return (await Promise.all([asking('desk', '/api/jobs'), asking('job', `/api/jobs/${job}`)])).flat();
}

/** Work that reads the cards. */
const WORK = [
  { kind: 'scan', volumes: null },
  { kind: 'proof', events: null },
  { kind: 'copies' },
  { kind: 'return', handles: 4, title: 'DRIVE', render: true },
];

/** Once a drive is as it should be again, a scan finds all as it was. */
async function allThere({ server, job }: World): Promise<string[]> {
  if (!(await untilIdle(server, job))) return ['work did not end after the drive was well again'];
  await server.ask('POST', `/api/jobs/${job}/tasks`, { kind: 'scan', volumes: null });
  if (!(await untilIdle(server, job))) return ['a scan did not end after the drive was well again'];
  const rows: { state: string }[] = (await server.ask('GET', `/api/jobs/${job}/ledger?as=rows`))?.said.rows ?? [];
  const states = rows.map((r) => r.state);
  return states.length > 0 && states.every((s) => s === 'paired') ? [] : [`the drive is well again, and events are ${states.join(', ')}`];
}

/** The cards fail in the middle of some work, and are well again. */
const cards =
  (mode: 'hung' | 'slow' | 'gone' | 'short', what: string) =>
  (drives: Drives): Round =>
  async (world, random) => {
    world.returns.add('DRIVE');
    await world.server.ask('POST', `/api/jobs/${world.job}/tasks`, anyOf(WORK, random));
    await pause(random() * 400);
    drives.cards.be(mode);
    const fell = await answered(world, what);
    drives.cards.be('well');
    return [...fell, ...(await allThere(world))];
  };

/** The server's own folder cannot be written to in the middle of a return while a person decides: what is acknowledged is kept, and all goes on afterwards. */
const disk =
  (mode: 'full' | 'read-only', what: string) =>
  (drives: Drives): Round =>
  async (world, random, number) => {
    const title = `${mode}${number}`;
    world.returns.add(title);
    await world.server.ask('POST', `/api/jobs/${world.job}/tasks`, { kind: 'return', handles: 4, title, render: true });
    await pause(random() * 400);
    drives.disk.be(mode);
    const [fell] = await Promise.all([answered(world, what), notes(world, random, number)]);
    drives.disk.be('well');
    const there = await allThere(world);
    const before = world.acknowledged.size;
    await notes(world, random, number + 0.5);
    return [...fell, ...there, ...(world.acknowledged.size > before ? [] : ['nothing can be decided after the drive was well again'])];
  };

/** Rounds that need drives of our own. */
export const ON_DRIVES: Readonly<Record<string, (drives: Drives) => Round>> = {
  'cards that hang': cards('hung', 'the cards hung'),
  'cards that are slow': cards('slow', 'the cards were slow'),
  'cards that are pulled out': cards('gone', 'the cards were pulled out'),
  'cards whose files end in their middle': cards('short', 'the files were cut short'),
  'a disk that is full': disk('full', 'the disk was full'),
  'a disk that cannot be written to': disk('read-only', 'the disk could not be written to'),
};
