import { CUT, type CutEvent, offsets, TITLE, takeOf } from './scenario';

/**
 * The editor's list, written out here and not by Gemello's writer, so that it is an honest delivery.
 * 23.976 counts 24 labels a second and never drops any (SMPTE ST 12-1).
 */
export const BASE = 24;
const RECORD_START = 3600 * BASE;

export function label(frames: number, base = BASE): string {
  const two = (n: number) => String(n).padStart(2, '0');
  const seconds = Math.floor(frames / base);
  return [Math.floor(seconds / 3600), Math.floor(seconds / 60) % 60, seconds % 60, frames % base].map(two).join(':');
}

export function count(text: string, base = BASE): number {
  const [h = 0, m = 0, s = 0, f = 0] = text.split(':').map(Number);
  return (h * 3600 + m * 60 + s) * base + f;
}

/** What the list says of one event's source: reel, names and the four labels. */
export interface ListedSource {
  readonly reel: string;
  readonly clip: string;
  readonly file: string;
  readonly in: string;
  readonly out: string;
}

export function listedSource(event: CutEvent): ListedSource {
  if (event.title) return { reel: 'AX', clip: `Title ${event.title}`, file: '', in: label(0), out: label(event.length) };
  if (!event.clip) return { reel: 'BL', clip: '', file: '', in: label(0), out: label(event.length) };
  const take = takeOf(event.listed?.clip ?? event.clip);
  const base = Math.round(take.rate.num / take.rate.den);
  const speed = event.speed ?? 1;
  const used = speed === 0 ? event.length : Math.round(event.length * Math.abs(speed));
  const first = (speed < 0 ? event.at - used + 1 : event.at) + (event.listed?.shift ?? 0);
  const still = take.writer === 'png';
  const start = still || event.listed?.fromZero ? 0 : count(take.start, base);
  // The offline system writes labels at the cut's rate whatever the clip's own.
  const sourceIn = count(label(start + first, base));
  return {
    reel: still || event.listed?.fromZero ? 'AX' : take.reel,
    clip: take.clip,
    file: take.writer === 'dpx' ? '' : still ? take.file : `${take.clip}.${take.file.split('.').pop()}`,
    in: label(sourceIn),
    out: label(sourceIn + used),
  };
}

export function editList(): string {
  const starts = offsets();
  const lines = [`TITLE: ${TITLE}`, 'FCM: NON-DROP FRAME', ''];
  let before: ListedSource | null = null;
  for (const event of [...CUT].sort((a, b) => (starts.get(a) ?? 0) - (starts.get(b) ?? 0))) {
    const at = RECORD_START + (starts.get(event) ?? 0);
    const source = listedSource(event);
    const record = `${label(at)} ${label(at + event.length)}`;
    const row = (reel: string, code: string, times: string) =>
      `${event.number}  ${reel.padEnd(8)} ${event.track.padEnd(5)} ${code.padEnd(8)} ${times}`;
    const out: ListedSource | null = event.track === 'V' && event.join && !event.join.fromBlack ? before : null;
    if (event.join) {
      const outAt = out?.out ?? label(0);
      lines.push(row(out?.reel ?? 'BL', 'C', `${outAt} ${outAt} ${label(at)} ${label(at)}`));
      lines.push(
        row(
          source.reel,
          `${event.join.code.padEnd(4)} ${String(event.join.frames).padStart(3, '0')}`,
          `${source.in} ${source.out} ${record}`,
        ),
      );
      if (out?.clip) lines.push(`* FROM CLIP NAME: ${out.clip}`);
      if (source.clip) lines.push(`* TO CLIP NAME: ${source.clip}`);
    } else {
      lines.push(row(source.reel, 'C', `${source.in} ${source.out} ${record}`));
      if (event.speed !== undefined) {
        const fps = event.speed * BASE;
        lines.push(
          `M2   ${source.reel.padEnd(8)}       ${fps < 0 ? '-' : ''}${Math.abs(fps).toFixed(1).padStart(5, '0')}       ${source.in}`,
        );
      }
      if (source.clip) lines.push(`* FROM CLIP NAME: ${source.clip}`);
    }
    if (source.file) lines.push(`* SOURCE FILE: ${source.file}`);
    if (event.cdl) lines.push(`* ASC_SOP ${event.cdl.sop}`, `* ASC_SAT ${event.cdl.sat}`);
    if (event.title) lines.push(`* TITLE TEXT: ${event.title}`);
    if (event.number === '012') lines.push('* LOC: 01:00:32:00 GREEN  WIPE FOLLOWS THE DYKE');
    if (event.track === 'V') before = source;
  }
  return `${lines.join('\n')}\n`;
}
