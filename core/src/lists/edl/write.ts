import { asLists, onWholeFrames, withTransitionsAtStart } from '../../conform';
import { type EditList, type ListEvent, speedOf, type Track } from '../../edit';
import { formatNumber, formatSop } from '../../grade/cdl';
import { type Frames, formatTimecode, formatTimeOfDay, nominal, type Rate } from '../../time';
import { pathOf } from '../paths';
import { channelField } from './grammar';

const LONGEST_REEL = 128;

/**
 * Writes a CMX 3600 style edit list. Law: what `readEdl` reads from it is the list that was written,
 * but for line numbers. Events go by record in, then by track; an event that stands alike on
 * several tracks is written once. Events without a number get the next free one.
 */
export function writeEdl(given: EditList): string {
  const list = onWholeFrames(asLists(withTransitionsAtStart(given)));
  const lines = [`TITLE: ${list.title}`];
  const fcm = (drop: boolean) => `FCM: ${drop ? 'DROP FRAME' : 'NON-DROP FRAME'}`;
  lines.push(fcm(list.rate.dropFrame));
  for (const note of list.notes) lines.push(`* ${note}`);

  const rows = rowsOf(list.tracks);
  const width = Math.max(3, ...rows.map((r) => r.event.number.length), String(rows.length).length);
  let drop = list.rate.dropFrame;
  rows.forEach((row, index) => {
    if (row.event.sourceRate.dropFrame !== drop) {
      drop = row.event.sourceRate.dropFrame;
      lines.push(fcm(drop));
    }
    const number = row.event.number || String(index + 1).padStart(width, '0');
    lines.push(...eventLines(row, number, list.rate));
  });
  return `${lines.join('\n')}\n`;
}

interface Row {
  readonly event: ListEvent;
  readonly previous: ListEvent | null;
  readonly tracks: string[];
}

function rowsOf(tracks: readonly Track[]): Row[] {
  const rows = new Map<string, Row>();
  for (const track of tracks)
    track.events.forEach((event, index) => {
      const { key: _, line: __, metadata: ___, ...content } = event;
      const before = track.events[index - 1] ?? null;
      const key = event.number === '' ? `${event.key}` : JSON.stringify([content, before?.reel ?? null]);
      const known = rows.get(key);
      if (known && !known.tracks.includes(track.name)) known.tracks.push(track.name);
      else rows.set(known ? `${key} ${event.key}` : key, { event, previous: before, tracks: [track.name] });
    });
  return [...rows.values()].sort((a, b) => a.event.record.in - b.event.record.in);
}

function field(reel: string): string {
  const clean = reel.replace(/\s+/g, ' ').trim().slice(0, LONGEST_REEL) || 'AX';
  return clean.padEnd(8);
}

function eventLines({ event, previous, tracks }: Row, number: string, rate: Rate): string[] {
  const channels = channelField(tracks).padEnd(5);
  const timecodes = (sourceIn: Frames, sourceOut: Frames, sourceRate: Rate, recordIn: Frames, recordOut: Frames) =>
    [
      formatTimeOfDay(sourceIn, sourceRate),
      formatTimeOfDay(sourceOut, sourceRate),
      formatTimecode(recordIn, rate),
      formatTimecode(recordOut, rate),
    ].join(' ');
  const span = timecodes(event.source.in, event.source.out, event.sourceRate, event.record.in, event.record.out);
  const join = event.transitionIn;
  if (!join) return [`${number}  ${field(event.reel)} ${channels} C        ${span}`, ...comments(event, null, rate)];

  const outgoing = join.from === 'previous' ? previous : null;
  const leaving = outgoing
    ? timecodes(outgoing.source.out, outgoing.source.out, event.sourceRate, event.record.in, event.record.in)
    : timecodes(0, 0, event.sourceRate, event.record.in, event.record.in);
  const code = { dissolve: 'D', wipe: `W${join.wipeCode || '001'}`, key: 'K' }[join.type].padEnd(4);
  return [
    `${number}  ${field(outgoing?.reel ?? (join.from === 'black' ? 'BL' : 'AX'))} ${channels} C        ${leaving}`,
    `${number}  ${field(event.reel)} ${channels} ${code} ${String(join.duration).padStart(3, '0')} ${span}`,
    ...comments(event, outgoing, rate),
  ];
}

function comments(event: ListEvent, outgoing: ListEvent | null, rate: Rate): string[] {
  const lines: string[] = [];
  const speed = speedOf(event.retime);
  if (event.retime.kind !== 'natural') {
    const fps = (speed * nominal(event.sourceRate)).toFixed(6).replace(/(\.\d{1}\d*?)0+$/, '$1');
    const padded = fps.replace(/^(-?)(\d+)/, (_, sign: string, digits: string) => sign + digits.padStart(3, '0'));
    lines.push(`M2   ${field(event.reel)}       ${padded}       ${formatTimeOfDay(event.source.in, event.sourceRate)}`);
  }
  if (event.transitionIn) {
    if (outgoing?.clipName) lines.push(`* FROM CLIP NAME: ${outgoing.clipName}`);
    if (event.clipName) lines.push(`* TO CLIP NAME: ${event.clipName}`);
  } else if (event.clipName) lines.push(`* FROM CLIP NAME: ${event.clipName}`);
  if (event.fileName) lines.push(`* SOURCE FILE: ${pathOf(event)}`);
  if (event.cdl) lines.push(`* ASC_SOP ${formatSop(event.cdl)}`, `* ASC_SAT ${formatNumber(event.cdl.saturation)}`);
  for (const marker of event.markers)
    lines.push(`* LOC: ${[formatTimecode(marker.record, rate), marker.colour, marker.text].filter(Boolean).join(' ')}`);
  for (const note of event.notes) lines.push(`* ${note}`);
  return lines;
}
