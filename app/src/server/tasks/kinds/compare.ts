import { form, plural, worthComparing } from '@gemello/core';
import { compareAbreast, type EventLooks } from '@gemello/media';
import { jobFolder } from '../../config';
import { database } from '../../db/open';
import { RequestError } from '../../http';
import { knownSoFar, refreshReference } from '../../jobs';
import { keepLooks, readLooks } from '../../looks';
import { mediaThreads } from '../../media';
import { workspace } from '../../workspace';
import { keepInOrder } from '../keeping';
import type { Kind } from '../kind';

/** Holds the candidates of events against the reference; what is seen is kept as soon as it is, and speaks for or against them. */
export const compare: Kind<'compare'> = {
  lane: () => 'background',
  keeps: 'what is finished',
  async run({ id, jobId, options, report, signal, lane }) {
    await refreshReference(jobId);
    const { reference, shownList, pairings, reachable } = await workspace(jobId);
    if (!shownList) throw new RequestError(409, 'There is no list yet.');
    if (!reference) throw new RequestError(409, 'There is no reference movie to compare pictures with. Import one under Turnover.');
    const at = (path: string) => reachable.get(path);
    const before = await readLooks(await database(), jobId, shownList, reference, at, id);
    const seen = new Map([...before].filter(([, looks]) => hasPicture(looks)).map(([event, looks]) => [event, { event, looks }] as const));
    const asked = worthComparing(pairings, options.events && new Set(options.events))
      .filter(({ event }) => !seen.has(event))
      .map(({ event, candidates }) => ({ event, candidates: candidates.filter((c) => reachable.has(c.path)) }));
    const keeping = keepInOrder(async (looks: readonly EventLooks[]) => {
      await keepLooks(id, jobId, shownList, reference, looks, at);
      knownSoFar(jobId);
    });
    const keep = (looks: readonly EventLooks[]) => {
      for (const one of looks) seen.set(one.event, one);
      keeping.take(looks);
    };
    const basis = {
      list: shownList,
      originals: [...reachable.values()],
      reference: reference.movie,
      cache: jobFolder(jobId, 'cache'),
    };
    try {
      const problems = await compareAbreast(mediaThreads(), basis, asked, keep, { signal, lane, report });
      return { message: messageOf([...seen.values()]), result: { problems } };
    } finally {
      await keeping.kept();
    }
  },
};

const hasPicture = (looks: EventLooks['looks']): boolean => looks.some((l) => l.is === 'found');

function messageOf(seen: readonly EventLooks[]): string {
  const found = seen.filter((s) => hasPicture(s.looks)).length;
  const left = seen.length - found;
  const told = `The picture of ${found} of ${plural(seen.length, 'event')} found among the originals`;
  return left === 0 ? told : `${told}; ${left} ${form(left, 'has', 'have')} it in none, or it cannot be told`;
}
