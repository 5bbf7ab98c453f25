import { bisector } from 'd3-array';
import { asLists, withTransitionsAtStart } from '../conform';
import { type Cdl, type EditList, type ListEvent, pictureTracks, recordSpan, speedOf, type Transition } from '../edit';
import { type Frames, formatTimecode, lengthOf, overlapOf, type Rate } from '../time';

/** What two lists may say differently of one event. */
export const ASPECTS = [
  'names',
  'reel',
  'source',
  'record',
  'speed',
  'transition',
  'placement',
  'cdl',
  'markers',
  'notes',
  'switched-off',
] as const;
export type Aspect = (typeof ASPECTS)[number];

/** One aspect in which the two differ, in words. `lacks`: the side that says nothing of it, null when both do. */
export interface Difference {
  readonly aspect: Aspect;
  readonly here: string;
  readonly there: string;
  readonly lacks: 'here' | 'there' | null;
}

/** An event of the one list beside that of the other; one side is null where it has no counterpart. */
export interface BesideRow {
  readonly here: ListEvent | null;
  readonly there: ListEvent | null;
  readonly differences: readonly Difference[];
}

/** Two lists of the same cut, event by event. */
export interface Beside {
  /** Rate of both. */
  readonly rate: Rate;
  /** What must be added to the other list's record frames to lay it on this one. */
  readonly shift: Frames;
  readonly rows: readonly BesideRow[];
}

/** Two events are of one place in the cut when they share at least this part of the shorter one. */
const SHARED = 0.5;

/**
 * Lays two lists of the same cut beside each other by what stands where on the record; the start of
 * the two may differ by a constant. Transitions are compared as if all began with their event, since
 * formats place them differently. Rows are in record order. Both must run at the same rate.
 */
export function layBeside(hereAsRead: EditList, thereAsRead: EditList): Beside {
  const here = asLists(withTransitionsAtStart(hereAsRead));
  const there = asLists(withTransitionsAtStart(thereAsRead));
  const shift = recordSpan(here).in - recordSpan(there).in;
  const [ours, theirs] = [eventsOf(hereAsRead, here), eventsOf(thereAsRead, there)];
  const pairs = matched(ours, theirs, shift);
  const used = new Set(pairs.values());
  const rows: BesideRow[] = [
    ...ours.map((a) => {
      const b = pairs.get(a) ?? null;
      return { here: a.asRead, there: b?.asRead ?? null, differences: b ? differences(a.event, b.event, shift, here.rate) : [] };
    }),
    ...theirs.filter((b) => !used.has(b)).map((b) => ({ here: null, there: b.asRead, differences: [] })),
  ];
  const at = (row: BesideRow) => row.here?.record.in ?? (row.there?.record.in ?? 0) + shift;
  return { rate: here.rate, shift, rows: rows.sort((a, b) => at(a) - at(b)) };
}

interface Laid {
  readonly event: ListEvent;
  readonly asRead: ListEvent;
}

const eventsOf = (asRead: EditList, laid: EditList): Laid[] =>
  pictureTracks(laid).flatMap((track, t) =>
    track.events.map((event, i): Laid => ({ event, asRead: pictureTracks(asRead)[t]?.events[i] ?? event })),
  );

function matched(ours: readonly Laid[], theirs: readonly Laid[], shift: Frames): Map<Laid, Laid> {
  const sorted = [...theirs].sort((a, b) => a.event.record.in - b.event.record.in);
  const longest = sorted.reduce((most, b) => Math.max(most, lengthOf(b.event.record)), 0);
  const candidates = ours.flatMap((a) => {
    const record = { in: a.event.record.in - shift, out: a.event.record.out - shift };
    const found: { a: Laid; b: Laid; score: number }[] = [];
    for (let i = firstFrom(sorted, record.in - longest); i < sorted.length; i++) {
      const b = sorted[i] as Laid;
      if (b.event.record.in >= record.out) break;
      const score = likeness(a.event, b.event, lengthOf(overlapOf(record, b.event.record) ?? { in: 0, out: 0 }));
      if (score > 0) found.push({ a, b, score });
    }
    return found;
  });
  const pairs = new Map<Laid, Laid>();
  const taken = new Set<Laid>();
  for (const { a, b } of candidates.sort((x, y) => y.score - x.score)) {
    if (pairs.has(a) || taken.has(b)) continue;
    pairs.set(a, b);
    taken.add(b);
  }
  return pairs;
}

/** Index of the first event that begins at a frame or after it. */
const firstFrom = bisector((laid: Laid) => laid.event.record.in).left;

/** How much speaks for two events being the same: their place above all, then reel, names and kind. 0 when too little is shared. */
function likeness(a: ListEvent, b: ListEvent, shared: Frames): number {
  if (shared < SHARED * Math.min(lengthOf(a.record), lengthOf(b.record)) || shared === 0) return 0;
  const same = (x: string, y: string) => (x !== '' && x.toLowerCase() === y.toLowerCase() ? 0.25 : 0);
  const names = same(a.reel, b.reel) + same(a.clipName, b.clipName) + same(a.fileName, b.fileName) + (a.kind === b.kind ? 0.25 : 0);
  return (2 * shared) / (lengthOf(a.record) + lengthOf(b.record)) + names;
}

function differences(a: ListEvent, b: ListEvent, shift: Frames, rate: Rate): Difference[] {
  const found: Difference[] = [];
  const say = (aspect: Aspect, here: string, there: string) => {
    if (here !== there) found.push({ aspect, here, there, lacks: here === '' ? 'here' : there === '' ? 'there' : null });
  };
  say('names', [a.clipName, a.fileName].filter(Boolean).join(' · '), [b.clipName, b.fileName].filter(Boolean).join(' · '));
  say('reel', named(a.reel), named(b.reel));
  say('source', span(a.source, a.sourceRate), span(b.source, b.sourceRate));
  say('record', span(a.record, rate), span({ in: b.record.in + shift, out: b.record.out + shift }, rate));
  say('speed', speedText(a), speedText(b));
  say('transition', transitionText(a.transitionIn), transitionText(b.transitionIn));
  say('placement', placementText(a), placementText(b));
  say('cdl', cdlText(a.cdl), cdlText(b.cdl));
  say('markers', a.markers.map((m) => m.text).join(' / '), b.markers.map((m) => m.text).join(' / '));
  say('notes', a.notes.join(' / '), b.notes.join(' / '));
  say('switched-off', a.enabled ? '' : 'off', b.enabled ? '' : 'off');
  return found;
}

/** `AX` stands for a source that has no name. */
const named = (reel: string) => (/^AX$/i.test(reel) ? '' : reel);

const cdlText = (cdl: Cdl | null): string =>
  cdl ? `slope ${cdl.slope.join(' ')}, offset ${cdl.offset.join(' ')}, power ${cdl.power.join(' ')}, saturation ${cdl.saturation}` : '';

const span = (r: { in: Frames; out: Frames }, rate: Rate) => `${formatTimecode(r.in, rate)} – ${formatTimecode(r.out, rate)}`;

function speedText(event: ListEvent): string {
  if (event.retime.kind === 'natural') return '';
  if (event.retime.kind === 'freeze') return 'freeze';
  const percent = `${Number((speedOf(event.retime) * 100).toFixed(2))} %`;
  return event.retime.kind === 'keyed' ? `${percent} on the mean, ${event.retime.keys.length} keys` : percent;
}

const transitionText = (join: Transition | null): string =>
  join ? `${join.type}${join.wipeCode ? ` ${join.wipeCode}` : ''} of ${join.duration}${join.from === 'black' ? ' from black' : ''}` : '';

function placementText({ placement: p }: ListEvent): string {
  if (!p) return '';
  const percent = (n: number) => `${Number((n * 100).toFixed(1))} %`;
  const crop = Object.values(p.crop).some((c) => c !== 0) ? `, crop ${Object.values(p.crop).map(percent).join(' ')}` : '';
  const turned = p.rotation === 0 ? '' : `, ${Number(p.rotation.toFixed(1))}°`;
  const scale = p.scaleX === p.scaleY ? percent(p.scaleX) : `${percent(p.scaleX)} x ${percent(p.scaleY)}`;
  return `${scale} at ${percent(p.x)} ${percent(p.y)}${turned}${crop}${p.opacity === 1 ? '' : `, opacity ${percent(p.opacity)}`}`;
}
