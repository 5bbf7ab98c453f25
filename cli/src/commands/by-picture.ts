import path from 'node:path';
import {
  applyDecisions,
  describeShots,
  laidByTimecode,
  marksOfList,
  pictureTracks,
  rebuiltText,
  recordSpan,
  writeList,
} from '@gemello/core';
import type { MediaThreads } from '@gemello/media';
import { EXIT, UsageError } from '../exit';
import { listFiles, print, progressTo, scanned } from '../input';
import { formatOfOutput, putList } from '../output';
import { table } from '../table';

export interface ByPictureOptions {
  readonly byPicture: boolean;
  readonly reference?: string;
  readonly list?: string;
  readonly raster?: { readonly width: number; readonly height: number };
}

/** Pairs every shot of a reference by its pictures; a list, where there is one, says where it is cut. Gives the exit code. */
export async function pairByPicture(
  pool: MediaThreads,
  file: string | null,
  options: ByPictureOptions & { readonly originals: readonly string[]; readonly json: boolean } & Parameters<typeof listFiles>[1],
): Promise<number> {
  if (!options.reference) throw new UsageError('--by-picture needs --reference.');
  const format = options.list ? formatOfOutput(options.list) : null;
  const given = file === null ? null : listFiles([file], options);
  const reference = await pool.probe(path.resolve(options.reference));
  const { originals, problems } = await scanned(pool, options.originals);
  const { rebuildAbreast, withCache } = await import('@gemello/media');
  const lay = given && laidByTimecode(reference, { span: recordSpan(given), referenceFit: null });
  const marks = given && lay && marksOfList(given, { ...reference, start: lay.start }).marks;
  const frame = options.raster ? { raster: options.raster, pixelAspect: 1 } : null;
  const title = path.basename(reference.fileName, path.extname(reference.fileName));
  const movie = lay ? { ...reference, start: lay.start } : reference;
  const cut = await withCache((cache) =>
    rebuildAbreast(pool, { reference: movie, originals, frame, marks, cache }, title, progressTo(process.stderr, 'shots')),
  );
  for (const p of [...problems, ...cut.problems]) process.stderr.write(`${p.path}: ${p.message}\n`);
  const { list } = applyDecisions(cut.list, cut.decisions);
  const written = options.list && format ? writeList(list, format, path.basename(options.list)) : null;
  if (written && options.list) putList(options.list, written);
  const described = describeShots(list, cut.shots, movie.start, reference.rate);
  const keys = new Map((given ? pictureTracks(given).flatMap((t) => t.events) : []).map((e) => [e.record.in - movie.start, e] as const));
  const pairs = described.pairs.map((p, i) => {
    const event = keys.get(cut.shots[i]?.from ?? -1);
    return event ? { ...p, event: event.number, key: event.key } : p;
  });
  print(options.json, { ...described, pairs, list: options.list ?? null, notices: written?.notices ?? [] }, () =>
    [
      table(
        pairs.map((p) => [
          p.event,
          p.recordIn,
          p.recordOut,
          p.state,
          p.original?.reel ?? '',
          p.original?.path ?? '',
          `${p.sourceStartFrame ?? ''}`,
          p.speed === 1 ? '' : `${Math.round(p.speed * 100)} %`,
        ]),
      ),
      ...(written?.notices ?? []).map((n) => `${n.severity}: ${n.message}`),
      rebuiltText(cut.shots),
    ].join('\n'),
  );
  return described.summary.unpaired + described.summary.contested > 0 ? EXIT.open : EXIT.done;
}
