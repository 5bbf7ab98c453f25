import { existsSync } from 'node:fs';
import path from 'node:path';
import { type Conform, compile } from '@gemello/core';
import type { MediaThreads } from '@gemello/media';
import { RENDER_CODECS, type RenderCodec } from '@gemello/media/plain';
import type { Command } from 'commander';
import { conforms, layCut } from '../conforming';
import { EXIT, UsageError } from '../exit';
import { type HeardFiles, heardFrom } from '../heard';
import { laidAgainstOriginals, print, progressTo, rasterOption, withThreads } from '../input';

function codecOption(text: string): RenderCodec {
  const codec = RENDER_CODECS.find((c) => c === text);
  if (!codec) throw new UsageError(`--codec is ${RENDER_CODECS.join(', ')}, not "${text}".`);
  return codec;
}

/** The mix as it is laid under the cut. One that does not fit is refused, with how it lies. */
async function mixOf(pool: MediaThreads, mix: string, named: HeardFiles, conform: Conform) {
  const { mixUnder } = await import('@gemello/media');
  const guide = await heardFrom(pool, named, conform);
  if (!guide) throw new UsageError('--mix needs --guide or --reference, by whose sound it is laid.');
  const file = path.resolve(mix);
  const { fits, says, begins, lay } = await mixUnder(pool, { mix: file, guide, conform }, progressTo(process.stderr, 'mix'));
  if (!fits) throw new UsageError(`${mix}: ${says}`);
  return { path: file, begins, says, offset: lay?.offset ?? 0, drift: lay?.drift ?? 0 };
}

export function addRender(program: Command, finish: (code: number) => void): void {
  conforms(laidAgainstOriginals(program.command('render').description('the whole conform as one movie')))
    .requiredOption('--out <file>', 'the movie to write, .mov or .mp4')
    .option('--codec <codec>', 'intra: 10 bits, every frame by itself; intra-light: the same, smaller; review: to look at', codecOption)
    .option('--size <size>', 'size of the picture, as 1280x720; the frame of the cut when left out', rasterOption)
    .option('--burn-in', "the cut's title and the record timecode in the picture", false)
    .option('--sound <file>', 'sound that goes along from the first frame on')
    .option('--mix <file>', 'the final mix, laid by the guide sound or that of the reference (with --guide or --reference)')
    .option('--guide <file>', 'guide sound by which the mix is laid; it lies by its timecode')
    .option('--reference <movie>', 'the reference by whose sound the mix is laid; it lies by its timecode')
    .action(async (file: string, options) => {
      const out = path.resolve(options.out);
      const extension = path.extname(out).toLowerCase();
      if (!['.mov', '.mp4'].includes(extension)) throw new UsageError(`${options.out}: a movie ends in .mov or .mp4.`);
      const codec: RenderCodec = options.codec ?? (extension === '.mp4' ? 'review' : 'intra');
      if (extension === '.mp4' && codec !== 'review') throw new UsageError(`${codec} goes into a .mov.`);
      if (options.sound && !existsSync(options.sound)) throw new UsageError(`There is no file ${options.sound}.`);
      if (options.mix && !existsSync(options.mix)) throw new UsageError(`There is no file ${options.mix}.`);
      if (options.mix && options.sound) throw new UsageError('--sound and --mix cannot go together: the movie has one sound.');
      await withThreads(async (pool) => {
        const { cut, originals, assumed, notTaken } = await layCut(pool, file, options);
        const mix = options.mix ? await mixOf(pool, options.mix, options, compile(cut, originals)) : null;
        const result = await pool.render(
          {
            list: cut,
            originals,
            file: out,
            codec,
            size: options.size ?? null,
            burnIn: options.burnIn,
            sound: options.sound ? { path: path.resolve(options.sound), begins: 0 } : mix && { path: mix.path, begins: mix.begins },
          },
          progressTo(process.stderr, 'render'),
        );
        const events = new Map(cut.tracks.flatMap((t) => t.events.map((e) => [e.key, e.number] as const)));
        const missing = Object.entries(result.missing).map(([key, frames]) => ({ event: events.get(key) ?? '', key, frames }));
        print(options.json, { ...result, mix, missing, assumed, notTaken }, () =>
          [
            `${result.file}: ${result.frames} frames`,
            ...(mix ? [mix.says] : []),
            ...missing.map((m) => `event ${m.event}: ${m.frames} frames without their picture`),
          ].join('\n'),
        );
        finish(missing.length + notTaken.length + result.mixed.length > 0 ? EXIT.open : EXIT.done);
      });
    });
}
