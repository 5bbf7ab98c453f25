import { describeOriginal, formatRate, takenAs } from '@gemello/core';
import type { Command } from 'commander';
import { EXIT } from '../exit';
import { print, scanned, withThreads } from '../input';
import { table } from '../table';

export function addScan(program: Command, finish: (code: number) => void): void {
  program
    .command('scan')
    .description('originals found, with warnings')
    .argument('<dir...>')
    .option('--json', 'one JSON document', false)
    .action(async (names: string[], options) => {
      await withThreads(async (pool) => {
        const { originals, problems } = await scanned(pool, names);
        const described = takenAs(originals).originals.map(describeOriginal);
        print(options.json, { originals: described, problems }, () =>
          [
            table(
              described.map((o) => [
                o.reel || '-',
                o.clipName,
                o.timecodeIn ?? 'no timecode',
                o.timecodeOut ?? '',
                `${o.frames}`,
                formatRate(o.rate),
                `${o.raster.width}x${o.raster.height}`,
                o.codec,
              ]),
            ),
            ...described.flatMap((o) => o.warnings.map((w) => `${o.fileName}: ${w.message}`)),
            ...problems.map((p) => `${p.path}: ${p.message}`),
          ].join('\n'),
        );
        finish(problems.length > 0 ? EXIT.open : EXIT.done);
      });
    });
}
