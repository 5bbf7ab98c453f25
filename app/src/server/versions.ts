import {
  applyDecisions,
  compile,
  type EditList,
  formatTimecode,
  type ListEvent,
  looseName,
  looseReel,
  pair,
  type Shot,
} from '@gemello/core';
import { and, eq, inArray } from 'drizzle-orm';
import type { VersionUses } from '../contract';
import { database } from './db/open';
import { lists } from './db/schema';
import { readLog } from './log';
import { type ListRow, readingOf, readListRow } from './readings';
import type { Workspace } from './workspace';

type Use = VersionUses['uses'][number];
interface Version extends Omit<VersionUses, 'uses'> {
  readonly usesOf: ReadonlyMap<string, readonly Use[]>;
}

/** The other versions are conformed once for what a job is at a time, when a page first asks. */
const made = new WeakMap<Workspace, Promise<readonly Version[]>>();

/** The events of every version of the cut that use a source (`sourceOfUse`), the cut as it stands first, then the newest. */
export async function usesInVersions(w: Workspace, source: string): Promise<VersionUses[]> {
  const known = made.get(w) ?? versionsOf(w);
  made.set(w, known);
  return (await known).map(({ usesOf, ...version }) => ({ ...version, uses: usesOf.get(source) ?? [] }));
}

async function versionsOf(w: Workspace): Promise<Version[]> {
  const db = await database();
  const rows = await db
    .select()
    .from(lists)
    .where(and(eq(lists.jobId, w.id), inArray(lists.state, ['cut', 'beside'])));
  const order = (row: ListRow) => (row.id === w.listRow?.id ? Number.POSITIVE_INFINITY : row.sequence);
  const versions: Version[] = [];
  for (const row of rows.sort((a, b) => order(b) - order(a))) {
    const current = row.id === w.listRow?.id;
    const { list, files } = await readListRow(db, row);
    versions.push({
      list: row.id,
      title: list.title,
      fileName: files.map((f) => f.fileName).join(', '),
      createdAt: row.createdAt,
      is: current ? 'cut' : row.state === 'beside' ? 'beside' : 'former',
      usesOf: current ? usesOf(w.list ?? list, w.shown?.layers.flatMap((l) => l.shots) ?? [], w.pairings) : await usesInFormer(w, list),
    });
  }
  return versions;
}

/** A version that is not the cut: paired by what was decided and finds its events in it, and by its best candidates. */
async function usesInFormer(w: Workspace, read: EditList): Promise<Map<string, Use[]>> {
  const moves = w.volumes.flatMap((v) => v.formerPaths.map((from) => ({ from, to: v.path })));
  const log = await readLog(await database(), w.id, moves, readingOf(read).events);
  const { list } = applyDecisions(read, log.decisions);
  const pairings = pair(list, w.index, { rules: w.rules, preference: w.applied?.preference ?? null });
  return usesOf(
    list,
    compile(list, w.reachable).layers.flatMap((l) => l.shots),
    pairings,
  );
}

/** What a use is a use of: the original's path; where no original is known, what the list calls the source. */
export const sourceOfUse = (
  { reel, fileName, clipName }: Pick<ListEvent, 'reel' | 'fileName' | 'clipName'>,
  path: string | undefined,
): string => path ?? `${looseReel(reel)} ${looseName(fileName || clipName)}`;

function usesOf(list: EditList, shots: readonly Shot[], pairings: Workspace['pairings']): Map<string, Use[]> {
  const shown = new Map(shots.map((s) => [s.event.key, s.original?.path]));
  const uses = new Map<string, Use[]>();
  for (const { event, acceptedPath, chosen } of pairings) {
    if (event.kind !== 'clip') continue;
    const source = sourceOfUse(event, shown.get(event.key) ?? acceptedPath ?? chosen?.original.path);
    const use = { id: event.key, number: event.number, recordIn: formatTimecode(event.record.in, list.rate), frame: event.record.in };
    uses.set(source, [...(uses.get(source) ?? []), use]);
  }
  return uses;
}
