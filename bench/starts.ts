import { spawn, spawnSync } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { type Figure, inFolder, inTurn, seconds } from './measure';

const root = path.dirname(path.dirname(fileURLToPath(import.meta.url)));
const PORT = '4395';
const LIST = 'TITLE: A\n001  A001     V     C        01:00:00:04 01:00:00:16 10:00:00:00 10:00:00:12\n';

/** How long it takes until the command line and the demo do what they were started for, where nothing changed since. */
export function starts(): Promise<Figure[]> {
  return inFolder(async (folder) => {
    const list = path.join(folder, 'a.edl');
    writeFileSync(list, LIST);
    const node = (...args: string[]) => spawnSync(process.execPath, args, { stdio: 'ignore' });
    const read = () => node(path.join(root, 'cli', 'bin', 'gemello.mjs'), 'read', list, '--rate', '24');
    const command = await inTurn(read, () => node('-e', '0'), 11);
    await demoUp();
    const demo = await seconds(demoUp);
    return [
      {
        name: 'a call of the command line that reads a list of one event',
        ...command,
        yardstickName: 'bare node',
        note: `${(command.ours - command.yardstick).toFixed(3)} s more than bare node`,
      },
      {
        name: 'npm run demo a second time, until it prints its address',
        ours: demo,
        yardstick: command.yardstick,
        yardstickName: 'bare node',
        note: '',
      },
    ];
  });
}

/** Starts the demo, waits until its address is printed, and ends it. */
async function demoUp(): Promise<void> {
  const demo = spawn('npm', ['run', '--silent', 'demo', '--', '--port', PORT], {
    cwd: root,
    stdio: ['ignore', 'pipe', 'ignore'],
    detached: true,
  });
  await new Promise<void>((resolve) => demo.stdout.on('data', (text) => String(text).includes('Gemello is at') && resolve()));
  const ended = new Promise((resolve) => demo.once('exit', resolve));
  process.kill(-(demo.pid as number), 'SIGTERM');
  await ended;
}
