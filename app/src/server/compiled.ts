import { applyDecisions, compile, DEFAULT_RULES, type Original, pairCut, type Standing, withProposals } from '@gemello/core';
import type { ConformView, StrangerView } from '../contract/ledger';
import { database } from './db/open';
import { RequestError } from './http';
import { besideOf } from './lists';
import { readLog } from './log';
import { lookOfFiles } from './marks';
import { readingOf } from './readings';
import { type Workspace, workspace } from './workspace';

/**
 * Another version of the cut as it would stand: its list, with what was decided of the events it shares, and the best candidates of
 * the others. `shift` is added to its record frames to lay it on the cut. Throws RequestError where the two cannot be laid together.
 */
export async function versionView(jobId: string, listId: string): Promise<ConformView> {
  const { w, cut, shift } = await versionOf(jobId, listId);
  return viewOf(w, cut, shift);
}

export async function versionOf(jobId: string, listId: string): Promise<{ w: Workspace; cut: Standing; shift: number }> {
  const [w, { other, beside }] = await Promise.all([workspace(jobId), besideOf(jobId, listId)]);
  const moves = w.volumes.flatMap((v) => v.formerPaths.map((from) => ({ from, to: v.path })));
  const log = await readLog(await database(), jobId, moves, readingOf(other).events);
  const { list, rules, rulesOf, preference } = applyDecisions(other, log.decisions);
  const wish = { rules: rules ?? DEFAULT_RULES, rulesOf, preference, looksAt: new Map() };
  return { w, cut: withProposals(list, pairCut(list, w.index, wish).pairings), shift: beside.shift };
}

/** What the page compiles its own conform of a cut from. */
export function viewOf(w: Workspace, cut: Standing, shift = 0): ConformView {
  const shots = compile(cut, w.reachable).layers.flatMap((l) => l.shots);
  const used = new Map<string, Original>();
  for (const { original } of shots) if (original) used.set(original.path, original);
  const movies = [...used.values(), ...(w.reference ? [w.reference.movie] : []), ...(w.guide ? [w.guide.sound] : [])];
  return {
    list: { ...cut, notices: [], notes: [], metadata: {} },
    originals: [...used.values()],
    rules: w.rules,
    reference: w.reference && { movie: w.reference.movie, lay: w.reference.lay },
    guide: w.guide && { sound: w.guide.sound, lies: w.guide.lies },
    looks: Object.fromEntries([
      ...movies.map((movie) => [movie.path, lookOfFiles(movie)] as const),
      ...[...w.luts].map(([lut, stamp]) => [lut, stamp ?? ''] as const),
    ]),
    shift,
  };
}

/** An original that the cut does not use, so that it can be tried. Throws RequestError 404 where it is not here. */
export async function strangerView(jobId: string, path: string): Promise<StrangerView> {
  const original = (await workspace(jobId)).reachable.get(path);
  if (!original) throw new RequestError(404, 'There is no original of that name here.');
  return { original, look: lookOfFiles(original) };
}
