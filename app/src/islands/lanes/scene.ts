import type { Finding } from '@gemello/core';
import { compile, type Shot, sourceFrameAt } from '@gemello/core/conform';
import type { Standing, StandingEvent, StandingTrack } from '@gemello/core/edit';
import { type SourceLeft, sourceLeft } from '@gemello/core/lanes';
import type { Original } from '@gemello/core/originals';
import type { Frames, Rate } from '@gemello/core/time';
import type { LedgerRow, LedgerView } from '../../contract';
import type { ConformView } from '../../contract/ledger';
import { openFindings } from '../data/events';

/** One layer as it is drawn, the topmost first. */
export interface Lane {
  readonly name: string;
  readonly events: readonly StandingEvent[];
}

/** What lanes draw: the cut as it stands, and what is known of its events. */
export interface Scene {
  readonly cut: Standing;
  readonly rate: Rate;
  readonly span: { readonly in: Frames; readonly out: Frames };
  readonly lanes: readonly Lane[];
  row(key: string): LedgerRow | undefined;
  findings(key: string): readonly Finding[];
  /** How many frames of the original are left on each side of an event, some of them as they are tried; null where that is not known. */
  left(lane: Lane, index: number, tried?: ReadonlyMap<string, StandingEvent>): SourceLeft | null;
  /** The file that is shown of an event, its original or what was made of that, and its frame at a record frame; null where there is none. */
  shown(event: StandingEvent): { readonly path: string; readonly look: string; frameAt(record: Frames): Frames } | null;
  /** How many frames an original has; undefined where it has any number. */
  room(path: string): Frames | undefined;
}

/** Puts together what lanes draw. What is only asked of events that are seen large is reckoned when it is asked. */
export function sceneOf(view: ConformView, ledger: LedgerView): Scene {
  const rows = new Map(ledger.rows.map((r) => [r.id, r]));
  const originals = new Map(view.originals.map((o) => [o.path, o]));
  const lanes = view.list.tracks
    .filter((t) => t.kind === 'picture')
    .map(({ name, events }): Lane => ({ name, events }))
    .reverse();
  const lefts = new WeakMap<StandingEvent, SourceLeft | null>();
  return {
    cut: view.list,
    rate: ledger.rate,
    span: ledger.span,
    lanes,
    row: (key) => rows.get(key),
    findings: (key) => {
      const row = rows.get(key);
      return row?.proof && !row.proof.stale ? openFindings(row) : [];
    },
    left(lane, index, tried) {
      const event = lane.events[index];
      if (!event) return null;
      const next = lane.events[index + 1];
      if (tried && (tried.has(event.key) || (next && tried.has(next.key)))) return leftOf(view.list, lane, index, originals, tried);
      const known = lefts.get(event);
      if (known !== undefined) return known;
      const found = leftOf(view.list, lane, index, originals);
      lefts.set(event, found);
      return found;
    },
    shown(event) {
      const shot = shotOf(view.list, '', [event], originals);
      const path = shot?.original?.path;
      const look = path === undefined ? undefined : view.looks[path];
      if (!shot || path === undefined || look === undefined) return null;
      return { path, look, frameAt: (record) => sourceFrameAt(shot, record) };
    },
    room: (path) => {
      const original = originals.get(path);
      return original?.kind === 'still' ? undefined : original?.frames;
    },
  };
}

/** An event with what stands beside it is enough to know what it needs of its original. */
function leftOf(
  cut: Standing,
  lane: Lane,
  index: number,
  originals: ReadonlyMap<string, Original>,
  tried?: ReadonlyMap<string, StandingEvent>,
): SourceLeft | null {
  const events = lane.events.slice(index, index + 2).map((e) => tried?.get(e.key) ?? e);
  const shot = shotOf(cut, lane.name, events, originals);
  return shot ? sourceLeft(shot) : null;
}

/** The first of some events that follow each other, as the cut is conformed. */
function shotOf(
  cut: Standing,
  layer: string,
  events: readonly StandingEvent[],
  originals: ReadonlyMap<string, Original>,
): Shot | undefined {
  const track: StandingTrack = { name: layer, kind: 'picture', events };
  return compile({ ...cut, tracks: [track] }, originals).layers[0]?.shots[0];
}

/** Index of the first event of a lane that ends after a frame. */
export function firstSeen(events: readonly StandingEvent[], frame: Frames): number {
  let [low, high] = [0, events.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if ((events[middle] as StandingEvent).record.out <= frame) low = middle + 1;
    else high = middle;
  }
  return low;
}
