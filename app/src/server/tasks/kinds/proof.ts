import { type EventProof, form, plural, type Shot, shotsByKey, strangersAmong } from '@gemello/core';
import { bestOf, type FileFault, type ProofSummary, type Report, withFound } from '@gemello/media';
import { and, eq, gte } from 'drizzle-orm';
import { jobFolder } from '../../config';
import { database, write } from '../../db/open';
import { eventProofs } from '../../db/schema';
import { RequestError } from '../../http';
import { keepLay, provenSoFar, refreshReference } from '../../jobs';
import { layMark, proofMark } from '../../marks';
import { mediaThreads } from '../../media';
import { workspace } from '../../workspace';
import { keepInOrder } from '../keeping';
import { type Kind, readyToWork } from '../kind';

/** A proof of so few events is one that a person waits for. */
const FEW = 3;

/** Compares events with the reference, several at once; each is kept as soon as it is proved. */
export const proof: Kind<'proof'> = {
  lane: ({ events }) => (events !== null && events.length <= FEW ? 'waited' : 'background'),
  keeps: 'what is finished',
  async run({ jobId, options, since, lane, report, signal }) {
    const began = Date.now();
    await refreshReference(jobId);
    const w = await workspace(jobId);
    const { list, conform, reachable } = readyToWork(w);
    const { reference } = w;
    if (!reference) throw new RequestError(409, 'There is no reference movie to prove against. Import one under Turnover.');
    const shots = shotsByKey(conform);
    const madeFrom = (shot: Shot) => proofMark(conform, shot, reference);
    const done = await provenSince(jobId, since, (event) => {
      const shot = shots.get(event);
      return shot ? madeFrom(shot) : null;
    });
    const asked = options.events ?? [...shots.keys()];
    const open = asked.filter((key) => !done.has(key) && shots.has(key));

    const proved = new Map<string, EventProof>(done);
    const keeping = keepInOrder(async (proofs: readonly EventProof[]) => {
      const rows = proofs.flatMap((data) => {
        const shot = shots.get(data.event);
        return shot ? [{ jobId, event: data.event, madeFrom: madeFrom(shot), provedAt: Date.now(), data }] : [];
      });
      await write(async (tx) => {
        for (const row of rows)
          await tx
            .insert(eventProofs)
            .values(row)
            .onConflictDoUpdate({ target: [eventProofs.jobId, eventProofs.event], set: row });
      });
      provenSoFar(jobId);
    });
    const keep = (proofs: readonly EventProof[]) => {
      for (const p of proofs) proved.set(p.event, p);
      keeping.take(proofs);
    };

    const basis = { list, originals: reachable, reference: reference.movie, cache: jobFolder(jobId, 'cache') };
    const how = { signal, lane };
    const media = mediaThreads();
    const summaries: ProofSummary[] = [];
    const problems: FileFault[] = [];
    try {
      const laid = await media.prepareProof(basis, { ...how, report: phase(report, 0, 0.2) });
      await keepLay(jobId, reference.id, { madeFrom: layMark(reference, conform, w.listRow), lay: { start: laid.start, fit: laid.fit } });
      const shares = sharesOf(open, media.abreast);
      const reports = together(phase(report, 0.2, 0.9), open.length);
      await allOf(shares, async (only, i) => {
        summaries.push(await media.proveEach({ ...basis, laid, only }, keep, { ...how, report: reports(i) }));
      });
      const strangers = strangersAmong([...proved.values()]);
      if (strangers.length > 0) {
        const events = strangers.map((p) => p.event);
        const places = sharesOf(
          reachable.map((o) => o.path),
          media.abreast,
        );
        const looked = together(phase(report, 0.9, 1), reachable.length);
        const parts: Awaited<ReturnType<typeof media.search>>[] = [];
        await allOf(places, async (among, i) => {
          parts.push(await media.search({ ...basis, laid, events, among }, { ...how, report: looked(i) }));
        });
        const { found, problems: unread } = bestOf(parts);
        problems.push(...unread);
        keep(strangers.filter((p) => found[p.event]).map((p) => withFound(p, found[p.event])));
      }
    } finally {
      await keeping.kept();
    }
    for (const s of summaries) problems.push(...s.problems);
    return { message: messageOf([...proved.values()], Date.now() - began), result: { ...measured(summaries), problems: once(problems) } };
  },
};

/** What was proved since a time and still holds. */
async function provenSince(jobId: string, since: number, madeFrom: (event: string) => string | null): Promise<Map<string, EventProof>> {
  const rows = await (await database())
    .select()
    .from(eventProofs)
    .where(and(eq(eventProofs.jobId, jobId), gte(eventProofs.provedAt, since)));
  return new Map(rows.filter((r) => r.madeFrom === madeFrom(r.event)).map((r) => [r.event, r.data]));
}

/** Splits work into as many shares as run at once, those that follow each other together, since they often lie in one file. */
function sharesOf<T>(all: readonly T[], shares: number): T[][] {
  const size = Math.ceil(all.length / shares);
  return Array.from({ length: shares }, (_, i) => all.slice(i * size, (i + 1) * size)).filter((share) => share.length > 0);
}

/** Does all shares at once. Where one fails the others are waited for, since they keep what they finish. */
async function allOf<T>(shares: readonly T[], work: (share: T, at: number) => Promise<void>): Promise<void> {
  const ended = await Promise.allSettled(shares.map(work));
  for (const end of ended) if (end.status === 'rejected') throw end.reason;
}

/** A report of one phase of the work, as its part of the whole: the bar runs through once. */
const phase =
  (report: Report, from: number, to: number): Report =>
  ({ done, total, what }) =>
    report({ done: Math.round(1000 * (from + (to - from) * (total > 0 ? done / total : 0))), total: 1000, what });

/** Makes one report out of those of several shares. */
function together(report: Report, total: number): (share: number) => Report {
  const done: number[] = [];
  return (share) => (progress) => {
    done[share] = progress.done;
    report({ ...progress, done: done.reduce((sum, n) => sum + (n ?? 0), 0), total });
  };
}

const measured = ([first]: readonly ProofSummary[]) => (first ? { area: first.area, referenceStart: first.referenceStart } : {});

const once = (problems: readonly FileFault[]): FileFault[] => [...new Map(problems.map((p) => [p.path, p])).values()];

function messageOf(proofs: readonly EventProof[], ms: number): string {
  const frames = proofs.reduce((sum, p) => sum + p.framesCompared, 0);
  const differing = proofs.filter((p) => p.verdict === 'differs').length;
  const verdict = differing === 0 ? 'nothing differs' : `${plural(differing, 'event')} ${form(differing, 'differs', 'differ')}`;
  return `${frames} frames compared in ${(ms / 1000).toFixed(1)} s; ${verdict}`;
}
