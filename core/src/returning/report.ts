import escapeHtml from 'escape-html';
import { writeCsv } from '../csv';
import { lutText, pictureTracks, type Standing, type StandingEvent } from '../edit';
import { formatSop } from '../grade';
import { SHEET_END, sheetBegin, TABLE_END, tableBegin } from '../sheets';
import { formatTimecode } from '../time';
import { form, plural } from '../words';
import { CLIP_CODECS, type ReturnAsked } from './asked';
import type { ReturnProblem } from './check';
import { framesOfClip, type ReturnClip, type ReturnPlan } from './plan';

/** What a report of a return is made of. */
export interface ReturnReportOf {
  readonly title: string;
  /** When it was written, as text. */
  readonly made: string;
  readonly cut: Standing;
  readonly asked: ReturnAsked;
  readonly plan: ReturnPlan;
  /** File names of lists and of what else lies beside the clips. */
  readonly files: readonly string[];
  readonly problems: readonly ReturnProblem[];
  /** What was decided since the turnover, each in one line. */
  readonly decisions: readonly string[];
}

interface Row {
  readonly event: StandingEvent;
  readonly track: string;
  readonly clip: ReturnClip | null;
  /** What is missing, short or otherwise than usual of it. */
  readonly remarks: readonly string[];
}

function rowsOf({ cut, plan, problems }: ReturnReportOf): Row[] {
  const clips = new Map(plan.clips.flatMap((c) => c.events.map((key) => [key, c] as const)));
  return pictureTracks(cut).flatMap(({ name, events }) =>
    (events as readonly StandingEvent[]).map((event): Row => {
      const clip = clips.get(event.key) ?? null;
      return {
        event,
        track: name,
        clip,
        remarks: [
          ...plan.warnings.filter((w) => w.event === event.key).map((w) => w.message),
          ...problems.filter((p) => p.fileName === clip?.fileName).map((p) => `${p.fileName} ${p.message}`),
        ],
      };
    }),
  );
}

const gradeText = ({ cdl, lut }: StandingEvent): string =>
  [cdl && `${formatSop(cdl)} saturation ${cdl.saturation.toFixed(4)}`, lut && `LUT ${lutText(lut)}`].filter(Boolean).join(', ');

const shownAs = ({ bake }: StandingEvent): string => bake?.original.split('/').pop() ?? '';

const bakedText = ({ baking, cdl, lut, burn }: ReturnClip): string =>
  [(cdl || lut) && 'grade', baking.speed && 'speed', baking.placed && 'placement', burn && 'text'].filter(Boolean).join(', ');

/** A return for machines (RFC 4180 quoting): one row an event, in track order. */
export function returnCsv(of: ReturnReportOf): string {
  const header = [
    ...['event', 'track', 'record in', 'record out', 'clip', 'reel', 'starts at', 'frames', 'head handle', 'tail handle'],
    ...['in the pictures', 'grade', 'made elsewhere', 'remarks'],
  ];
  const rows = rowsOf(of).map(({ event, track, clip, remarks }) => [
    event.number,
    track,
    formatTimecode(event.record.in, of.cut.rate),
    formatTimecode(event.record.out, of.cut.rate),
    clip?.fileName ?? '',
    clip?.reel ?? '',
    clip ? formatTimecode(clip.start, clip.rate) : '',
    clip ? String(framesOfClip(clip)) : '',
    clip ? String(clip.headHandle) : '',
    clip ? String(clip.tailHandle) : '',
    clip ? bakedText(clip) : '',
    gradeText(event),
    shownAs(event),
    remarks.join(' '),
  ]);
  return writeCsv([header, ...rows]);
}

/** A return for people, as a page or a document shows it: what was not returned stands first, with why. */
export interface ReturnSheet {
  readonly title: string;
  readonly made: string;
  readonly summary: string;
  /** What stands before and after the table; those without lines are left out. */
  readonly before: readonly Section[];
  readonly headings: readonly string[];
  readonly rows: readonly (readonly string[])[];
  readonly after: readonly Section[];
}
interface Section {
  readonly heading: string;
  readonly lines: readonly string[];
}

export function returnSheet(of: ReturnReportOf): ReturnSheet {
  const { title, made, asked, plan, files, problems, decisions, cut } = of;
  const rows = rowsOf(of);
  const not = rows.filter((r) => !r.clip && !isExempted(r.event));
  const sections = (...all: Section[]) => all.filter((s) => s.lines.length > 0);
  const said =
    problems.length === 0
      ? 'All as planned: every clip was opened again, every list read again.'
      : `${plural(problems.length, 'thing')} ${form(problems.length, 'is', 'are')} not as planned.`;
  return {
    title,
    made,
    summary: `${plural(plan.clips.length, 'clip')} for ${rows.filter((r) => r.clip).length} of ${plural(rows.length, 'event')}, ${CLIP_CODECS[asked.codec].says}, with handles of ${plural(asked.handles, 'frame')}. ${said}`,
    before: sections(
      {
        heading: 'Not returned',
        lines: not.map(
          ({ event, remarks }) => remarks.join(' ') || `Event ${event.number} (${event.clipName || event.reel}) has no picture in the cut.`,
        ),
      },
      { heading: 'Not as planned', lines: problems.map((p) => `${p.fileName} ${p.message}`) },
    ),
    headings: ['Event', 'Record', 'Clip', 'Starts at', 'Frames', 'Handles', 'In the pictures', 'Grade', 'Remarks'],
    rows: rows.flatMap(({ event, clip, remarks }) =>
      clip
        ? [
            [
              event.number,
              `${formatTimecode(event.record.in, cut.rate)} ${formatTimecode(event.record.out, cut.rate)}`,
              clip.fileName,
              formatTimecode(clip.start, clip.rate),
              String(framesOfClip(clip)),
              `${clip.headHandle} ${clip.tailHandle}`,
              bakedText(clip),
              gradeText(event),
              [shownAs(event) && `shown as ${shownAs(event)}.`, ...remarks].filter(Boolean).join(' '),
            ],
          ]
        : [],
    ),
    after: sections({ heading: 'Beside the clips', lines: files }, { heading: 'Decided since the turnover', lines: decisions }),
  };
}

/** Columns of the table that hold numbers and timecodes. */
const TABULAR: readonly number[] = [0, 1, 3, 4, 5];

/** One page that needs nothing beside it. */
export function returnHtml({ title, made, summary, before, headings, rows, after }: ReturnSheet): string {
  const list = (lines: readonly string[]) => `<ul>${lines.map((l) => `<li>${escapeHtml(l)}</li>`).join('')}</ul>`;
  const sections = (all: readonly Section[]) => all.map((s) => `<h2>${escapeHtml(s.heading)}</h2>${list(s.lines)}`).join('\n');
  const cell = (text: string, i: number) => `<td${TABULAR.includes(i) ? ' class="t"' : ''}>${escapeHtml(text)}</td>`;
  return `${sheetBegin(title)}<p class="q">${escapeHtml(made)}</p><p>${escapeHtml(summary)}</p>
${sections(before)}
<h2>Returned</h2>${tableBegin(headings)}${rows.map((row) => `<tr>${row.map(cell).join('')}</tr>`).join('\n')}
${TABLE_END}${sections(after)}
${SHEET_END}`;
}

/** Titles and black have no clip, and need none. */
const isExempted = ({ exempt, kind }: StandingEvent): boolean => exempt ?? kind !== 'clip';
