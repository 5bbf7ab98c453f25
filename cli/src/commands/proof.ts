import path from 'node:path';
import { acceptBest, countVerdicts, describeFinding, pair } from '@gemello/core';
import type { Command } from 'commander';
import { EXIT } from '../exit';
import { laidAgainstOriginals, listFiles, originalsIn, print, progressTo, withThreads } from '../input';
import { table } from '../table';

export function addProof(program: Command, finish: (code: number) => void): void {
  laidAgainstOriginals(program.command('proof').description('verdict and findings per event'))
    .requiredOption('--reference <movie>', 'the reference render')
    .action(async (file: string, options) => {
      const list = listFiles([file], options);
      await withThreads(async (pool) => {
        const reference = await pool.probe(path.resolve(options.reference));
        const originals = await originalsIn(pool, options.originals);
        const decisions = acceptBest(pair(list, originals, [], options.rules), 'with-doubtful');
        const proof = await pool.prove(
          { list, originals, decisions, reference, cache: null, only: null },
          progressTo(process.stderr, 'proof'),
        );
        const events = proof.events.map(({ event: id, number, trace: _, ...rest }) => ({ event: number, eventId: id, ...rest }));
        const summary = countVerdicts(events);
        print(options.json, { events, summary, framesCompared: proof.framesCompared, seconds: proof.seconds }, () =>
          [
            table(events.map((e) => [e.track, e.event, e.verdict, e.score?.toFixed(3) ?? '', e.findings.map(describeFinding).join('; ')])),
            `${summary.same} same, ${summary.differs} differ, ${summary.uncertain} uncertain, ${summary.unchecked} unchecked; ${proof.framesCompared} frames`,
          ].join('\n'),
        );
        finish(summary.differs + summary.uncertain > 0 ? EXIT.open : EXIT.done);
      });
    });
}
