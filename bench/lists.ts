import { formatTimecode, LIST_FORMATS, RATES, readEdl, writeEdl } from '@gemello/core';
import { type Figure, inTurn } from './measure';

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

/** Reading an edit list, against JSON.parse of the same list as JSON. */
export async function lists(): Promise<Figure[]> {
  const figures: Figure[] = [];
  for (const events of [10_000, 100_000]) {
    const text = longEdl(events);
    const list = readEdl(text, { rate: RATES['24'] });
    const asJson = JSON.stringify(list);
    const { ours, yardstick } = await inTurn(
      () => readEdl(text, { rate: RATES['24'] }),
      () => JSON.parse(asJson),
    );
    figures.push({
      name: `read an edit list of ${events} events`,
      ours,
      yardstick,
      yardstickName: 'JSON.parse',
      note: `${Math.round(events / ours)} events/s`,
    });
    if (events === 10_000) {
      for (const format of LIST_FORMATS.filter((f) => f.name !== 'edl')) {
        const written = format.write(list);
        const read = await inTurn(
          () => format.read(written, {}),
          () => JSON.parse(asJson),
        );
        figures.push({
          name: `read ${format.title} of ${events} events`,
          ...read,
          yardstickName: 'JSON.parse',
          note: `${Math.round(events / read.ours)} events/s`,
        });
      }
      const written = await inTurn(
        () => writeEdl(list),
        () => JSON.stringify(list),
      );
      figures.push({
        name: `write an edit list of ${events} events`,
        ours: written.ours,
        yardstick: written.yardstick,
        yardstickName: 'JSON.stringify',
        note: '',
      });
    }
  }
  return figures;
}
