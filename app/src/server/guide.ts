import { fileMark } from '@gemello/core';
import type { Guide } from '@gemello/media';
import { eq } from 'drizzle-orm';
import { write } from './db/open';
import { guideSounds } from './db/schema';
import { decided, deliveredFile } from './jobs';
import { mediaThreads } from './media';
import { mustBeJob, workspace } from './workspace';

/** Takes a file on this machine as guide sound: one below the folders that may be looked into, or one that was uploaded. It is only read. */
export async function addGuide(jobId: string, file: string): Promise<void> {
  await keepGuide(jobId, await mediaThreads().probeGuide(await deliveredFile(jobId, file)));
}

async function keepGuide(jobId: string, { sound, beginsAt }: Guide): Promise<void> {
  const values = { data: sound, beginsAt };
  await write((tx) =>
    tx
      .insert(guideSounds)
      .values({ jobId, ...values })
      .onConflictDoUpdate({ target: guideSounds.jobId, set: values }),
  );
  decided(jobId);
}

/** Looks whether the guide sound is still the file it was; one that was replaced under its name is heard from now on. */
export async function refreshGuide(jobId: string): Promise<void> {
  const { guide } = await workspace(jobId);
  if (!guide) return;
  const now = await mediaThreads()
    .probeGuide(guide.sound.path)
    .catch(() => null);
  if (now && fileMark(now.sound) !== fileMark(guide.sound)) await keepGuide(jobId, now);
}

/** Lets go of the guide sound; its file stays where it is. */
export async function removeGuide(jobId: string): Promise<void> {
  await mustBeJob(jobId);
  await write((tx) => tx.delete(guideSounds).where(eq(guideSounds.jobId, jobId)));
  decided(jobId);
}
