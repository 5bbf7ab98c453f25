import { describePairings, pair } from '@gemello/core';
import type { Command } from 'commander';
import { EXIT } from '../exit';
import { laidAgainstOriginals, listFiles, originalsIn, print, withThreads } from '../input';
import { table } from '../table';

export function addPair(program: Command, finish: (code: number) => void): void {
  laidAgainstOriginals(program.command('pair').description('pairs, states, evidence, contenders')).action(async (file: string, options) => {
    const list = listFiles([file], options);
    await withThreads(async (pool) => {
      const pairings = pair(list, await originalsIn(pool, options.originals), [], options.rules);
      const described = describePairings(pairings);
      print(options.json, described, () =>
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
