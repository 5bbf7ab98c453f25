import { describePairings, pair, rulesSchema } from '@gemello/core';
import type { Command } from 'commander';
import { EXIT, UsageError } from '../exit';
import { listFile, originalsIn, print, rateOption, withPool } from '../input';
import { table } from '../table';

/** Reads `--rules`, a JSON object with the fields of the rules schema. */
export function rulesOption(text: string) {
  try {
    return rulesSchema.parse(JSON.parse(text));
  } catch {
    throw new UsageError('--rules must be JSON such as {"name":"exact","need":"both"}; the README lists the fields.');
  }
}

export function addPair(program: Command, finish: (code: number) => void): void {
  program
    .command('pair')
    .description('pairs, states, evidence, contenders')
    .argument('<list>')
    .requiredOption('--originals <dir...>', 'folders of camera originals')
    .option('--rate <rate>', 'frame rate of the list', rateOption)
    .option('--rules <json>', 'which criteria must hold', rulesOption)
    .option('--json', 'one JSON document', false)
    .action(async (file: string, options) => {
      const list = listFile(file, options.rate);
      await withPool(async (pool) => {
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
