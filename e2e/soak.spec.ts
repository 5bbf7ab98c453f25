import { execFile } from 'node:child_process';
import { appendFileSync, rmSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { createClient } from '@libsql/client';
import { expect, test } from '@playwright/test';
import { fallen } from '../soak/laws';
import { makeWorld } from '../soak/world';
import { PORTS } from './ports';

test('a minute of faults: all laws hold after each', async () => {
  const run = fileURLToPath(new URL('../soak/run.ts', import.meta.url));
  const asked = [run, '--minutes', '1', '--slice', '--again', '0', '--seed', '25', '--port', `${PORTS.soak}`];
  const { stdout, code } = await new Promise<{ stdout: string; code: number }>((resolve) =>
    execFile(process.execPath, ['--import', 'tsx', ...asked], (error, said) => resolve({ stdout: said, code: error ? 1 : 0 })),
  );
  console.log(stdout);
  expect(stdout).not.toContain('fell: ');
  expect(code).toBe(0);
});

test('the laws notice what breaks them', async () => {
  const world = await makeWorld(PORTS.laws, false);
  try {
    const [event] = world.events;
    const note = { kind: 'note', scope: { of: 'event', event }, text: 'note 1.1' };
    await world.server.ask('POST', `/api/jobs/${world.job}/decisions`, { decisions: [note] });
    world.acknowledged.add('note 1.1');
    expect(await fallen(world)).toEqual([]);
    const beside = path.join(world.cards, 'beside.txt');
    writeFileSync(beside, '');
    expect(await fallen(world)).toEqual(['something was written beside the originals']);
    rmSync(beside);
    const half = path.join(world.data, 'jobs', world.job, '.half-clip.mov');
    writeFileSync(half, '');
    expect(await fallen(world)).toEqual(['half a file is left behind: .half-clip.mov']);
    rmSync(half);
    appendFileSync(path.join(world.cards, 'A001C001.mov'), 'x');
    expect(await fallen(world)).toEqual(['A001C001.mov was changed']);
    await world.server.kill();
    const db = createClient({ url: `file:${path.join(world.data, 'gemello.db')}` });
    await db.execute("DELETE FROM decisions WHERE decision LIKE '%note 1.1%'");
    db.close();
    await world.server.start();
    expect(await fallen(world)).toContain('an acknowledged decision is lost: note 1.1');
  } finally {
    await world.end();
  }
});
