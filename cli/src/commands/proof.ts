import path from 'node:path';
import {
  countVerdicts,
  decisionsByEvent,
  decisionsOf,
  describeFinding,
  type EventProof,
  formatTimecode,
  pictureTracks,
  reportOfProof,
  stepsText,
} from '@gemello/core';
import type { Command } from 'commander';
import { conforms, layCut } from '../conforming';
import { EXIT } from '../exit';
import { laidAgainstOriginals, print, progressTo, withThreads } from '../input';
import { outputOption } from '../output';
import { table } from '../table';

/** The day, as reports are dated: 2026-11-27. */
const dayOf = (date: Date): string => date.toISOString().slice(0, 10);

export function addProof(program: Command, finish: (code: number) => void): void {
  conforms(laidAgainstOriginals(program.command('proof').description('verdict and findings per event')))
    .requiredOption('--reference <movie>', 'the reference render')
    .option(
      '--report <file>',
      'writes both pictures of each event with what was found, as a page (.html) or a document (.pdf)',
      outputOption,
    )
    .action(async (file: string, options) => {
      await withThreads(async (pool) => {
        const reference = await pool.probe(path.resolve(options.reference));
        const { cut, originals, assumed, notTaken } = await layCut(pool, file, options);
        const { proveAbreast, withCache } = await import('@gemello/media');
        const keys = pictureTracks(cut).flatMap((t) => t.events.map((e) => e.key));
        const proofs = new Map<string, EventProof>();
        const take = (made: readonly EventProof[]) => {
          for (const p of made) proofs.set(p.event, p);
        };
        const proof = await withCache((cache) =>
          proveAbreast(pool, { list: cut, originals, reference, cache }, keys, take, progressTo(process.stderr, 'proof')),
        );
        if (options.report) {
          const decisions = decisionsByEvent(options.decisions ? decisionsOf(options.decisions) : []);
          const { fit, start, steps } = proof.laid;
          const report = reportOfProof(cut, proofs, {
            reference: reference.fileName,
            made: dayOf(new Date()),
            framesCompared: proof.framesCompared,
            decisions,
          });
          const payload = {
            report,
            list: cut,
            originals,
            reference: { movie: reference, lay: { start, fit, steps } },
            file: options.report,
          };
          await pool.writeProofReport(payload, progressTo(process.stderr, 'report'));
        }
        for (const p of proof.problems) process.stderr.write(`${p.path}: ${p.message}\n`);
        const events = keys.flatMap((key) => {
          const found = proofs.get(key);
          if (!found) return [];
          const { event: _, number, trace, ...rest } = found;
          return [{ event: number, key, ...rest, trace }];
        });
        const summary = countVerdicts(events);
        const { framesCompared, seconds, laid } = proof;
        const referenceStart = formatTimecode(laid.start, cut.rate);
        const referenceSteps = laid.steps.map(({ from, by }) => ({ from: formatTimecode(from, cut.rate), by }));
        for (const text of stepsText(laid.steps, cut.rate)) process.stderr.write(`${text}\n`);
        print(
          options.json,
          { events, geometry: laid.box, referenceStart, referenceSteps, summary, framesCompared, seconds, assumed, notTaken },
          () =>
            [
              table(
                events.map((e) => [e.track, e.event, e.verdict, e.score?.toFixed(3) ?? '', e.findings.map(describeFinding).join('; ')]),
              ),
              `${summary.same} same, ${summary.differs} differ, ${summary.uncertain} uncertain, ${summary.unchecked} unchecked; ${proof.framesCompared} frames`,
            ].join('\n'),
        );
        finish(summary.differs + summary.uncertain > 0 ? EXIT.open : EXIT.done);
      });
    });
}
