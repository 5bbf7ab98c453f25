import escapeHtml from 'escape-html';
import { pictureTracks, type Standing, type StandingEvent } from '../edit';
import { SHEET_END, sheetBegin, TABLE_END, tableBegin } from '../sheets';
import { type Frames, formatTimecode } from '../time';
import { form, plural } from '../words';
import { showsBest } from './shows';
import { countVerdicts, type EventProof, type Verdict } from './verdict';
import { describeFinding } from './wording';

/** One event in a report of a proof, with all that is said of it in words. */
export interface ReportEntry {
  readonly event: string;
  readonly number: string;
  readonly track: string;
  readonly name: string;
  /** Its place in the cut, as timecodes; record out exclusive. */
  readonly recordIn: string;
  readonly recordOut: string;
  readonly verdict: Verdict;
  readonly score: number | null;
  readonly findings: readonly { readonly text: string; readonly accepted: boolean }[];
  /** What was decided about it, each in one line. */
  readonly decisions: readonly string[];
  /** The record frame its pictures are taken from, and its timecode. */
  readonly frame: Frames;
  readonly at: string;
}

/** A report of a proof, without its pictures. */
export interface ProofReport {
  readonly title: string;
  /** The reference it was proved against, by file name, and when the report was made, as text. */
  readonly reference: string;
  readonly made: string;
  readonly framesCompared: number;
  readonly entries: readonly ReportEntry[];
}

const VERDICT_WORDS: Readonly<Record<Verdict, string>> = {
  same: 'Same picture',
  differs: 'Differs',
  uncertain: 'Cannot be told',
  unchecked: 'Not compared',
};
export const verdictText = (verdict: Verdict): string => VERDICT_WORDS[verdict];

/** All events by their verdict, and how many findings are open, in one line. */
export function totalsText({ entries, framesCompared }: ProofReport): string {
  const counts = countVerdicts(entries);
  const open = entries.reduce((sum, e) => sum + (e.verdict === 'differs' ? e.findings.filter((f) => !f.accepted).length : 0), 0);
  return `${plural(entries.length, 'event')}: ${counts.same} same, ${counts.differs} ${form(counts.differs, 'differs', 'differ')}, ${counts.uncertain} cannot be told, ${counts.unchecked} not compared. ${plural(framesCompared, 'frame')} compared. ${open === 0 ? 'No finding is open.' : `${plural(open, 'finding')} open.`}`;
}

/** What a report is made of beside the cut and its proofs. `decisions`: in words, by the key of their event. */
export interface ProofReportOf extends Pick<ProofReport, 'reference' | 'made' | 'framesCompared'> {
  readonly decisions: ReadonlyMap<string, readonly string[]>;
}

/** A report of all events of a cut in the order of the record; one that was not proved is not compared. */
export function reportOfProof(list: Standing, proofs: ReadonlyMap<string, EventProof>, { decisions, ...of }: ProofReportOf): ProofReport {
  const entries = pictureTracks(list).flatMap((track) =>
    track.events.map((event) => ({ track: track.name, event: event as StandingEvent })),
  );
  return {
    ...of,
    title: list.title || 'Cut',
    entries: entries
      .sort((a, b) => a.event.record.in - b.event.record.in)
      .map(({ track, event }): ReportEntry => {
        const proof = proofs.get(event.key);
        const findings = proof?.findings ?? [];
        const frame = event.record.in + (proof ? showsBest(proof, findings[0] ?? null) : (event.record.out - event.record.in) >> 1);
        return {
          event: event.key,
          number: event.number,
          track,
          name: event.clipName || event.fileName || event.reel,
          recordIn: formatTimecode(event.record.in, list.rate),
          recordOut: formatTimecode(event.record.out, list.rate),
          verdict: proof?.verdict ?? 'unchecked',
          score: proof?.score ?? null,
          findings: findings.map((f) => ({ text: describeFinding(f), accepted: event.acceptedFindings.includes(f.kind) })),
          decisions: decisions.get(event.key) ?? [],
          frame,
          at: formatTimecode(frame, list.rate),
        };
      }),
  };
}

/** Pictures of an event as JPEGs; null where there is none. */
export interface ReportPictures {
  readonly reference: Uint8Array | null;
  readonly conform: Uint8Array | null;
}

const STYLE = `img{width:240px}tr.differs td:nth-child(4){border-left:4px solid #a33b20}
tr.uncertain td:nth-child(4){border-left:4px dashed #8a6d1c}tr.same td:nth-child(4){border-left:4px solid #1f6f6a}`;

/** The beginning of a report as a page that needs nothing beside it; entries follow, then `REPORT_END`. */
export const reportBegin = (report: ProofReport): string =>
  `${sheetBegin(`${report.title}: proof`, STYLE)}<p>Against ${escapeHtml(report.reference)}, ${escapeHtml(report.made)}.</p>
<p><strong>${escapeHtml(totalsText(report))}</strong></p>
${tableBegin(['Event', 'Reference', 'Conform', 'Verdict'])}`;
export const REPORT_END = TABLE_END + SHEET_END;

/** One event as a row. `base64` of a JPEG is made outside, since core has no such thing. */
export function reportRow(entry: ReportEntry, pictures: { readonly reference: string | null; readonly conform: string | null }): string {
  const { number, track, name, recordIn, recordOut, verdict, score, findings, decisions, at } = entry;
  const picture = (base64: string | null, of: string) =>
    base64 ? `<img alt="${of} at ${at}" src="data:image/jpeg;base64,${base64}">` : '<span class="q">no picture</span>';
  const found = findings.map((f) => `${escapeHtml(f.text)}${f.accepted ? ' <span class="q">(accepted as it is)</span>' : ''}`);
  const cells = [
    `<span class="t">${escapeHtml(number)} ${escapeHtml(track)}</span><br>${escapeHtml(name)}<br><span class="t q">${recordIn}<br>${recordOut}</span>`,
    picture(pictures.reference, 'Reference'),
    `${picture(pictures.conform, 'Conform')}<span class="t q">${at}</span>`,
    [
      `<strong>${verdictText(verdict)}</strong>${score === null ? '' : ` <span class="q">agreement ${score.toFixed(2)}</span>`}`,
      ...found,
      ...decisions.map((d) => `<span class="q">Decided: ${escapeHtml(d)}</span>`),
    ].join('<br>'),
  ];
  return `<tr class="${verdict}">${cells.map((c) => `<td>${c}</td>`).join('')}</tr>\n`;
}
