import { comeHome, fileMark, type Original, type PicturePlace } from '@gemello/core';
import type { HomecomingView } from '../contract/homecoming';
import { clipsFromElsewhere, type Recognised } from './elsewhere';
import { addVolume, decide } from './jobs';
import { allTasks, startTask } from './tasks/runner';
import { workspace } from './workspace';

/** Where pictures of clips were found, of files that are still what they were. */
async function placesOf(jobId: string, clips: readonly Original[]): Promise<Map<string, PicturePlace>> {
  const marks = new Map(clips.map((c) => [c.path, fileMark(c)]));
  const places = new Map<string, PicturePlace>();
  // The newest first.
  for (const { kind, state, result } of await allTasks(jobId)) {
    if (kind !== 'recognise' || state !== 'done') continue;
    for (const { path, mark, place } of (result as { seen: readonly Recognised[] }).seen)
      if (place && !places.has(path) && marks.get(path) === mark) places.set(path, place);
  }
  return places;
}

/** Which events the clips belong to that were made elsewhere, as far as they can be read now. */
export async function homecomingView(jobId: string): Promise<HomecomingView> {
  const w = await workspace(jobId);
  const { list, log } = w;
  const said = new Map(log.decisions.flatMap((d) => (d.kind === 'made-elsewhere' ? [[d.folder, d.is] as const] : [])));
  const folders = [...said].flatMap(([folder, is]) => (is ? [folder] : []));
  if (!list) return { folders, back: [], out: [], strangers: [] };
  const { clips, known } = clipsFromElsewhere(w);
  return { folders, ...comeHome(list, known, clips, await placesOf(jobId, clips)) };
}

/** Adds a folder as a volume of what was made elsewhere, which is said before anything in it is found: nothing of it is ever taken for an original. */
export async function takeIn(jobId: string, folder: string): Promise<{ task: string }> {
  const id = await addVolume(jobId, folder);
  const { volumes } = await workspace(jobId);
  // As it is known to the job: links in its path are followed.
  const path = volumes.find((v) => v.id === id)?.path ?? folder;
  await decide(jobId, [{ kind: 'made-elsewhere', folder: path, is: true }]);
  return { task: await startTask(jobId, { kind: 'scan', volumes: [id] }) };
}
