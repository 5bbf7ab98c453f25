import { renameSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { formatOfName, LIST_FORMATS, lossesIn } from '@gemello/core';
import type { Command } from 'commander';
import { EXIT, UsageError } from '../exit';
import { listFile, print, rateOption } from '../input';

export function addConvert(program: Command, finish: (code: number) => void): void {
  program
    .command('convert')
    .description("into the format of OUT's extension, with a report of what it cannot carry")
    .argument('<list>')
    .argument('<out>')
    .option('--rate <rate>', 'frame rate of the list', rateOption)
    .option('--json', 'one JSON document', false)
    .action((file: string, out: string, options) => {
      const format = formatOfName(out);
      if (!format)
        throw new UsageError(
          `${path.basename(out)}: the extension names no format; known are ${LIST_FORMATS.flatMap((f) => f.extensions).join(', ')}.`,
        );
      if (path.resolve(out) === path.resolve(file)) throw new UsageError('The list would be written over itself; name another file.');
      const list = listFile(file, options.rate);
      if (list.tracks.length === 0)
        throw new UsageError(
          `${path.basename(file)}: ${list.notices.find((n) => n.severity === 'unreadable')?.message ?? 'it holds no event.'}`,
        );
      const losses = lossesIn(list, format);
      const partial = `${out}.part`;
      try {
        writeFileSync(partial, format.write(list));
        renameSync(partial, out);
      } catch (error) {
        throw new UsageError(`Cannot write ${out}: ${(error as Error).message}`);
      }
      print(options.json, { out: path.resolve(out), format: format.name, notices: [...list.notices, ...losses] }, () =>
        [`${out}: ${format.title}`, ...losses.map((n) => `${n.severity}: ${n.message}`)].join('\n'),
      );
      finish(losses.some((n) => n.severity === 'lost') ? EXIT.open : EXIT.done);
    });
}
