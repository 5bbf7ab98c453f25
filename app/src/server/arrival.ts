import {
  CARRIABLE,
  describeNotices,
  type EditList,
  formatRate,
  formatTimecode,
  guessMapping,
  lengthOf,
  type NoticeDescription,
  pictureEvents,
  pictureTracks,
  ratesAgainst,
  recordSpan,
  SEVERITIES,
  tableHead,
} from '@gemello/core';
import type { ArrivalView, BesideView, ListFigures, Reading, Writing, WrittenView } from '../contract';
import { besideOf, optionsOf, readThrice, written } from './lists';
import { impossibleLabels, rasterText, rateStated, settingChecks } from './settings';
import { workspace } from './workspace';

/** How many notices the look at an arriving list shows; the report has them all. */
const MOST_NOTICES = 100;

/** How a list would be read with what a person set, beside how it is read without. */
export async function arrivalView(jobId: string, listId: string, reading: Reading): Promise<ArrivalView> {
  const { reference, originals } = await workspace(jobId);
  const { row, before, after, unset, sizes } = await readThrice(jobId, listId, reading);
  const table = after.files.find((f) => f.format?.name === 'table' || (f.format === null && reading.columns));
  const head = table ? tableHead(table.text ?? '') : null;
  return {
    id: listId,
    state: row.state,
    files: after.files.map(({ fileName, format }, i) => ({ fileName, format: format?.title ?? null, bytes: sizes[i] ?? 0 })),
    reading,
    figures: figures(after.list),
    before: figures(before.list),
    unset: figures(unset.list),
    ratesAgainst: ratesAgainst(
      unset.list,
      originals.filter(({ original }) => original.kind !== 'sound').map(({ original }) => original.rate),
    ).map(formatRate),
    moved: moved(before.list, after.list),
    sequences: after.list.sequences,
    columns: head && { headings: head.headings, mapping: reading.columns ?? guessMapping(head.headings), sample: head.sample },
    checks: settingChecks(after.list, reference && { movie: reference.movie }, optionsOf(reading)),
    notices: gravestFirst(describeNotices(after.list))
      .slice(0, MOST_NOTICES)
      .map((n) => {
        const file = after.files[n.part ?? 0];
        const text = n.line === null ? null : linesAt(file?.text ?? '', n.line, n.severity === 'unreadable' ? 2 : 0);
        return { ...n, fileName: file?.fileName ?? '', text };
      }),
  };
}

const gravestFirst = (notices: readonly NoticeDescription[]): NoticeDescription[] =>
  [...notices].sort((a, b) => SEVERITIES.indexOf(a.severity) - SEVERITIES.indexOf(b.severity));

/** A line of a text and some before it, each cut short. */
const linesAt = (text: string, line: number, before: number): string =>
  text
    .split(/\r\n|\r|\n/, line)
    .slice(Math.max(0, line - 1 - before))
    .map((l) => l.slice(0, 300))
    .join('\n');

function figures(list: EditList): ListFigures {
  const span = recordSpan(list);
  const layers = pictureTracks(list).length;
  const counts = Object.fromEntries(
    SEVERITIES.map((s) => [s, list.notices.filter((n) => n.severity === s).length]),
  ) as ListFigures['counts'];
  return {
    title: list.title,
    rate: formatRate(list.rate),
    rateStated: rateStated(list),
    start: formatTimecode(span.in, list.rate),
    durationFrames: lengthOf(span),
    events: pictureEvents(list).length,
    layers,
    soundTracks: list.tracks.length - layers,
    raster: list.framing?.raster ? rasterText(list.framing.raster) : null,
    impossible: impossibleLabels(list),
    counts,
  };
}

/** How many picture events have other source or record frames in the one reading than in the other. */
function moved(before: EditList, after: EditList): number {
  const [a, b] = [pictureEvents(before), pictureEvents(after)];
  const span = (e: (typeof a)[number]) => `${e.source.in} ${e.source.out} ${e.record.in} ${e.record.out}`;
  return Math.abs(a.length - b.length) + b.filter((e, i) => a[i] && span(e) !== span(a[i])).length;
}

/** The cut beside another list, event by event; events that agree in everything are left out. */
export async function besideView(jobId: string, listId: string): Promise<BesideView> {
  const { cut, fileName, beside } = await besideOf(jobId, listId);
  const carriable = (aspect: string) => (CARRIABLE as readonly string[]).includes(aspect);
  const all = beside.rows.flatMap((r) => r.differences);
  const aspects = [...new Set(all.map((d) => d.aspect))];
  return {
    fileName,
    rows: beside.rows
      .filter((r) => r.differences.length > 0 || !r.here || !r.there)
      .map(({ here, there, differences }) => {
        const event = here ?? there;
        return {
          event: here?.key ?? null,
          number: event?.number ?? '',
          name: event?.clipName || event?.fileName || event?.reel || '',
          recordIn: formatTimecode((event?.record.in ?? 0) + (here ? 0 : beside.shift), cut.rate),
          there: there?.key ?? null,
          differences: differences.map((d) => ({ ...d, carriable: carriable(d.aspect) && d.lacks !== 'there' })),
        };
      }),
    summary: aspects.map((aspect) => {
      const of = all.filter((d) => d.aspect === aspect);
      const count = (lacks: 'here' | 'there' | null) => of.filter((d) => d.lacks === lacks).length;
      return { aspect, lacksHere: count('here'), lacksThere: count('there'), differs: count(null), carriable: carriable(aspect) };
    }),
    unmatchedHere: beside.rows.filter((r) => !r.there).length,
    unmatchedThere: beside.rows.filter((r) => !r.here).length,
  };
}

/** What writing the cut in a format would give, told before it is written. */
export async function writtenView(jobId: string, writing: Writing): Promise<WrittenView> {
  const { files, notices, reels, format } = await written(jobId, writing);
  const { list } = await workspace(jobId);
  const described = list ? describeNotices({ ...list, notices }) : [];
  return { format: format.title, flat: format.flat, files: files.map((f) => f.fileName), notices: described, reels };
}
