import path from 'node:path';
import { countVerdicts, describeFinding, formatTimecode } from '@gemello/core';
import type { Command } from 'commander';
import { conforms, layCut } from '../conforming';
import { EXIT } from '../exit';
import { laidAgainstOriginals, print, progressTo, withThreads } from '../input';
import { table } from '../table';

export function addProof(program: Command, finish: (code: number) => void): void {
  conforms(laidAgainstOriginals(program.command('proof').description('verdict and findings per event')))
    .requiredOption('--reference <movie>', 'the reference render')
    .action(async (file: string, options) => {
      await withThreads(async (pool) => {
        const reference = await pool.probe(path.resolve(options.reference));
        const { cut, originals, assumed, notTaken } = await layCut(pool, file, options);
        const proof = await pool.prove({ list: cut, originals, reference, cache: null, only: null }, progressTo(process.stderr, 'proof'));
        const events = proof.events.map(({ event: key, number, trace: _, ...rest }) => ({ event: number, key, ...rest }));
        const summary = countVerdicts(events);
        const { framesCompared, seconds, area: geometry } = proof;
        const referenceStart = formatTimecode(proof.referenceStart, cut.rate);
        print(options.json, { events, geometry, referenceStart, summary, framesCompared, seconds, assumed, notTaken }, () =>
          [
            table(events.map((e) => [e.track, e.event, e.verdict, e.score?.toFixed(3) ?? '', e.findings.map(describeFinding).join('; ')])),
            `${summary.same} same, ${summary.differs} differ, ${summary.uncertain} uncertain, ${summary.unchecked} unchecked; ${proof.framesCompared} frames`,
          ].join('\n'),
        );
        finish(summary.differs + summary.uncertain > 0 ? EXIT.open : EXIT.done);
      });
    });
}
