import path from 'node:path';
import { formatTimecode, type Original, parseTimecode, recordSpan, type Standing } from '@gemello/core';
import type { MediaThreads } from '@gemello/media';
import { SHOWS, type Show } from '@gemello/media/plain';
import type { Command } from 'commander';
import { conforms, layCut } from '../conforming';
import { EXIT, UsageError } from '../exit';
import { laidAgainstOriginals, print, progressTo, rasterOption, withThreads } from '../input';

function showOption(text: string): Show {
  const show = SHOWS.find((s) => s === text);
  if (!show) throw new UsageError(`--show is ${SHOWS.join(', ')}, not "${text}".`);
  return show;
}

/** A reference with how it lies: its timecode may not say, nor its frame where in it the picture is. */
async function laidReference(pool: MediaThreads, list: Standing, originals: readonly Original[], file: string) {
  const movie = await pool.probe(path.resolve(file));
  const { start, fit, steps } = await pool.prepareProof(
    { list, originals, reference: movie, cache: null },
    progressTo(process.stderr, 'reference'),
  );
  return { movie, lay: { start, fit, steps } };
}

export function addFrames(program: Command, finish: (code: number) => void): void {
  conforms(laidAgainstOriginals(program.command('frames').description('the conformed picture at record timecodes, as PNG')))
    .requiredOption('--at <timecodes>', 'record timecodes, parted by commas')
    .requiredOption('--out <dir>', 'folder to write to')
    .option('--reference <movie>', 'the reference render')
    .option('--show <what>', SHOWS.join(', '), showOption, 'conform')
    .option('--size <size>', 'size of a picture, as 1280x720; the frame of the cut when left out', rasterOption)
    .action(async (file: string, options) => {
      await withThreads(async (pool) => {
        const { cut, originals, assumed, notTaken } = await layCut(pool, file, options);
        if (options.show !== 'conform' && !options.reference) throw new UsageError(`--show ${options.show} needs --reference.`);
        const span = recordSpan(cut);
        const at = String(options.at)
          .split(',')
          .map((text) => {
            const frame = parseTimecode(text, cut.rate);
            if (frame === null) throw new UsageError(`"${text}" is no timecode; write it as 01:00:00:00.`);
            if (frame < span.in || frame >= span.out)
              throw new UsageError(
                `${text} is not in the cut, which goes from ${formatTimecode(span.in, cut.rate)} to ${formatTimecode(span.out, cut.rate)}.`,
              );
            return frame;
          });
        const reference =
          options.reference && options.show !== 'conform' ? await laidReference(pool, cut, originals, options.reference) : null;
        const result = await pool.writeStills(
          { list: cut, originals, reference, at, folder: path.resolve(options.out), show: options.show, size: options.size ?? null },
          progressTo(process.stderr, 'frames'),
        );
        print(options.json, { ...result, assumed, notTaken }, () => result.stills.map((s) => s.file).join('\n'));
        const open = notTaken.length > 0 || result.stills.some((s) => s.missing.length + s.mixed.length > 0);
        finish(open ? EXIT.open : EXIT.done);
      });
    });
}
