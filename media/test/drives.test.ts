import { mkdirSync, readdirSync, symlinkSync } from 'node:fs';
import path from 'node:path';
import { afterAll, describe, expect, it } from 'vitest';
import { NotAnswering, openDrives } from '../src';
import { scratch } from './scratch';

const { folder, at, put, end } = scratch();
const drives = openDrives(new URL('./fakes/hanging.ts', import.meta.url), 300);
afterAll(async () => {
  await drives.close();
  end();
});
put('CARD/.hidden/note.txt', '');
put('CARD/A001/clip.txt', '');
put('CARD/log.csv', 'clip,reel\n');
symlinkSync(at('CARD'), at('link'));

describe('what stands on a drive', () => {
  it('is a folder, a file or nothing, links resolved', async () => {
    expect(await drives.at(at('link'))).toMatchObject({ kind: 'folder', real: at('CARD') });
    expect(await drives.at(at('CARD/log.csv'))).toMatchObject({ kind: 'file' });
    expect(await drives.at(at('nowhere'))).toBeNull();
    expect(await drives.foldersIn(at('CARD'))).toEqual([at('CARD/A001')]);
    expect(await drives.foldersIn(at('nowhere'))).toBeNull();
    expect(await drives.textOf(at('CARD/log.csv'), 100)).toBe('clip,reel\n');
    expect(await drives.textOf(at('CARD/log.csv'), 3)).toBeNull();
  });
});

it('many who ask at once are answered by few looks, and whoever asks later sees what changed meanwhile', async () => {
  const first = Promise.all(Array.from({ length: 50 }, () => drives.at(at('CARD/log.csv'))));
  expect(new Set((await first).map((p) => p?.stamp)).size).toBe(1);
  put('CARD/log.csv', 'clip,reel,scene\n');
  const [before] = await first;
  expect((await drives.at(at('CARD/log.csv')))?.stamp).not.toBe(before?.stamp);
});

it('many places at once are looked at by the threads that are there', async () => {
  const threads = () => readdirSync('/proc/self/task').length;
  const before = threads();
  expect(await Promise.all(Array.from({ length: 60 }, (_, i) => drives.at(at(`nothing-${i}`))))).toEqual(Array(60).fill(null));
  // Node itself may begin some for files; each that looks at drives would be two with its loader.
  expect(threads()).toBeLessThan(before + 8);
});

describe('a drive that hangs', () => {
  it('is said not to answer, keeps nobody else waiting, and is heard when it answers again', async () => {
    const hung = at('hangs');
    mkdirSync(hung);
    let turns = 0;
    const timer = setInterval(() => turns++, 5);
    await expect(drives.at(hung)).rejects.toThrow(NotAnswering);
    clearInterval(timer);
    // A thread that was held itself for those 300 ms would have had no turn or one.
    expect(turns).toBeGreaterThan(3);
    // Whatever lies on it is not asked for meanwhile; all else is.
    const first = await Promise.race([
      drives.at(path.join(hung, 'A001')).catch((error: Error) => error.message),
      new Promise((resolve) => setTimeout(() => resolve('waited for'), 250)),
    ]);
    expect(first).toContain('does not answer');
    expect(await drives.at(at('CARD'))).toMatchObject({ kind: 'folder', real: path.join(folder, 'CARD') });
    put('hangs.awake', '');
    await expect.poll(() => drives.at(hung).catch(() => null), { timeout: 20_000 }).toMatchObject({ kind: 'folder', real: hung });
  });
});

it('a drive is not blamed for a thread that starts late', async () => {
  const late = openDrives(new URL('./fakes/late.ts', import.meta.url), 300);
  try {
    // Two threads are there; both hang, and another one has to start.
    const hung = ['hangs-a', 'hangs-b'].map((name) => late.at(at(name)));
    for (const one of hung) await expect(one).rejects.toThrow(NotAnswering);
    const asked = performance.now();
    expect(await late.at(at('CARD'))).toMatchObject({ kind: 'folder' });
    expect(performance.now() - asked).toBeGreaterThan(400);
  } finally {
    await late.close();
  }
});
