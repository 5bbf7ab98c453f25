import { existsSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { readCdlFile } from '@gemello/core';
import type { Command } from 'commander';
import { conforms, layCut } from '../conforming';
import { EXIT, UsageError } from '../exit';
import { laidAgainstOriginals, print, progressTo, withThreads } from '../input';

function handlesOption(text: string): number {
  if (!/^\d{1,5}$/.test(text)) throw new UsageError(`--handles must be a number of frames, 0 or more, not "${text}".`);
  return Number(text);
}

function gradesFile(file: string) {
  if (!existsSync(file)) throw new UsageError(`There is no file ${file}.`);
  const { grades, problems } = readCdlFile(readFileSync(file, 'utf8'));
  if (grades.length === 0) throw new UsageError(`${file}: ${problems[0] ?? 'no grade was found'}`);
  return grades;
}

export function addReturn(program: Command, finish: (code: number) => void): void {
  conforms(laidAgainstOriginals(program.command('return').description('graded clips, lists, check')))
    .requiredOption('--out <dir>', 'folder to write to')
    .option('--handles <frames>', 'frames before and after what the cut shows', handlesOption, 12)
    .option('--grades <file>', '.cc, .ccc or .cdl; ids are event numbers or clip names', gradesFile)
    .option('--list-only', 'only the list that points at the originals, and the table of pairs', false)
    .action(async (file: string, options) => {
      await withThreads(async (pool) => {
        const { cut, originals, assumed, notTaken } = await layCut(pool, file, { ...options, grades: options.grades ?? [] });
        const result = await pool.writeReturn(
          {
            list: cut,
            originals,
            folder: path.resolve(options.out),
            handles: options.handles,
            title: `${cut.title || 'CUT'}_RETURN`,
            render: !options.listOnly,
          },
          progressTo(process.stderr, 'return'),
        );
        print(options.json, { ...result, assumed, notTaken }, () =>
          [
            ...result.clips.map((c) => c.fileName),
            ...result.lists,
            ...result.notCarried.map((n) => `${n.fileName} ${n.severity}: ${n.message}`),
            ...result.warnings.map((w) => w.message),
            ...result.problems.map((p) => `${p.fileName} ${p.message}`),
          ].join('\n'),
        );
        finish(
          notTaken.length + result.problems.length + result.warnings.filter((w) => w.code !== 'short-handles').length > 0
            ? EXIT.open
            : EXIT.done,
        );
      });
    });
}
