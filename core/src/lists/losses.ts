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
  return lossesBetween(format.asLaid(list), found, format);
}
