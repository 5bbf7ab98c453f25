import type { EditList, ListEvent, Notice, Track } from '../edit';
import { lengthOf, sameSpeed } from '../time';
import { inPlainText } from './plain';
import { lossesBetween } from './readback';
import type { ListFormat } from './registry';
import { type AspectName, aspectSaid, CARRYING_WORDS } from './wording';

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
  const said = CARRYING_WORDS.noText({ events: events.length });
  return [{ severity: 'changed', code: 'cannot-carry-no-text', place: null, event: events[0] ?? null, ...said }];
}

/** True where the layout names another length of source for the same stretch of record. */
const lengthened = (laid: ListEvent, given: ListEvent | undefined): boolean =>
  given !== undefined &&
  given.anchor === null &&
  lengthOf(given.record) === lengthOf(laid.record) &&
  sameSpeed(given.sourceRate, laid.sourceRate) &&
  lengthOf(given.source) !== lengthOf(laid.source);

/** What the layout of a format changed before anything was written. */
function layoutLosses(list: EditList, laid: EditList, { title, canSwitchOff }: ListFormat): Notice[] {
  const told: Notice[] = [];
  const given = new Map(list.tracks.flatMap((t) => t.events.map((e) => [e.key, e] as const)));
  const events = laid.tracks.flatMap((t) => t.events);
  const tell = (severity: Notice['severity'], code: AspectName, hit: readonly ListEvent[], words: AspectName = code) => {
    const [first] = hit;
    if (first)
      told.push({
        severity,
        code: `cannot-carry-${code}`,
        place: null,
        event: first.key,
        ...aspectSaid(words, hit.length, title),
      });
  };
  if (!canSwitchOff)
    tell(
      'lost',
      'switched-off',
      list.tracks.flatMap((t) => t.events).filter((e) => !e.enabled),
    );
  tell(
    'lost',
    'early-transitions',
    events.filter((e) => e.transitionIn && e.transitionIn.duration !== given.get(e.key)?.transitionIn?.duration),
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
  );
  tell(
    'lost',
    'mixed-rates',
    events.filter((e) => e.kind === 'clip' && !sameSpeed(e.sourceRate, given.get(e.key)?.sourceRate ?? e.sourceRate)),
    'laid-mixed-rates',
  );
  tell(
    'changed',
    'source-lengths',
    events.filter((e) => lengthened(e, given.get(e.key))),
  );
  const added = laid.tracks.length - list.tracks.length;
  if (added > 0)
    told.push({
      severity: 'changed',
      code: 'cannot-carry-overlaps',
      place: null,
      event: null,
      ...CARRYING_WORDS.overlaps({ layers: added, title }),
    });
  return told;
}
