import { existsSync, readFileSync } from 'node:fs';
import path from 'node:path';
import {
  BURN_FIELDS,
  BURN_PLACES,
  BURN_SIZES,
  type Conform,
  clipCodecs,
  compile,
  type Heard,
  LIST_FORMATS,
  NAME_FIELDS,
  plural,
  RETURN_RASTERS,
  RETURN_SOUNDS,
  type ReturnAsked,
  readCdlFile,
  returnAskedSchema,
  USUAL_TEMPLATE,
} from '@gemello/core';
import type { MediaThreads } from '@gemello/media';
import type { Command } from 'commander';
import { conforms, layCut } from '../conforming';
import { EXIT, UsageError } from '../exit';
import { type HeardFiles, heardFrom } from '../heard';
import { folders, laidOrNot, print, progressTo, withThreads } from '../input';

function gradesFile(file: string) {
  if (!existsSync(file)) throw new UsageError(`There is no file ${file}.`);
  const { grades, problems } = readCdlFile(readFileSync(file, 'utf8'));
  if (grades.length === 0) throw new UsageError(`${file}: ${problems[0] ?? 'no grade was found'}`);
  return grades;
}

/** Lists that a return holds, by file ending. */
const RETURNED = LIST_FORMATS.filter((f) => f.hasTransitions);
const LISTS = RETURNED.map((f) => f.extensions[0] as string);

/** The list formats that were asked for, by their endings. */
function listsOf(typed: string): readonly string[] {
  const asked = typed.split(',').map((t) => t.trim().replace(/^\./, '').toLowerCase());
  const strange = asked.find((one) => !LISTS.includes(one));
  if (strange !== undefined)
    throw new UsageError(`--lists ${typed}: ${strange || 'an empty name'} is none; there are ${LISTS.join(', ')}.`);
  return RETURNED.filter((f) => asked.includes(f.extensions[0] as string)).map((f) => f.name);
}

/** What goes along with the clips besides what their originals sound of. */
async function heardWith(pool: MediaThreads, options: HeardFiles & { sound: string }, conform: Conform): Promise<readonly Heard[]> {
  const { sound } = options;
  if (sound !== 'reference' && sound !== 'guide') return [];
  if (!options[sound]) throw new UsageError(`--sound ${sound} needs --${sound} with the file that is heard.`);
  const heard = await heardFrom(pool, sound === 'guide' ? options : { reference: options.reference }, conform);
  return heard ? [heard] : [];
}

/** How a return is asked for, as it was typed; a wrong value is named with those there are. */
function askedOf(options: Record<string, unknown>): ReturnAsked {
  const asked = returnAskedSchema.safeParse({
    handles: options.handles,
    template: options.template,
    codec: options.codec,
    clipRaster: options.clipRaster,
    clips: options.clips,
    speed: options.bakeSpeed ? 'baked' : 'list',
    placement: options.bakePlacement ? 'baked' : 'list',
    grade: options.gradesBeside ? 'beside' : 'baked',
    sound: options.sound,
    burnIn: options.burnIn,
    burnAt: options.burnAt,
    burnSize: options.burnSize,
    links: ['beside', 'here'].includes(String(options.links)) ? options.links : 'elsewhere',
    linksIn: ['beside', 'here'].includes(String(options.links)) ? '' : options.links,
  });
  if (asked.success) return asked.data;
  const [issue] = asked.error.issues;
  const field = String(issue?.path[0]);
  const name = field.replaceAll(/[A-Z]/g, (c) => `-${c.toLowerCase()}`);
  const known = {
    ...{ codec: clipCodecs, clips: ['event', 'span'], handles: ['whole frames from 0 to 10000'], sound: RETURN_SOUNDS },
    clipRaster: RETURN_RASTERS,
    ...{ burnAt: BURN_PLACES, burnSize: Object.keys(BURN_SIZES) },
  }[issue?.code === 'custom' ? '' : field];
  throw new UsageError(
    `--${name} ${String(options[field])}: ${known ? `there are ${known.join(', ')}.` : (issue?.message ?? 'is not known')}`,
  );
}

export function addReturn(program: Command, finish: (code: number) => void): void {
  conforms(laidOrNot(program.command('return').description('graded clips, lists, check'), '[list]'))
    .option('--out <dir>', 'folder to write to')
    .option('--check <dir>', 'looks at the folder of a return, alone or against the list and its originals; writes nothing')
    .option('--handles <frames>', 'frames before and after what the cut shows', '12')
    .option('--codec <kind>', `what clips are written as: ${clipCodecs.join(', ')}`, 'intra')
    .option('--clip-raster <which>', `how large clips are: ${RETURN_RASTERS.join(', ')} (no larger than it)`, 'original')
    .option('--clips <event|span>', 'a clip for each event, or for each stretch of source that events share', 'event')
    .option('--bake-speed', 'speeds in the pictures, listed at natural speed', false)
    .option('--bake-placement', 'sizes and positions in the pictures, at the frame of the cut', false)
    .option('--grades-beside', 'grades in the list and in files, not in the pictures', false)
    .option('--grades <file>', '.cc, .ccc or .cdl; ids are event numbers or clip names', gradesFile)
    .option('--template <name>', `what clips are named after: ${NAME_FIELDS.map((f) => `{${f}}`).join(' ')}`, USUAL_TEMPLATE)
    .option('--sound <of>', 'sound along with clips: none, original, guide (with --guide), or reference (with --reference)', 'none')
    .option('--guide <file>', 'guide sound, laid by its timecode')
    .option(
      '--reference <movie>',
      'the reference whose sound goes along, or with which guide sound begins that does not say when; laid by its timecode',
    )
    .option('--burn-in <text>', `text in the pictures of clips to look at: ${BURN_FIELDS.map((f) => `{${f}}`).join(' ')}`, '')
    .option('--burn-at <place>', `where it stands: ${BURN_PLACES.join(', ')}`, 'foot')
    .option('--burn-size <size>', `how large it is: ${Object.keys(BURN_SIZES).join(', ')}`, 'usual')
    .option('--lists <endings>', `which lists are written, by file ending: ${LISTS.join(', ')}`, LISTS.join(','))
    .option('--links <where>', 'where lists say the clips are: beside, here, or a folder as another machine calls it', 'beside')
    .option('--list-only', 'only the list that points at the originals, and the table of pairs', false)
    .action(async (file: string | undefined, options) => {
      await withThreads(async (pool) => {
        if (options.check !== undefined) {
          finish(await check(pool, options.check, file ?? null, options));
          return;
        }
        if (file === undefined || options.originals === undefined || options.out === undefined)
          throw new UsageError('return takes a list, --originals and --out; or --check with the folder of a return.');
        const asked = askedOf(options);
        const { cut, originals, assumed, notTaken } = await layCut(pool, file, {
          ...options,
          originals: options.originals,
          grades: options.grades ?? [],
        });
        const { returnAbreast } = await import('@gemello/media');
        const result = await returnAbreast(
          pool,
          {
            list: cut,
            originals,
            folder: path.resolve(options.out),
            asked,
            title: `${cut.title || 'CUT'}_RETURN`,
            render: !options.listOnly,
            lists: listsOf(options.lists),
            heard: await heardWith(pool, options, compile(cut, originals)),
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
          notTaken.length +
            result.problems.length +
            result.warnings.filter((w) => w.code !== 'short-handles' && w.code !== 'baked').length >
            0
            ? EXIT.open
            : EXIT.done,
        );
      });
    });
}

/** Looks at the folder of a return, and against a list and its originals where they are given. Gives the exit code. */
async function check(
  pool: MediaThreads,
  dir: string,
  file: string | null,
  options: CheckOptions & Omit<Parameters<typeof layCut>[2], 'originals'>,
): Promise<number> {
  const [folder] = folders([dir]);
  if (file !== null && options.originals === undefined) throw new UsageError('return --check with a list needs --originals too.');
  const laid =
    file === null ? null : await layCut(pool, file, { ...options, originals: options.originals ?? [], grades: options.grades ?? [] });
  const against = laid && { list: laid.cut, originals: laid.originals, asked: askedOf({ ...options }) };
  const found = await pool.checkReturn({ folder: folder ?? dir, rate: options.rate ?? null, against }, progressTo(process.stderr, 'check'));
  const notTaken = laid?.notTaken ?? [];
  print(options.json, { folder, ...found, notTaken }, () =>
    [
      ...found.problems.map((p) => `${p.fileName} ${p.message}`),
      found.problems.length === 0
        ? `${plural(found.lists.length, 'list')} and ${plural(found.clips, 'clip')}: ${against ? 'all as planned' : 'each event leads to one clip that holds its frames'}`
        : plural(found.problems.length, 'problem'),
    ].join('\n'),
  );
  return found.problems.length + notTaken.length > 0 ? EXIT.open : EXIT.done;
}

interface CheckOptions {
  readonly originals?: readonly string[];
  readonly json: boolean;
}
