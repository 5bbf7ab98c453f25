import { execFileSync } from 'node:child_process';
import { availableParallelism } from 'node:os';
import path from 'node:path';
import { PRINT_SIZE, PRINTED, placesIn, printOf, runFrom, soughtPrint, wholeMask } from '@gemello/core';
import { openThreads, printsOf, probeMovie, proveAbreast } from '@gemello/media';
import { stockOfGroup } from '../faults/asked';
import { faultyCut } from '../faults/lab';
import type { Stock } from '../faults/stock';
import { type Figure, inFolder, inTurn, seconds } from './measure';

const EVENTS = Number(process.env.EVENTS ?? 60);
const threads = String(availableParallelism());
const ffmpeg = (...args: string[]) => execFileSync('ffmpeg', ['-v', 'error', '-y', ...args]);

/** Real pictures of the fault laboratory, as originals of 1920 x 1080. */
async function largeStock(folder: string): Promise<Stock> {
  const small = await stockOfGroup('report');
  const originals = small.originals.map(({ path: file, fileName }) => {
    const large = path.join(folder, fileName.replace(/\.mov$/, '_hd.mov'));
    ffmpeg(
      '-i',
      file,
      '-vf',
      'scale=1920:1080,noise=alls=4:allf=t',
      '-c:v',
      'libx264',
      '-preset',
      'veryfast',
      '-crf',
      '20',
      '-g',
      '24',
      '-pix_fmt',
      'yuv420p',
      large,
    );
    return probeMovie(large);
  });
  return { takes: small.takes, originals };
}

/** Decodes movies with the ffmpeg program and throws the pictures away; how long that takes a frame. */
async function decodingOf(movies: readonly { readonly path: string; readonly frames: number }[]): Promise<number> {
  const all = await seconds(() => {
    for (const { path: file } of movies) ffmpeg('-threads', threads, '-i', file, '-f', 'null', '-');
  });
  return all / movies.reduce((sum, m) => sum + m.frames, 0);
}

/** The proof of a whole cut with its small pictures made, nothing or one event in five at fault; making prints; and one wrong event among ten hours. */
export function proof(): Promise<Figure[]> {
  return inFolder(async (folder) => {
    const stock = await largeStock(folder);
    const pool = openThreads();
    const figures: Figure[] = [];
    try {
      for (const [every, says] of [
        [1_000, 'nothing at fault'],
        [5, 'one event in five at fault'],
      ] as const) {
        const { file, list } = await faultyCut(stock, 'letterbox', EVENTS, 3, folder, every);
        const reference = probeMovie(file);
        const basis = { list, originals: stock.originals, reference, cache: path.join(folder, 'cache') };
        const keys = list.tracks.flatMap((t) => t.events.map((e) => e.key));
        let frames = 0;
        const run = async () => {
          frames = (await proveAbreast(pool, basis, keys, () => {})).framesCompared;
        };
        const first = await seconds(run);
        const [one, yardstickOfOriginals, yardstickOfReference, other] = [
          await seconds(run),
          await decodingOf(stock.originals),
          await decodingOf([reference]),
          await seconds(run),
        ];
        const ours = (one + other) / 2;
        figures.push({
          name: `proof of ${EVENTS} events, 1080p, ${says}`,
          ours,
          yardstick: frames * (yardstickOfOriginals + yardstickOfReference),
          yardstickName: 'ffmpeg decodes as many frames of both sides',
          note: `${frames} frames, ${Math.round(frames / ours)}/s; ${first.toFixed(1)} s the first time, small pictures made`,
        });
      }
      figures.push(await index(stock), tenHours());
    } finally {
      await pool.close();
    }
    return figures;
  });
}

/** Making the prints of originals that nothing is kept of. */
async function index({ originals }: Stock): Promise<Figure> {
  const some = originals.slice(0, 4);
  const frames = some.reduce((sum, o) => sum + o.frames, 0);
  const { ours, yardstick } = await inTurn(
    () => {
      for (const original of some) printsOf(original, null, () => {}, { aborted: false });
    },
    () => {
      for (const original of some) ffmpeg('-threads', threads, '-i', original.path, '-f', 'null', '-');
    },
    3,
  );
  return {
    name: 'prints of 1080p H.264',
    ours,
    yardstick,
    yardstickName: 'ffmpeg decodes it',
    note: `${Math.round(frames / ours)} frames/s`,
  };
}

/** One wrong event looked for among ten hours of prints, on one thread, against reading as many bytes once. */
function tenHours(): Figure {
  const frames = 10 * 3600 * 24;
  const prints = new Int8Array(Math.ceil(frames / PRINTED) * PRINT_SIZE);
  let x = 1;
  for (let i = 0; i < prints.length; i++) {
    x = (Math.imul(x, 1_103_515_245) + 12_345) & 0x7f_ff_ff_ff;
    prints[i] = (x >> 16) & 0x7f;
  }
  const luma = (k: number) => Uint8Array.from({ length: 96 * 54 }, (_, i) => (i * 7 + k * 31 + ((i * i) >> 5)) & 255);
  const at = 5_000;
  for (let k = 0; k < 80; k++) if ((at * PRINTED + k) % PRINTED === 0) prints.set(printOf(luma(k)), (at + k / PRINTED) * PRINT_SIZE);
  const runs = [6, 24, 42, 60].map((offset) => runFrom(offset, (k) => soughtPrint(luma(k), wholeMask())));
  const time = (work: () => void) => {
    const from = performance.now();
    work();
    return (performance.now() - from) / 1000;
  };
  let found: number | undefined;
  const ours = time(() => {
    found = placesIn(runs, prints)[0]?.frame;
  });
  if (found !== at * PRINTED) throw new Error(`found at ${found}, which is not ${at * PRINTED}`);
  let sum = 0;
  const yardstick = time(() => {
    for (let i = 0; i < prints.length; i++) sum += prints[i] as number;
  });
  const note = `${(prints.length / 1e6).toFixed(0)} MB of prints${sum === 0 ? '!' : ''}`;
  return { name: 'one wrong event among 10 hours of originals', ours, yardstick, yardstickName: 'adding up their bytes', note };
}
