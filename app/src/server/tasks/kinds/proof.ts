import { type EventProof, form, plural, type Shot, shotsByKey, stepsText } from '@gemello/core';
import { proveAbreast, type ReferenceLaid } from '@gemello/media';
import { and, eq } from 'drizzle-orm';
import { LRUCache } from 'lru-cache';
import { jobFolder } from '../../config';
import { database, write } from '../../db/open';
import { eventProofs } from '../../db/schema';
import { sinceTask } from '../../db/sequence';
import { RequestError } from '../../http';
import { keepLay, knownSoFar, refreshReference } from '../../jobs';
import { layMark, proofMark } from '../../marks';
import { mediaThreads } from '../../media';
import { workspace } from '../../workspace';
import { keepInOrder } from '../keeping';
import { type Kind, readyToProve } from '../kind';

/** A proof of so few events is one that a person waits for. */
const FEW = 3;

/** How references were found to lie by proofs of whole cuts, and what that rests on, job by job. */
const lays = new LRUCache<string, { readonly madeFrom: string; readonly laid: ReferenceLaid }>({ max: 20 });

/** Compares events with the reference, several at once; each is kept as soon as it is proved. */
export const proof: Kind<'proof'> = {
  lane: ({ events }) => (events !== null && events.length <= FEW ? 'waited' : 'background'),
  keeps: 'what is finished',
  async run({ id, jobId, options, lane, report, signal }) {
    const began = Date.now();
    await refreshReference(jobId);
    const w = await workspace(jobId);
    const { list, conform, originals, standIns } = readyToProve(w);
    const { reference } = w;
    if (!reference) throw new RequestError(409, 'There is no reference movie to prove against. Import one under Turnover.');
    const shots = shotsByKey(conform);
    const madeFrom = (shot: Shot) => proofMark(conform, shot, reference);
    const done = await provenSince(jobId, id, (event) => {
      const shot = shots.get(event);
      return shot ? madeFrom(shot) : null;
    });
    const asked = options.events ?? [...shots.keys()];
    const open = asked.filter((key) => !done.has(key) && shots.has(key));

    const proved = new Map<string, EventProof>(done);
    const keeping = keepInOrder(async (proofs: readonly EventProof[]) => {
      const rows = proofs.flatMap((data) => {
        const shot = shots.get(data.event);
        return shot ? [{ jobId, event: data.event, madeFrom: madeFrom(shot), provedBy: id, data }] : [];
      });
      await write(async (tx) => {
        for (const row of rows)
          await tx
            .insert(eventProofs)
            .values(row)
            .onConflictDoUpdate({ target: [eventProofs.jobId, eventProofs.event], set: row });
      });
      knownSoFar(jobId);
    });
    const keep = (proofs: readonly EventProof[]) => {
      for (const p of proofs) proved.set(p.event, p);
      keeping.take(proofs);
    };

    const basis = { list, originals, reference: reference.movie, cache: jobFolder(jobId, 'cache') };
    const lies = layMark(reference, conform, w.listRow);
    const known = lays.get(jobId);
    const onLaid = async (laid: ReferenceLaid) => {
      const { start, fit, steps } = laid;
      await keepLay(jobId, reference.id, { madeFrom: lies, lay: { start, fit, steps } });
      if (options.events === null) lays.set(jobId, { madeFrom: lies, laid });
    };
    try {
      // What was mended is seen at once: where the reference lies is asked anew only of the whole cut.
      const standing = options.events !== null && known?.madeFrom === lies ? { laid: known.laid } : {};
      const how = { signal, lane, report, before: [...done.values()], onLaid, ...standing };
      const { laid, problems } = await proveAbreast(mediaThreads(), basis, open, keep, how);
      return {
        message: [
          messageOf([...proved.values()], Date.now() - began),
          ...(standIns > 0
            ? [`${plural(standIns, 'event')} by ${form(standIns, 'its proxy', 'their proxies')}, the original being away`]
            : []),
          ...stepsText(laid.steps, list.rate),
        ].join('. '),
        result: { area: laid.box, referenceStart: laid.start, problems },
      };
    } finally {
      await keeping.kept();
    }
  },
};

/** What a task, or one that was asked for later, proved, and still holds. */
async function provenSince(jobId: string, task: string, madeFrom: (event: string) => string | null): Promise<Map<string, EventProof>> {
  const rows = await (await database())
    .select()
    .from(eventProofs)
    .where(and(eq(eventProofs.jobId, jobId), sinceTask(eventProofs.provedBy, task)));
  return new Map(rows.filter((r) => r.madeFrom === madeFrom(r.event)).map((r) => [r.event, r.data]));
}

function messageOf(proofs: readonly EventProof[], ms: number): string {
  const frames = proofs.reduce((sum, p) => sum + p.framesCompared, 0);
  const differing = proofs.filter((p) => p.verdict === 'differs').length;
  const verdict = differing === 0 ? 'nothing differs' : `${plural(differing, 'event')} ${form(differing, 'differs', 'differ')}`;
  return `${frames} frames compared in ${(ms / 1000).toFixed(1)} s; ${verdict}`;
}
