import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { RATES } from '@gemello/core';
import { afterAll, expect, it, vi } from 'vitest';
import { writeClip } from '../../../../media/test/footage';

const folder = mkdtempSync(path.join(tmpdir(), 'gemello-awake-'));
process.env.GEMELLO_DATA = path.join(folder, 'desk');
process.env.GEMELLO_LOG = 'silent';

/** How often the drive does not answer before it does. */
let asleep = 0;
vi.mock('../drives', async (original) => {
  const real = await original<typeof import('../drives')>();
  return { ...real, whereaboutsOf: async (file: string) => (asleep > 0 && asleep-- > 0 ? 'silent' : real.whereaboutsOf(file)) };
});
const jobs = await import('../jobs');
const { scanVolumes } = await import('./kinds/scan');
const { mediaThreads } = await import('../media');
const { drives } = await import('../drives');
afterAll(async () => {
  await mediaThreads().close();
  await drives().close();
  rmSync(folder, { recursive: true, force: true });
});

it('a scan waits for a drive that is asleep, and says what it waits for', async () => {
  const cards = path.join(folder, 'cards');
  writeClip(path.join(cards, 'A001C001.mov'), { writer: 'intra-8bit', rate: RATES['24'], reel: 'A001', start: '01:00:00:00', frames: 4 });
  const job = await jobs.createJob('Asleep');
  await jobs.addVolume(job, cards);
  const told: string[] = [];
  const scan = () => scanVolumes(job, null, ({ what }) => void told.push(what), new AbortController().signal);
  asleep = 3;
  expect((await scan()).message).toBe('1 original found');
  expect(told).toContain('waiting for cards');
  // One that does not wake up is named, and what is known of it stays.
  asleep = 1000;
  expect((await scan()).message).toBe('0 originals found; not answering: cards');
}, 40_000);
