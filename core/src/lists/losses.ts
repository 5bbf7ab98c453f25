import type { EditList, ListEvent, Notice, Track } from '../edit';
import { lengthOf, sameSpeed } from '../time';
import { plural } from '../words';
import { inPlainText } from './plain';
import { lossesBetween } from './readback';
import type { ListFormat } from './registry';

/**
 * What a format cannot carry of a list: it is written, read back and compared. The rate goes along where the format does
 * not state it, as a person would say it.
 */
export function lossesIn(list: EditList, format: ListFormat, fileName = `list.${format.extensions[0]}`): Notice[] {
  return lossesOf(list, format, [format.write(list, fileName)]);
}

/** The same of a list that was written already, in one file or in one for each layer, the lowest first. */
export function lossesOf(list: EditList, format: ListFormat, files: readonly Uint8Array[]): Notice[] {
  const [first, ...others] = files.map((bytes) => format.read(bytes, format.statesRate ? {} : { rate: list.rate }));
  if (!first) return [];
  const upper = others.flatMap((o, i) => o.tracks.map((t): Track => ({ ...t, name: `V${i + 2}` })));
  const unreadable = others.flatMap((o) => o.notices.filter((n) => n.code === 'unreadable'));
  const found = { ...first, tracks: [...first.tracks, ...upper], notices: [...first.notices, ...unreadable] };
  const plain = inPlainText(list);
  const laid = format.asLaid(plain.list);
  return [...textLosses(plain), ...layoutLosses(plain.list, laid, format), ...lossesBetween(laid, found, format)];
}

function textLosses({ events, changed }: ReturnType<typeof inPlainText>): Notice[] {
  if (!changed) return [];
  const message = `Characters that are no text, in names or notes of ${plural(events.length, 'event')} or of the list: no list can hold them.`;
  return [{ severity: 'changed', code: 'cannot-carry-no-text', place: null, event: events[0] ?? null, message }];
}

/** True where the layout names another length of source for the same stretch of record. */
const lengthened = (laid: ListEvent, given: ListEvent | undefined): boolean =>
  given !== undefined &&
  given.anchor === null &&
  lengthOf(given.record) === lengthOf(laid.record) &&
  sameSpeed(given.sourceRate, laid.sourceRate) &&
  lengthOf(given.source) !== lengthOf(laid.source);

/** What the layout of a format changed before anything was written. */
function layoutLosses(list: EditList, laid: EditList, { title }: ListFormat): Notice[] {
  const told: Notice[] = [];
  const given = new Map(list.tracks.flatMap((t) => t.events.map((e) => [e.key, e] as const)));
  const events = laid.tracks.flatMap((t) => t.events);
  const tell = (severity: Notice['severity'], code: string, hit: readonly ListEvent[], message: (events: string) => string) => {
    const [first] = hit;
    if (first)
      told.push({
        severity,
        code: `cannot-carry-${code}`,
        place: null,
        event: first.key,
        message: message(plural(hit.length, 'event')),
      });
  };
  tell(
    'lost',
    'early-transitions',
    events.filter((e) => e.transitionIn && e.transitionIn.duration !== given.get(e.key)?.transitionIn?.duration),
    (n) => `${n} whose transition begins before the first frame of its source: in ${title} it begins with that frame.`,
  );
  tell(
    'changed',
    'cut-points',
    events.filter((e) => {
      const join = given.get(e.key)?.transitionIn;
      return (
        join &&
        e.transitionIn &&
        e.transitionIn.duration === join.duration &&
        e.transitionIn.before !== join.before &&
        e.transitionIn.before !== 0
      );
    }),
    (n) =>
      `${n} whose cut lies neither at the start, the middle nor the end of its transition: ${title} puts it in the middle, and the picture is the same.`,
  );
  tell(
    'lost',
    'mixed-rates',
    events.filter((e) => e.kind === 'clip' && !sameSpeed(e.sourceRate, given.get(e.key)?.sourceRate ?? e.sourceRate)),
    (n) => `${n} at another rate than the cut: ${title} counts all at one rate; the labels of the source stay where that rate has them.`,
  );
  tell(
    'changed',
    'source-lengths',
    events.filter((e) => lengthened(e, given.get(e.key))),
    (n) => `${n} whose source is longer or shorter than its speed asks for: ${title} says where it begins and how fast it runs.`,
  );
  const added = laid.tracks.length - list.tracks.length;
  if (added > 0)
    told.push({
      severity: 'changed',
      code: 'cannot-carry-overlaps',
      place: null,
      event: null,
      message: `Events that overlap on their track go to ${plural(added, 'further layer')}: in ${title} what stands on one track follows one another. Where the later one does not fill the frame, the earlier one shows behind it.`,
    });
  return told;
}
