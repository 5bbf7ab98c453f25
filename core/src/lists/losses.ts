import type { EditList, Notice, Track } from '../edit';
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
  const laid = format.asLaid(list);
  return [...layoutLosses(list, laid, format), ...lossesBetween(laid, found, format)];
}

/** What the layout of a format changed before anything was written. */
function layoutLosses(list: EditList, laid: EditList, { title }: ListFormat): Notice[] {
  const told: Notice[] = [];
  const given = new Map(list.tracks.flatMap((t) => t.events.map((e) => [e.key, e] as const)));
  const shortened = laid.tracks
    .flatMap((t) => t.events)
    .filter((e) => e.transitionIn && e.transitionIn.duration !== given.get(e.key)?.transitionIn?.duration);
  const [first] = shortened;
  const count = (n: number) => `${n} ${n === 1 ? 'event' : 'events'}`;
  if (first)
    told.push({
      severity: 'lost',
      code: 'cannot-carry-early-transitions',
      place: null,
      event: first.key,
      message: `${count(shortened.length)} whose transition begins before the first frame of its source: in ${title} it begins with that frame.`,
    });
  const added = laid.tracks.length - list.tracks.length;
  if (added > 0)
    told.push({
      severity: 'changed',
      code: 'cannot-carry-overlaps',
      place: null,
      event: null,
      message: `Events that overlap on their track go to ${added} further ${added === 1 ? 'layer' : 'layers'}: in ${title} what stands on one track follows one another.`,
    });
  return told;
}
