import { describePairings } from '@gemello/core';
import type { Command } from 'commander';
import { layCut, takesDecisions } from '../conforming';
import { EXIT } from '../exit';
import { laidAgainstOriginals, print, withThreads } from '../input';
import { table } from '../table';

export function addPair(program: Command, finish: (code: number) => void): void {
  const command = program.command('pair').description('pairs, states, evidence, contenders');
  takesDecisions(laidAgainstOriginals(command)).action(async (file: string, options) => {
    await withThreads(async (pool) => {
      const { pairings, notTaken } = await layCut(pool, file, options);
      const described = describePairings(pairings);
      print(options.json, { ...described, notTaken }, () =>
        [
          table(
            described.pairs.map((p) => [
              p.track,
              p.event,
              p.state,
              p.original?.reel ?? '',
              p.original?.path ?? '',
              `${p.sourceStartFrame ?? ''}`,
            ]),
          ),
          Object.entries(described.summary)
            .filter(([, count]) => count > 0)
            .map(([state, count]) => `${count} ${state}`)
            .join(', '),
        ].join('\n'),
      );
      const { proposed, paired, exempt, ...open } = described.summary;
      finish(Object.values(open).some((count) => count > 0) ? EXIT.open : EXIT.done);
    });
  });
}
