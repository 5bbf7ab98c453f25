import { existsSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { formatTimecode, listOfMarks, type Mark, marksAt, readMarks, USUAL_THRESHOLD, writeList } from '@gemello/core';
import type { Command } from 'commander';
import { EXIT, UsageError } from '../exit';
import { print, progressTo, withThreads } from '../input';
import { formatOfOutput, outputOption, putList } from '../output';
import { table } from '../table';

function thresholdOption(text: string): number {
  const threshold = Number(text);
  if (!(threshold > 0 && threshold <= 1)) throw new UsageError(`--threshold is a number above 0 and up to 1, not "${text}".`);
  return threshold;
}

export function addCuts(program: Command, finish: (code: number) => void): void {
  program
    .command('cuts')
    .description('cut points, dissolves and fades of a movie')
    .argument('<movie>')
    .option(
      '--threshold <n>',
      `how different two sides must be, above 0 and up to 1; ${USUAL_THRESHOLD} when left out`,
      thresholdOption,
      USUAL_THRESHOLD,
    )
    .option('--marks <file>', 'takes marks from a file, one timecode a line, in place of finding them')
    .option('--out <list>', 'writes a list whose events are the shots, in the format of its extension', outputOption)
    .option('--json', 'one JSON document', false)
    .action(async (file: string, options) => {
      const format = options.out ? formatOfOutput(options.out) : null;
      if (options.marks && !existsSync(options.marks)) throw new UsageError(`There is no file ${options.marks}.`);
      await withThreads(async (pool) => {
        const movie = await pool.probe(path.resolve(file));
        const read = options.marks ? readMarks(readFileSync(options.marks, 'utf8'), movie) : null;
        for (const p of read?.problems ?? []) process.stderr.write(`${options.marks}, line ${p.line}: ${p.message}\n`);
        const found = read ? null : await pool.findCuts({ movie, cache: null }, progressTo(process.stderr, 'cuts'));
        const marks: Mark[] = read?.marks ?? (found ? marksAt(found, options.threshold) : []);
        const list = listOfMarks(movie, marks, found?.change ?? null);
        const written = format ? writeList(list, format, path.basename(options.out)) : null;
        if (written) putList(options.out, written);
        const told = marks.map((m) => ({ ...m, timecode: formatTimecode(movie.start + m.frame, movie.rate) }));
        const { rate, frames } = movie;
        const result = {
          movie: movie.path,
          rate,
          frames,
          threshold: read ? null : options.threshold,
          marks: told,
          out: options.out ?? null,
          notices: written?.notices ?? [],
        };
        print(options.json, result, () =>
          [
            table(told.map((m) => [m.timecode, m.kind, m.frames > 0 ? `${m.frames} frames` : '', read ? '' : m.score.toFixed(2)])),
            ...(written?.notices ?? []).map((n) => `${n.severity}: ${n.message}`),
            `${marks.length} marks, ${list.tracks[0]?.events.length ?? 0} shots`,
          ].join('\n'),
        );
        finish(read && read.problems.length > 0 ? EXIT.open : EXIT.done);
      });
    });
}
