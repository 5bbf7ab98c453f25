import escapeHtml from 'escape-html';
import { writeCsv } from '../csv';
import { SHEET_END, sheetBegin, TABLE_END, tableBegin } from '../sheets';
import { formatTimecode, formatTimeOfDay, type Rate } from '../time';
import { plural } from '../words';
import type { Contender } from './examine';
import { countStates, PAIR_STATES, type Pairing } from './pair';
import { evidenceText } from './wording';

const timecodeOf = ({ original: o, sourceStartFrame }: Contender, frame = 0): string =>
  o.hasTimecode ? formatTimeOfDay(o.start + sourceStartFrame + frame, o.rate) : '';

/** Pairs for machines (RFC 4180 quoting): one row an event, in track order; `rate` is the record's. */
export function pairingCsv(pairings: readonly Pairing[], rate: Rate): string {
  const header = [
    ...['event', 'track', 'state', 'accepted', 'record in', 'record out'],
    ...['list reel', 'list clip name', 'list file name', 'list source in'],
    ...['original', 'reel', 'source in', 'start frame', 'missing head', 'missing tail', 'missing inside', 'shift', 'candidates', 'why'],
  ];
  const rows = pairings.map(({ event, track, state, accepted, chosen, acceptedPath, contenders }) => [
    event.number,
    track,
    state,
    accepted ? 'yes' : 'no',
    formatTimecode(event.record.in, rate),
    formatTimecode(event.record.out, rate),
    event.reel,
    event.clipName,
    event.fileName,
    formatTimeOfDay(event.source.in, event.sourceRate),
    chosen?.original.path ?? acceptedPath ?? '',
    chosen?.original.reel ?? '',
    chosen ? timecodeOf(chosen) : '',
    chosen ? String(chosen.sourceStartFrame) : '',
    String(chosen?.length.missingHead ?? 0),
    String(chosen?.length.missingTail ?? 0),
    String(chosen?.length.missingInside ?? 0),
    String(chosen?.shiftFrames ?? 0),
    String(contenders.length),
    chosen ? [chosen.reel, chosen.name, chosen.timecode].map((e) => `${e.criterion}: ${evidenceText(e)}`).join('; ') : '',
  ]);
  return writeCsv([header, ...rows]);
}

/** What a report is made of beside the pairs. `pictures`: JPEGs as base64 by the key of their event; events without one have none. */
export interface ReportOf {
  readonly title: string;
  readonly rate: Rate;
  readonly pictures: ReadonlyMap<string, string>;
  /** Sentences that go before the table, such as what was inferred. */
  readonly remarks: readonly string[];
}

/** Pairs for people: one page that needs nothing beside it. */
export function pairingHtml(pairings: readonly Pairing[], { title, rate, pictures, remarks }: ReportOf): string {
  const counts = countStates(pairings);
  const summary = PAIR_STATES.filter((s) => counts[s] > 0)
    .map((s) => `${counts[s]} ${s}`)
    .join(', ');
  const rows = pairings.map(({ event, track, state, chosen, acceptedPath, contenders }) => {
    const picture = pictures.get(event.key);
    const name = event.clipName || event.fileName || event.reel;
    const why = chosen ? [chosen.reel, chosen.name, chosen.timecode, chosen.length].map((e) => `${e.criterion}: ${evidenceText(e)}`) : [];
    const cells = [
      picture ? `<img alt="${escapeHtml(name)}" src="data:image/jpeg;base64,${picture}">` : '',
      `<span class="t">${escapeHtml(event.number)} ${escapeHtml(track)}</span><br>${escapeHtml(name)}<br><span class="t q">${formatTimecode(event.record.in, rate)}</span>`,
      escapeHtml(state),
      chosen || acceptedPath
        ? `${escapeHtml(chosen?.original.path ?? acceptedPath ?? '')}<br><span class="t q">${chosen ? timecodeOf(chosen) : ''}</span>`
        : '<span class="q">none</span>',
      `<span class="q">${why.map(escapeHtml).join('<br>')}${contenders.length > 1 ? `<br>${plural(contenders.length, 'candidate')}` : ''}</span>`,
    ];
    return `<tr>${cells.map((c) => `<td>${c}</td>`).join('')}</tr>`;
  });
  return `${sheetBegin(`${title}: pairs`, 'img{width:160px}')}<p>${plural(pairings.length, 'event')}: ${summary}.</p>
${remarks.map((r) => `<p>${escapeHtml(r)}</p>`).join('\n')}
${tableBegin(['Picture', 'Event', 'State', 'Original', 'Why'])}${rows.join('\n')}
${TABLE_END}${SHEET_END}`;
}
