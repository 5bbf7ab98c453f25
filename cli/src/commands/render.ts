import { existsSync } from 'node:fs';
import path from 'node:path';
import { RENDER_CODECS, type RenderCodec } from '@gemello/media/plain';
import type { Command } from 'commander';
import { conforms, layCut } from '../conforming';
import { EXIT, UsageError } from '../exit';
import { laidAgainstOriginals, print, progressTo, rasterOption, withThreads } from '../input';

function codecOption(text: string): RenderCodec {
  const codec = RENDER_CODECS.find((c) => c === text);
  if (!codec) throw new UsageError(`--codec is ${RENDER_CODECS.join(', ')}, not "${text}".`);
  return codec;
}

export function addRender(program: Command, finish: (code: number) => void): void {
  conforms(laidAgainstOriginals(program.command('render').description('the whole conform as one movie')))
    .requiredOption('--out <file>', 'the movie to write, .mov or .mp4')
    .option('--codec <codec>', 'intra: 10 bits, every frame by itself; intra-light: the same, smaller; review: to look at', codecOption)
    .option('--size <size>', 'size of the picture, as 1280x720; the frame of the cut when left out', rasterOption)
    .option('--burn-in', "the cut's title and the record timecode in the picture", false)
    .option('--sound <file>', 'sound that goes along from the first frame on')
    .action(async (file: string, options) => {
      const out = path.resolve(options.out);
      const extension = path.extname(out).toLowerCase();
      if (!['.mov', '.mp4'].includes(extension)) throw new UsageError(`${options.out}: a movie ends in .mov or .mp4.`);
      const codec: RenderCodec = options.codec ?? (extension === '.mp4' ? 'review' : 'intra');
      if (extension === '.mp4' && codec !== 'review') throw new UsageError(`${codec} goes into a .mov.`);
      if (options.sound && !existsSync(options.sound)) throw new UsageError(`There is no file ${options.sound}.`);
      await withThreads(async (pool) => {
        const { cut, originals, assumed, notTaken } = await layCut(pool, file, options);
        const result = await pool.render(
          {
            list: cut,
            originals,
            file: out,
            codec,
            size: options.size ?? null,
            burnIn: options.burnIn,
            sound: options.sound ? path.resolve(options.sound) : null,
          },
          progressTo(process.stderr, 'render'),
        );
        const events = new Map(cut.tracks.flatMap((t) => t.events.map((e) => [e.key, e.number] as const)));
        const missing = Object.entries(result.missing).map(([key, frames]) => ({ event: events.get(key) ?? '', key, frames }));
        print(options.json, { ...result, missing, assumed, notTaken }, () =>
          [
            `${result.file}: ${result.frames} frames`,
            ...missing.map((m) => `event ${m.event}: ${m.frames} frames without their picture`),
          ].join('\n'),
        );
        finish(missing.length + notTaken.length + result.mixed.length > 0 ? EXIT.open : EXIT.done);
      });
    });
}
