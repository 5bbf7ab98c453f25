import { existsSync, readFileSync } from 'node:fs';
import {
  ACCEPTS,
  type Accept,
  type Applied,
  acceptPairs,
  applyDecisions,
  type Decision,
  decisionsOf,
  decisionText,
  type EditList,
  eventOf,
  folderMoves,
  followDecisions,
  formatRate,
  gradeDecisions,
  identitiesOf,
  indexOriginals,
  inferAll,
  isAboutOriginal,
  movedDecision,
  type NamedCdl,
  type Original,
  type Pairing,
  type Proposal,
  type Rules,
  ratesAgainst,
  readDecisionsFile,
  refusalText,
  type Settling,
  type Standing,
  settlingOf,
  takenAs,
} from '@gemello/core';
import type { MediaThreads } from '@gemello/media';
import type { Command } from 'commander';
import { UsageError } from './exit';
import { listFiles, scanned } from './input';

/** A file of decisions as `--decisions` names it. Throws UsageError with what is wrong in it. */
function decisionsOption(file: string) {
  if (!existsSync(file)) throw new UsageError(`There is no file ${file}.`);
  const read = readDecisionsFile(readFileSync(file, 'utf8'));
  if ('problem' in read) throw new UsageError(`${file}: ${read.problem}`);
  return read.file;
}

function acceptOption(text: string): Accept {
  const accept = ACCEPTS.find((a) => a === text);
  if (!accept) throw new UsageError(`--accept is ${ACCEPTS.join(', ')}, not "${text}".`);
  return accept;
}

/** The option of every command that lays a list against originals: what was decided before. */
export const takesDecisions = (command: Command): Command =>
  command.option('--decisions <file>', 'decisions as the application exports them, JSON', decisionsOption);

/** The options of every command that conforms: what was decided, and which pairs nobody decided are taken. */
export const conforms = (command: Command): Command =>
  takesDecisions(command).option(
    '--accept <which>',
    'pairs that are taken without a decision: none, unambiguous, best',
    acceptOption,
    'unambiguous',
  );

interface Options {
  readonly originals: readonly string[];
  readonly rules?: Rules;
  readonly decisions?: ReturnType<typeof decisionsOption>;
  readonly accept?: Accept;
  /** Grades that go to the events they name. */
  readonly grades?: readonly NamedCdl[];
  /** Decided on the command line, in addition. */
  readonly more?: (list: EditList) => readonly Decision[];
  /** Takes causes of many events that leave no exception. */
  readonly infer?: boolean;
}

/** A pair that was taken though nobody decided it. */
export interface Assumed {
  readonly event: string;
  readonly key: string;
  readonly track: string;
  readonly state: Pairing['state'];
  readonly original: string;
  readonly sourceStartFrame: number;
}

/** A cut laid against originals, as it stands. */
export interface Laid {
  readonly cut: Standing;
  readonly originals: readonly Original[];
  readonly pairings: readonly Pairing[];
  readonly assumed: readonly Assumed[];
  /** Decisions that could not be taken, in words; they are told on stderr, too. */
  readonly notTaken: readonly string[];
  /** Causes of many events that were taken because they leave no exception. */
  readonly inferred: readonly Proposal[];
  readonly settled: Settling;
}

/** Reads a list, scans for originals, and takes in what was decided and what may be assumed. */
export async function layCut(pool: MediaThreads, file: string, options: Options & Parameters<typeof listFiles>[1]): Promise<Laid> {
  const list = listFiles([file], options);
  const { standing: before, notTaken } = decided(list, options.decisions);
  const standing = [...before, ...gradeDecisions(list, options.grades ?? []), ...(options.more?.(list) ?? [])];
  const { originals: found, problems } = await scanned(pool, options.originals);
  for (const p of problems) process.stderr.write(`${p.path}: ${p.message}\n`);
  askForRate(list, found);
  const taken = takenAs(found, standing.filter(isAboutOriginal));
  const originals = taken.originals.filter((o) => !taken.proxyOf.has(o.path));
  const frames = new Map(originals.map((o) => [o.path, o.kind === 'still' ? undefined : o.frames]));
  const applied = applyDecisions(list, standing, (path) => frames.get(path));
  const words = [...notTaken, ...refusals(applied, standing)];
  for (const text of words) process.stderr.write(`not taken: ${text}\n`);
  const laid = settlingOf(list, standing, indexOriginals(originals), { rules: options.rules ?? null });
  const { taken: inferred, settled } = options.infer ? inferAll(laid) : { taken: [], settled: laid };
  const { pairings } = settled.paired;
  const accepting = acceptPairs(pairings, options.accept ?? 'none');
  const cut = accepting.length === 0 ? settled.applied.list : applyDecisions(list, [...settled.decisions, ...accepting]).list;
  return { cut, originals, pairings, assumed: assumedOf(pairings, accepting), notTaken: words, inferred, settled };
}

/** Refuses to go on at an assumed rate that no original runs at: every number would rest on it. */
function askForRate(list: EditList, originals: readonly Original[]): void {
  const against = ratesAgainst(
    list,
    originals.filter((o) => o.kind !== 'sound').map((o) => o.rate),
  );
  if (against.length > 0)
    throw new UsageError(
      `The list does not state its frame rate, and no original runs at the ${formatRate(list.rate)} that was assumed: they run at ${against.map(formatRate).join(', ')}. Say which with --rate.`,
    );
}

function decided(list: EditList, file: Options['decisions']): { standing: Decision[]; notTaken: string[] } {
  if (!file) return { standing: [], notTaken: [] };
  const all = decisionsOf(file);
  const moves = folderMoves(all);
  const { standing, waiting } = followDecisions(
    all.map((decision) => ({ decision: movedDecision(decision, moves), events: file.events })),
    identitiesOf(list),
  );
  const numbers = new Map(file.events.map((e) => [e.key, e.number]));
  const notTaken = waiting.map((i) => {
    const decision = all[i] as Decision;
    const key = eventOf(decision) ?? '';
    return `event ${numbers.get(key) ?? key}: ${decisionText(decision)}; the list has no event that is certainly this one`;
  });
  return { standing: standing.map((s) => s.decision), notTaken };
}

const refusals = ({ refused, list }: Applied, decisions: readonly Decision[]): string[] => {
  const numbers = new Map(list.tracks.flatMap((t) => t.events.map((e) => [e.key, e.number] as const)));
  return refused.map((r) => {
    const decision = decisions[r.decision] as Decision;
    const key = eventOf(decision) ?? '';
    return `event ${numbers.get(key) ?? key}: ${decisionText(decision)}; ${refusalText(r)}`;
  });
};

function assumedOf(pairings: readonly Pairing[], accepting: readonly Decision[]): Assumed[] {
  const taken = new Set(accepting.map(eventOf));
  return pairings.flatMap((p): Assumed[] =>
    p.chosen && taken.has(p.event.key)
      ? [
          {
            event: p.event.number,
            key: p.event.key,
            track: p.track,
            state: p.state,
            original: p.chosen.original.path,
            sourceStartFrame: p.chosen.sourceStartFrame,
          },
        ]
      : [],
  );
}
