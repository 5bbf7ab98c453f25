import { asLists, atOneRate, onWholeFrames, withTransitionsAtStart } from '../../conform';
import { writeCsv } from '../../csv';
import { type EditList, recordSpan, speedOf } from '../../edit';
import { formatTimeOfDay } from '../../time';
import { recordLabel } from '../midnight';
import { pathOf } from '../paths';
import { onOneLine } from '../plain';
import type { Field } from './columns';

/** The headings that are written; the reader knows them all. */
const HEADINGS: readonly (readonly [Field, string])[] = [
  ['number', 'Event'],
  ['track', 'Track'],
  ['reel', 'Reel'],
  ['clipName', 'Clip name'],
  ['fileName', 'File name'],
  ['sourceIn', 'Source in'],
  ['sourceOut', 'Source out'],
  ['recordIn', 'Record in'],
  ['recordOut', 'Record out'],
  ['speed', 'Speed %'],
  ['notes', 'Notes'],
];

/** Writes a table with headings, comma-separated (RFC 4180; what a spreadsheet would reckon out is marked as text). One row an event; transitions have no column. */
export function writeTable(given: EditList): string {
  const list = onWholeFrames(atOneRate(asLists(withTransitionsAtStart(given))));
  const label = recordLabel(recordSpan(list), list.rate);
  const rows = list.tracks.flatMap((track) =>
    track.events.map(
      (e): Record<Field, string> => ({
        number: e.number,
        track: track.name,
        reel: e.kind === 'black' ? 'BL' : e.reel,
        clipName: e.clipName,
        fileName: pathOf(e),
        sourceIn: formatTimeOfDay(e.source.in, e.sourceRate),
        sourceOut: formatTimeOfDay(e.source.out, e.sourceRate),
        recordIn: label(e.record.in, list.rate),
        recordOut: label(e.record.out, list.rate),
        speed: String(Number((speedOf(e.retime) * 100).toFixed(9))),
        notes: e.notes.map(onOneLine).join('\n'),
      }),
    ),
  );
  return writeCsv([HEADINGS.map(([, heading]) => heading), ...rows.map((row) => HEADINGS.map(([field]) => row[field]))]);
}
