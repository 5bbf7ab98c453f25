import { type Conform, compile, type Decision, partsOf, partsWithout, pictureAt, tryDecisions } from '@gemello/core';
import type { z } from 'zod';
import type { otherwiseSchema } from '../contract';
import { versionOf } from './compiled';
import { RequestError } from './http';
import { drawn } from './pictures';
import type { Workspace } from './workspace';

interface Version {
  readonly conform: Conform;
  readonly shift: number;
}
/** Versions are conformed once for what a job is at a time. */
const versions = new WeakMap<Workspace, Map<string, Promise<Version>>>();

/** A JPEG of the cut as it does not stand. Throws RequestError 404 where there is no picture, 409 before there is a list. */
export async function pictureOtherwise(
  w: Workspace,
  { frame, width, tried, without, list }: z.infer<typeof otherwiseSchema>,
): Promise<Uint8Array> {
  const { conform, shift } = list === null ? { conform: triedOf(w, tried), shift: 0 } : await versionIn(w, list);
  const parts = partsWithout(conform, partsOf(pictureAt(conform, frame - shift)), without);
  return drawn(w, { parts, frame: conform.frame }, width);
}

function triedOf(w: Workspace, decisions: readonly Decision[]): Conform {
  if (!w.shown || !w.shownList) throw new RequestError(409, 'There is no list yet.');
  if (decisions.length === 0) return w.shown;
  const framesOf = (path: string) => {
    const original = w.reachable.get(path);
    return original?.kind === 'still' ? undefined : original?.frames;
  };
  return compile(tryDecisions(w.shownList, decisions, framesOf).list, w.reachable);
}

function versionIn(w: Workspace, list: string): Promise<Version> {
  const known = versions.get(w) ?? new Map<string, Promise<Version>>();
  versions.set(w, known);
  const made = known.get(list) ?? versionOf(w.id, list).then(({ cut, shift }) => ({ conform: compile(cut, w.reachable), shift }));
  known.set(list, made);
  made.catch(() => known.delete(list));
  return made;
}
