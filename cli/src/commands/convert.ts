import path from 'node:path';
import { describeNotices, type WriteOptions, writeList } from '@gemello/core';
import type { Command } from 'commander';
import { EXIT, UsageError } from '../exit';
import { listFiles, print, readsList } from '../input';
import { formatOfOutput, putList } from '../output';

export function addConvert(program: Command, finish: (code: number) => void): void {
  readsList(program.command('convert').description("into the format of OUT's extension, with a report of what it cannot carry"))
    .argument('<list-and-out...>', 'the list, or its layers from the lowest up, and then the file to write')
    .option('--title <title>', 'title of the written list')
    .option('--number-anew', 'number the events in record order from 1', false)
    .option('--reel-length <n>', 'longest reel in characters, 4 to 128; longer ones are shortened without collision', reelLengthOption)
    .option('--counting <drop|non-drop>', 'how record timecode is counted', countingOption)
    .option('--layers-apart', 'one file a picture layer', false)
    .option('--json', 'one JSON document', false)
    .action((files: string[], options) => {
      const out = files.at(-1) ?? '';
      const given = files.slice(0, -1);
      if (given.length === 0) throw new UsageError('convert takes a list and the file to write.');
      const format = formatOfOutput(out);
      const list = listFiles(given, options);
      if (list.tracks.length === 0) throw new UsageError(`${path.basename(given[0] ?? '')}: it holds no event.`);
      const written = writeList(list, format, path.basename(out), writeOptions(options));
      const folder = path.dirname(path.resolve(out));
      for (const { fileName } of written.files)
        if (given.some((file) => path.resolve(file) === path.join(folder, fileName)))
          throw new UsageError('The list would be written over itself; name another file.');
      const paths = putList(out, written);
      const result = {
        out: path.resolve(out),
        files: paths,
        format: format.name,
        notices: describeNotices({ ...list, notices: [...list.notices, ...written.notices] }),
        reels: written.reels,
      };
      print(options.json, result, () =>
        [...paths.map((p) => `${p}: ${format.title}`), ...written.notices.map((n) => `${n.severity}: ${n.message}`)].join('\n'),
      );
      finish(written.notices.some((n) => n.severity === 'lost') ? EXIT.open : EXIT.done);
    });
}

function writeOptions(options: Record<string, unknown>): WriteOptions {
  return {
    title: options.title as string | undefined,
    numbering: options.numberAnew ? 'anew' : 'keep',
    reelLength: options.reelLength as number | undefined,
    counting: options.counting as WriteOptions['counting'],
    layers: options.layersApart ? 'apart' : 'together',
  };
}

function reelLengthOption(text: string): number {
  const length = Number(text);
  if (!Number.isInteger(length) || length < 4 || length > 128) throw new UsageError('--reel-length is a whole number from 4 to 128.');
  return length;
}

function countingOption(text: string): 'drop' | 'non-drop' {
  if (text !== 'drop' && text !== 'non-drop') throw new UsageError('--counting is drop or non-drop.');
  return text;
}
