import { type Decision, decisionText, eventOf, type Identity, isAboutOriginal, scopeOf } from '@gemello/core';
import { database } from './db/open';
import { readingsOf } from './readings';
import type { Workspace } from './workspace';

/** How events are called, those of other versions that decisions wait for included. */
export async function eventNames(w: Workspace): Promise<(key: string) => string> {
  const now = new Map(w.list?.tracks.flatMap((t) => t.events.map((e) => [e.key, e.number] as const)) ?? []);
  const former = new Map<string, string>();
  if (w.log.waiting.length > 0)
    for (const events of (await readingsOf(await database(), w.id)).values()) for (const e of events) former.set(e.key, formerName(e));
  return (key) => now.get(key) ?? former.get(key) ?? key;
}

/** An event of another version, as people would know it again. */
const formerName = (e: Identity): string => `${e.number} (${e.clipName || e.fileName || e.reel})`;

/** A batch of decisions in one line. `name`: how an event is called, by its key. */
export function batchText(all: readonly Decision[], name: (key: string) => string): string {
  const [first] = all;
  if (!first) return '';
  const event = eventOf(first);
  const text = decisionText(first);
  if (all.length === 1) return event === null ? aboutText(first, text) : `Event ${name(event)}: ${text}`;
  if (event === null) return `${all.length} ${isAboutOriginal(first) ? 'originals' : 'decisions'}: ${text}`;
  const kinds = [...new Set(all.map((d) => d.kind))];
  return `${all.length} events: ${kinds.map((k) => KIND_WORDS[k] ?? k).join(', ')}`;
}

const sentence = (text: string): string => `${text[0]?.toUpperCase() ?? ''}${text.slice(1)}`;

/** What was decided about no single event, with what it is about before it. */
function aboutText(decision: Decision, text: string): string {
  const scope = scopeOf(decision);
  const name = (path: string) => path.split('/').pop() ?? path;
  switch (scope.of) {
    case 'original':
      return `${name(scope.original)}: ${text}`;
    case 'folder':
      return `all in ${name(scope.folder)}: ${text}`;
    case 'reel':
      return `Reel ${scope.reel}: ${text}`;
    case 'source':
      return `${scope.name}: ${text}`;
    case 'cut':
    case 'event':
      return sentence(text);
  }
}

/** What many events at once came to, by the kind of decision. */
const KIND_WORDS: Partial<Record<Decision['kind'], string>> = {
  pair: 'paired',
  unpair: 'unpaired',
  slip: 'slipped',
  exempt: 'exempted',
  bake: 'shown as a movie made elsewhere',
  grade: 'graded',
  carry: 'values copied',
};

/** What stands of all that was decided, the oldest first, a line for each batch with when and by whom. */
export async function decidedLines(w: Workspace): Promise<string[]> {
  const names = await eventNames(w);
  const batches = new Map<string, { readonly row: Workspace['log']['rows'][number]; readonly decisions: Decision[] }>();
  w.log.rows.forEach((row, i) => {
    const decision = w.log.decisions[i] as Decision;
    const known = batches.get(row.batch);
    if (known) known.decisions.push(decision);
    else batches.set(row.batch, { row, decisions: [decision] });
  });
  return [...batches.values()].map(
    ({ row, decisions }) => `${minuteOf(row.madeAt)} ${row.who}: ${batchText(decisions, names)}${row.why ? ` (${row.why})` : ''}`,
  );
}

const minuteOf = (at: number): string => new Date(at).toISOString().slice(0, 16).replace('T', ' ');
