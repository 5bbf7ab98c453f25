import { type EditList, type ListEvent, pictureTracks, type Track } from '../edit';
import type { Frames } from '../time';
import { PREPARATION_WORDS } from './wording';

/** One thing that is usually cleaned up before a cut is sent, and was not. */
export interface Unprepared {
  readonly code:
    | 'gap'
    | 'overlap'
    | 'layers'
    | 'nested'
    | 'effect'
    | 'sound'
    | 'switched-off'
    | 'title'
    | 'retimed-on-main-layer'
    | 'one-frame'
    | 'duplicate-number'
    | 'past-reference';
  /** The events it concerns, in record order; empty when it concerns the list as a whole. */
  readonly events: readonly string[];
  readonly message: string;
}

/**
 * What was not cleaned before sending (common practice, see TRADE.md section 2). Nothing here stops
 * the work; each is a place to look. `referenceEnd` is the record frame after the reference's last,
 * or null when there is none.
 */
export function checkPreparation(list: EditList, referenceEnd: Frames | null): Unprepared[] {
  const layers = pictureTracks(list);
  const main = layers[0]?.events ?? [];
  const all = layers.flatMap((t) => t.events);
  const found: Unprepared[] = [];
  const say = (code: Unprepared['code'], events: readonly ListEvent[], message: (n: number) => string) => {
    if (events.length > 0) found.push({ code, events: events.map((e) => e.key), message: message(events.length) });
  };
  const noted = (code: string) => list.notices.filter((n) => n.code === code).flatMap((n) => all.filter((e) => e.key === n.event));

  say('gap', afterGaps(layers[0]), PREPARATION_WORDS.gap);
  say('overlap', layers.flatMap(overlapping), PREPARATION_WORDS.overlap);
  if (layers.length > 1) {
    const above = layers.slice(1).flatMap((t) => t.events);
    say('layers', above, (n) => PREPARATION_WORDS.layers(n, layers.length - 1));
  }
  say('nested', [...noted('nested'), ...noted('nested-opened')], (n) => PREPARATION_WORDS.nested(n, noted('nested').length));
  say('effect', noted('effect'), PREPARATION_WORDS.effect);
  say(
    'switched-off',
    all.filter((e) => !e.enabled),
    PREPARATION_WORDS.switchedOff,
  );
  say(
    'title',
    all.filter((e) => e.kind === 'title'),
    PREPARATION_WORDS.title,
  );
  say(
    'retimed-on-main-layer',
    main.filter((e) => e.retime.kind !== 'natural'),
    PREPARATION_WORDS.retimed,
  );
  say(
    'one-frame',
    all.filter((e) => e.record.out - e.record.in === 1),
    PREPARATION_WORDS.oneFrame,
  );
  say('duplicate-number', sharingNumbers(all), PREPARATION_WORDS.duplicateNumber);
  if (referenceEnd !== null)
    say(
      'past-reference',
      all.filter((e) => e.record.out > referenceEnd),
      PREPARATION_WORDS.pastReference,
    );
  const sounds = list.tracks.length - layers.length;
  if (sounds > 0) found.push({ code: 'sound', events: [], message: PREPARATION_WORDS.sound(sounds) });
  return found;
}

function afterGaps(track: Track | undefined): ListEvent[] {
  return (track?.events ?? []).filter((e, i, events) => i > 0 && e.record.in > (events[i - 1]?.record.out ?? 0));
}

function overlapping(track: Track): ListEvent[] {
  return track.events.filter((e, i, events) => i > 0 && e.record.in < (events[i - 1]?.record.out ?? 0));
}

function sharingNumbers(events: readonly ListEvent[]): ListEvent[] {
  const seen = new Map<string, number>();
  for (const e of events) if (e.number) seen.set(e.number, (seen.get(e.number) ?? 0) + 1);
  return events.filter((e) => (seen.get(e.number) ?? 0) > 1);
}
