import { execFileSync } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { formatTimecode, LIST_FORMATS, type ListFormat, RATES, readEdl } from '@gemello/core';
import { type Figure, inFolder, inTurn } from './measure';

/** An edit list of our own scenario, as long as asked: cuts with names, a dissolve every tenth, a speed every fiftieth. */
export function longEdl(events: number): string {
  const tc = (n: number) => formatTimecode(n, RATES['24']);
  const lines = ['TITLE: LONG', 'FCM: NON-DROP FRAME'];
  for (let i = 0; i < events; i++) {
    const reel = `A${String(i % 400).padStart(3, '0')}`;
    const source = 86_400 + (i % 5000) * 40;
    const times = `${tc(source)} ${tc(source + 30)} ${tc(i * 30)} ${tc(i * 30 + 30)}`;
    const number = String(i + 1).padStart(6, '0');
    if (i % 10 === 9)
      lines.push(
        `${number}  A000     V     C        ${tc(0)} ${tc(0)} ${tc(i * 30)} ${tc(i * 30)}`,
        `${number}  ${reel}     V     D    012 ${times}`,
      );
    else lines.push(`${number}  ${reel}     V     C        ${times}`);
    if (i % 50 === 49) lines.push(`M2   ${reel}       024.5       ${tc(source)}`);
    lines.push(`* ${i % 10 === 9 ? 'TO' : 'FROM'} CLIP NAME: ${reel}C${String(i % 90).padStart(3, '0')}`);
  }
  return lines.join('\n');
}

/** The resident memory that reading a list takes at its peak, in bytes, beyond the text itself; measured in a process of its own. */
function peakMemory(format: ListFormat, bytes: Uint8Array): Promise<number> {
  return inFolder(async (folder) => {
    const file = path.join(folder, 'list');
    writeFileSync(file, bytes);
    const script = fileURLToPath(new URL('./peak.ts', import.meta.url));
    return Number(execFileSync(process.execPath, ['--import', 'tsx', script, format.name, file], { encoding: 'utf8' }));
  });
}

/** Reading lists of each format, against JSON.parse of the same list as JSON; growth from ten thousand events to a hundred thousand. */
export async function lists(): Promise<Figure[]> {
  const figures: Figure[] = [];
  const options = { rate: RATES['24'] };
  for (const format of LIST_FORMATS) {
    let small = 0;
    for (const events of [10_000, 100_000]) {
      const bytes = format.write(readEdl(longEdl(events), options), `long.${format.extensions[0]}`);
      const asJson = JSON.stringify(format.read(bytes, options));
      const { ours, yardstick } = await inTurn(
        () => format.read(bytes, options),
        () => JSON.parse(asJson),
        events > 10_000 ? 3 : 5,
      );
      const growth = small > 0 ? `; ${(ours / small).toFixed(1)} times the time for 10 times the events` : '';
      if (events === 10_000) small = ours;
      const memory = await peakMemory(format, bytes);
      const size = bytes.byteLength;
      const peak = memory > 0 ? `peak memory ${megabytes(memory)}` : 'no more memory than loading the reader took';
      figures.push({
        name: `read ${format.title} of ${events} events`,
        ours,
        yardstick,
        yardstickName: 'JSON.parse',
        note: `${Math.round(events / ours)} events/s; file ${megabytes(size)}, ${peak}${growth}`,
      });
    }
  }
  const list = readEdl(longEdl(10_000), options);
  for (const format of LIST_FORMATS) {
    const written = await inTurn(
      () => format.write(list),
      () => JSON.stringify(list),
    );
    figures.push({ name: `write ${format.title} of 10000 events`, ...written, yardstickName: 'JSON.stringify', note: '' });
  }
  return figures;
}

const megabytes = (bytes: number) => `${(bytes / 1024 / 1024).toFixed(0)} MB`;
