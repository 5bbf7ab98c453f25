import { asLists, atOneRate, onWholeFrames, withTransitionsAtStart } from '../../conform';
import { type EditList, type ListEvent, recordSpan, speedOf, type Track } from '../../edit';
import { formatNumber, formatSop } from '../../grade/cdl';
import { type Frames, formatTimeOfDay, nominal, type Rate } from '../../time';
import { recordLabel } from '../midnight';
import { pathOf } from '../paths';
import { onOneLine } from '../plain';
import { MADE, markerText, NOTE, readComment, saysTitle, seemsMade } from './comments';
import { channelField, EVENT_NUMBER } from './grammar';

const LONGEST_REEL = 128;

/**
 * Writes a CMX 3600 style edit list. Law: what `readEdl` reads from it is the list that was written,
 * but for line numbers. Events go by record in, then by track; an event that stands alike on
 * several tracks is written once. Events without a number, or with one that no list can hold, get the next free one. The
 * record of a cut that runs over midnight has labels of day.
 */
export function writeEdl(given: EditList): string {
  const list = onWholeFrames(atOneRate(asLists(withTransitionsAtStart(given))));
  const label = recordLabel(recordSpan(list), list.rate);
  const writing: Writing = { rate: list.rate, label: (frame) => label(frame, list.rate) };
  const lines = [`TITLE: ${onOneLine(list.title)}`];
  const fcm = (drop: boolean) => `FCM: ${drop ? 'DROP FRAME' : 'NON-DROP FRAME'}`;
  lines.push(fcm(list.rate.dropFrame));
  for (const note of list.notes) lines.push(noteLine(note));

  const rows = rowsOf(list.tracks);
  const numbers = numbersOf(rows);
  let drop = list.rate.dropFrame;
  rows.forEach((row, index) => {
    if (row.event.sourceRate.dropFrame !== drop) {
      drop = row.event.sourceRate.dropFrame;
      lines.push(fcm(drop));
    }
    for (const line of eventLines(row, numbers[index] ?? '', writing)) lines.push(line);
  });
  return `${lines.join('\n')}\n`;
}

interface Writing {
  readonly rate: Rate;
  /** The label of a record frame. */
  readonly label: (frame: Frames) => string;
}

/** The number of each row: its own where a list can hold it, else the next that no other has. */
function numbersOf(rows: readonly Row[]): string[] {
  const own = rows.map(({ event }) => (EVENT_NUMBER.test(event.number) && event.number.length <= LONGEST_NUMBER ? event.number : ''));
  const taken = new Set(own.map(Number));
  const width = Math.max(3, ...own.map((n) => n.length), String(rows.length).length);
  let free = 0;
  return own.map((number, index) => {
    if (number !== '') return number;
    free = Math.max(free, index);
    do free++;
    while (taken.has(free));
    return String(free).padStart(width, '0');
  });
}

const LONGEST_NUMBER = 12;

interface Row {
  readonly event: ListEvent;
  readonly previous: ListEvent | null;
  readonly tracks: string[];
}

/** An event a row in record order; what stands alike on several tracks is one row. */
function rowsOf(tracks: readonly Track[]): Row[] {
  const rows: Row[] = [];
  const known = new Map<string, Row[]>();
  for (const track of tracks)
    track.events.forEach((event, index) => {
      const previous = track.events[index - 1] ?? null;
      const place = tracks.length > 1 && event.number !== '' ? `${event.number} ${event.record.in} ${event.source.in} ${event.reel}` : null;
      const alike =
        place === null ? undefined : known.get(place)?.find((row) => !row.tracks.includes(track.name) && isAlike(row, event, previous));
      if (alike) {
        alike.tracks.push(track.name);
        return;
      }
      const row = { event, previous, tracks: [track.name] };
      rows.push(row);
      if (place !== null) known.set(place, [...(known.get(place) ?? []), row]);
    });
  return rows.sort((a, b) => a.event.record.in - b.event.record.in);
}

/** True for an event that says the same as that of a row and leaves the same reel. */
function isAlike(row: Row, event: ListEvent, previous: ListEvent | null): boolean {
  const said = ({ key: _, line: __, metadata: ___, ...content }: ListEvent) => JSON.stringify(content);
  return (row.previous?.reel ?? null) === (previous?.reel ?? null) && said(row.event) === said(event);
}

function field(reel: string): string {
  const clean = reel.replace(/\s+/g, ' ').trim().slice(0, LONGEST_REEL) || 'AX';
  return clean.padEnd(8);
}

function eventLines({ event, previous, tracks }: Row, number: string, writing: Writing): string[] {
  const channels = channelField(tracks).padEnd(5);
  const record = `${writing.label(event.record.in)} ${writing.label(event.record.out)}`;
  const source = [event.source.in, event.source.out].map((frame) => formatTimeOfDay(frame, event.sourceRate)).join(' ');
  const join = event.transitionIn && event.transitionIn.duration > 0 ? event.transitionIn : null;
  const reel = field(reelOf(event));
  if (!join) return [`${number}  ${reel} ${channels} C        ${source} ${record}`, ...comments(event, null, writing)];

  const outgoing = join.from === 'previous' && previous?.record.out === event.record.in ? previous : null;
  const leaving = formatTimeOfDay(outgoing?.source.out ?? 0, outgoing?.sourceRate ?? event.sourceRate);
  const begins = writing.label(event.record.in);
  const code = { dissolve: 'D', wipe: `W${join.wipeCode || '001'}`, key: 'K' }[join.type].padEnd(4);
  return [
    `${number}  ${field(outgoing ? reelOf(outgoing) : 'BL')} ${channels} C        ${leaving} ${leaving} ${begins} ${begins}`,
    `${number}  ${reel} ${channels} ${code} ${String(join.duration).padStart(3, '0')} ${source} ${record}`,
    ...comments(event, outgoing, writing),
  ];
}

/** Reels that stand for what is no camera's (common practice). */
const reelOf = (event: ListEvent): string =>
  event.kind === 'black' ? 'BL' : event.kind === 'bars' && !/^(BARS?|TONE)$/i.test(event.reel) ? 'BARS' : event.reel;

/** Frames per second with a point, whole numbers in three places, and no more digits than they need. */
function speedText(framesPerSecond: number): string {
  const text = framesPerSecond.toFixed(9).replace(/(\.\d+?)0+$/, '$1');
  return text.replace(/^(-?)(\d+)/, (_, sign: string, digits: string) => sign + digits.padStart(3, '0'));
}

function comments(event: ListEvent, outgoing: ListEvent | null, { rate, label }: Writing): string[] {
  const lines: string[] = [];
  const say = (heading: string, text: string) => lines.push(`* ${heading} ${onOneLine(text)}`);
  if (event.retime.kind !== 'natural') {
    const fps = speedText(speedOf(event.retime) * nominal(rate));
    lines.push(`M2   ${field(reelOf(event))}       ${fps}       ${formatTimeOfDay(event.source.in, event.sourceRate)}`);
  }
  if (event.transitionIn) {
    if (outgoing?.clipName && event.clipName) say('FROM CLIP NAME:', outgoing.clipName);
    if (event.clipName) say('TO CLIP NAME:', event.clipName);
  } else if (event.clipName) say('FROM CLIP NAME:', event.clipName);
  if (event.fileName) say('SOURCE FILE:', pathOf(event));
  if (event.kind === 'title' || event.kind === 'generator') say(`${MADE}:`, event.kind.toUpperCase());
  else if (event.kind === 'clip' && seemsMade(reelOf(event), event.clipName)) say(`${MADE}:`, 'NO');
  if (event.cdl) lines.push(`* ASC_SOP ${formatSop(event.cdl)}`, `* ASC_SAT ${formatNumber(event.cdl.saturation)}`);
  for (const marker of event.markers) lines.push(`* ${onOneLine(markerText(label(marker.record), marker.colour, marker.text))}`);
  for (const note of event.notes) lines.push(noteLine(note));
  return lines;
}

/** A note that would be read as something else says that it is one; that of a shortened reel is meant so. */
const noteLine = (note: string): string =>
  `* ${(readComment(note)?.kind ?? 'reel') !== 'reel' || saysTitle(note) ? `${NOTE}: ` : ''}${onOneLine(note)}`;
