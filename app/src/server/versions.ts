import { compile, type Decision, type EditList, formatTimecode, movedDecision, pair, type Shot, withCarried } from '@gemello/core';
import { and, eq, inArray, isNull, or } from 'drizzle-orm';
import type { VersionUses } from '../contract';
import { database } from './db/open';
import { decisions, lists } from './db/schema';
import { type ListRow, readListRow, type Workspace } from './workspace';

type Use = VersionUses['uses'][number];
interface Version extends Omit<VersionUses, 'uses'> {
  readonly usesOf: ReadonlyMap<string, readonly Use[]>;
}

/** The other versions are conformed once for what a job is at a time, when a page first asks. */
const made = new WeakMap<Workspace, Promise<readonly Version[]>>();

/** The events of every version of the cut that use an original, the cut as it stands first, then the newest. */
export async function usesInVersions(w: Workspace, path: string): Promise<VersionUses[]> {
  const known = made.get(w) ?? versionsOf(w);
  made.set(w, known);
  return (await known).map(({ usesOf, ...version }) => ({ ...version, uses: usesOf.get(path) ?? [] }));
}

async function versionsOf(w: Workspace): Promise<Version[]> {
  const db = await database();
  const rows = await db
    .select()
    .from(lists)
    .where(and(eq(lists.jobId, w.id), inArray(lists.state, ['cut', 'beside'])));
  const order = (row: ListRow) => (row.id === w.listRow?.id ? Number.POSITIVE_INFINITY : row.createdAt);
  const versions: Version[] = [];
  for (const row of rows.sort((a, b) => order(b) - order(a))) {
    const current = row.id === w.listRow?.id;
    const { list, files } = await readListRow(row);
    versions.push({
      list: row.id,
      title: list.title,
      fileName: files.map((f) => f.fileName).join(', '),
      createdAt: row.createdAt,
      is: current ? 'cut' : row.state === 'beside' ? 'beside' : 'former',
      usesOf: current
        ? usesOf(w.list ?? list, w.shown?.layers.flatMap((l) => l.shots) ?? [], w.pairings)
        : await usesInFormer(w, row, list),
    });
  }
  return versions;
}

/** A version that is not the cut: paired anew by what was decided while it was, or by its best candidates. */
async function usesInFormer(w: Workspace, row: ListRow, read: EditList): Promise<Map<string, Use[]>> {
  const rows = await (await database())
    .select()
    .from(decisions)
    .where(and(eq(decisions.jobId, w.id), or(eq(decisions.listId, row.id), isNull(decisions.listId)), isNull(decisions.withdrawnAt)))
    .orderBy(decisions.id);
  const moves = w.volumes.flatMap((v) => v.formerPaths.map((from) => ({ from, to: v.path })));
  const decided = rows.map(({ decision }): Decision => movedDecision(decision, moves));
  const list = withCarried(read, decided);
  const pairings = pair(list, w.index, decided, w.rules);
  return usesOf(
    list,
    compile(list, w.pairable, decided).layers.flatMap((l) => l.shots),
    pairings,
  );
}

function usesOf(list: EditList, shots: readonly Shot[], pairings: Workspace['pairings']): Map<string, Use[]> {
  const shown = new Map(shots.map((s) => [s.event.id, s.original?.path]));
  const uses = new Map<string, Use[]>();
  for (const { event, acceptedPath, chosen } of pairings) {
    const path = shown.get(event.id) ?? acceptedPath ?? chosen?.original.path;
    if (!path) continue;
    const use = { id: event.id, number: event.number, recordIn: formatTimecode(event.record.in, list.rate), frame: event.record.in };
    uses.set(path, [...(uses.get(path) ?? []), use]);
  }
  return uses;
}
