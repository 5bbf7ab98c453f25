import { existsSync } from 'node:fs';
import path from 'node:path';
import {
  acceptPairs,
  type Decision,
  describePairings,
  type EditList,
  hasFrame,
  looseReel,
  ON_CUT,
  type Pairing,
  type Proposal,
  pairingCsv,
  pairingHtml,
  parseTimecode,
  preferenceSchema,
  proposals,
  proposalText,
  type Settling,
  votesText,
  wholePart,
  withDecisions,
} from '@gemello/core';
import type { MediaThreads } from '@gemello/media';
import type { Command } from 'commander';
import { comparedWith } from '../comparing';
import { type Laid, layCut, takesDecisions } from '../conforming';
import { EXIT, UsageError } from '../exit';
import { laidAgainstOriginals, print, withThreads } from '../input';
import { outputOption, put } from '../output';
import { table } from '../table';
import { type ByPictureOptions, pairByPicture } from './by-picture';

interface PairOptions {
  readonly originals: readonly string[];
  readonly json: boolean;
  readonly shift: readonly Shift[];
  readonly prefer: readonly string[];
  readonly acceptUnambiguous: boolean;
  readonly infer: boolean;
  readonly csv?: string;
  readonly report?: string;
}

/** A shift as it is written: of one reel, or of the whole cut where none is named; frames, or a timecode at the list's rate. */
interface Shift {
  readonly reel: string | null;
  readonly sign: 1 | -1;
  readonly amount: string;
}

function shiftOption(text: string, before: readonly Shift[]): Shift[] {
  const [, reel, sign, amount] = /^(?:(.*)=)?([+-]?)(\d+|\d{2}[:;]\d{2}[:;]\d{2}[:;.]\d{2,3})$/.exec(text.trim()) ?? [];
  if (!amount) throw new UsageError(`--shift is frames or a timecode, such as +01:00:00:00, or A001=-25 for one reel; not "${text}".`);
  return [...before, { reel: reel || null, sign: sign === '-' ? -1 : 1, amount }];
}

function shiftDecision({ reel, sign, amount }: Shift, list: EditList): Decision {
  if (reel !== null && !list.tracks.some((t) => t.events.some((e) => looseReel(e.reel) === looseReel(reel))))
    throw new UsageError(`--shift: the list has no reel ${reel}.`);
  const frames = /^\d+$/.test(amount) ? Number(amount) : parseTimecode(amount, list.rate);
  if (frames === null) throw new UsageError(`--shift: ${amount} is no timecode at the list's rate.`);
  return { kind: 'shift', scope: reel === null ? ON_CUT : { of: 'reel', reel }, frames: sign * frames };
}

/** `largest`, `smallest`, or folders whose originals come first. */
function preferenceDecision(prefer: readonly string[]): Decision[] {
  if (prefer.length === 0) return [];
  const raster = prefer.find((p) => p === 'largest' || p === 'smallest') ?? 'largest';
  const folders = prefer.filter((p) => p !== 'largest' && p !== 'smallest').map((p) => path.resolve(p));
  return [{ kind: 'preference', prefer: preferenceSchema.parse({ raster, folders }) }];
}

/** What comes first among equals: a raster, or a folder that is there. */
function preferOption(value: string, before: readonly string[]): string[] {
  if (value !== 'largest' && value !== 'smallest' && !existsSync(value))
    throw new UsageError(`--prefer is largest, smallest or a folder; there is no folder ${value}.`);
  return [...before, value];
}

export function addPair(program: Command, finish: (code: number) => void): void {
  takesDecisions(laidAgainstOriginals(program.command('pair').description('pairs, states, evidence, contenders'), '[list]'))
    .option(
      '--shift <shift>',
      'added to source timecode: frames or a timecode, for one reel as A001=+01:00:00:00; may be repeated',
      shiftOption,
      [],
    )
    .option('--prefer <what>', 'which of equal candidates is taken: largest, smallest, or a folder; may be repeated', preferOption, [])
    .option('--infer', 'takes shifts and patterns that leave no exception, and says which', false)
    .option('--accept-unambiguous', 'accepts every event with one candidate that meets the rules and has all frames', false)
    .option('--csv <file>', 'writes the pairs as a table', outputOption)
    .option('--report <file>', 'writes the pairs with pictures as a page, HTML', outputOption)
    .option('--by-picture', 'finds every shot of the reference in the originals, by its pictures alone; needs no list', false)
    .option(
      '--reference <movie>',
      'the reference render: candidates are held against its pictures, and what has none is looked for by them',
    )
    .option('--list <file>', 'with --by-picture: writes the list that was found, in the format of its extension', outputOption)
    .action(async (file: string | undefined, options: PairOptions & ByPictureOptions) => {
      await withThreads(async (pool) => {
        if (options.byPicture) {
          finish(await pairByPicture(pool, file ?? null, options));
          return;
        }
        if (file === undefined) throw new UsageError('pair takes a list, unless --by-picture is given with --reference.');
        const more = (list: EditList) => [...options.shift.map((s) => shiftDecision(s, list)), ...preferenceDecision(options.prefer)];
        const laid = await layCut(pool, file, { ...options, more });
        const { reference } = options;
        const compared = reference === undefined ? laid.settled : await comparedWith(pool, laid.settled, laid.originals, reference);
        const settled = accepted(compared, options.acceptUnambiguous);
        const { pairings } = settled.paired;
        const { rate } = settled.list;
        const left = proposals(settled);
        const told = (p: Proposal) => ({ cause: p.cause, text: proposalText(p, rate), events: p.events, exceptions: p.exceptions });
        if (options.csv) put(options.csv, pairingCsv(pairings, rate));
        if (options.report) put(options.report, await report(pool, laid, pairings));
        const described = describePairings(pairings);
        const causes = left.map(told);
        print(options.json, { ...described, inferred: laid.inferred.map(told), causes, notTaken: laid.notTaken }, () =>
          asText(described, laid, left),
        );
        const { proposed, paired, exempt, ...open } = described.summary;
        finish(Object.values(open).some((count) => count > 0) ? EXIT.open : EXIT.done);
      });
    });
}

function accepted(settled: Settling, accept: boolean): Settling {
  const decisions = accept ? acceptPairs(settled.paired.pairings, 'unambiguous') : [];
  return decisions.length === 0 ? settled : withDecisions(settled, decisions);
}

function asText(described: ReturnType<typeof describePairings>, { inferred, settled }: Laid, left: readonly Proposal[]): string {
  const { rate } = settled.list;
  return [
    ...inferred.map((p) => `taken: ${proposalText(p, rate)} ${votesText(p)}`),
    table(
      described.pairs.map((p) => [
        p.track,
        p.event,
        p.state,
        p.original?.reel ?? '',
        p.original?.path ?? '',
        `${p.sourceStartFrame ?? ''}`,
      ]),
    ),
    ...left.map((p) => `${p.certain ? '--infer would take' : 'may be'}: ${proposalText(p, rate)} ${votesText(p)}`),
    Object.entries(described.summary)
      .filter(([, count]) => count > 0)
      .map(([state, count]) => `${count} ${state}`)
      .join(', '),
  ].join('\n');
}

/** Pictures of a report are this wide, in pixels. */
const WIDTH = 320;

/** The page with the first picture of each event that has a candidate. */
async function report(pool: MediaThreads, { settled, inferred }: Laid, pairings: readonly Pairing[]): Promise<string> {
  const { frameOfClip, heightFor } = await import('@gemello/media');
  const pictures = new Map<string, string>();
  for (const { event, chosen } of pairings) {
    if (!chosen || !hasFrame(chosen.original, chosen.sourceStartFrame)) continue;
    const frame = frameOfClip(chosen.original);
    const composition = { parts: [wholePart(chosen.original, chosen.sourceStartFrame, null)], frame };
    const height = heightFor(WIDTH, frame.raster, frame.pixelAspect);
    const jpeg = await pool.draw({ composition, width: WIDTH, height }).catch(() => null);
    if (jpeg) pictures.set(event.key, Buffer.from(jpeg).toString('base64'));
  }
  const { list } = settled;
  return pairingHtml(pairings, {
    title: list.title || 'Cut',
    rate: list.rate,
    pictures,
    remarks: inferred.map((p) => `Taken: ${proposalText(p, list.rate)} ${votesText(p)}.`),
  });
}
