import {
  applyDecisions,
  compareName,
  compareReel,
  type EditList,
  EMPTY_LIST,
  identified,
  indexOriginals,
  newEvent,
  type Original,
  pairCut,
  proposals,
  RATES,
  READY_RULES,
  settlingOf,
  withOriginals,
} from '@gemello/core';
import { original } from '../core/test/make';
import { type Figure, inTurn, seconds } from './measure';

/** Clips on a reel. */
const ON_REEL = 200;

/** Originals of reels of 200 clips each, one after the other in time of day, and a cut of them. */
export function job(events: number, clips: number): { list: EditList; originals: Original[] } {
  const originals = Array.from({ length: clips }, (_, i): Original => {
    const reel = `A${String(Math.floor(i / ON_REEL)).padStart(4, '0')}`;
    const name = `${reel}C${String(i % ON_REEL).padStart(3, '0')}_260412`;
    return original(`/cards/${reel}/${name}.mov`, {
      reel,
      clipName: name,
      start: 24 * 3600 * 6 + (i % ON_REEL) * 4000,
      frames: 3000,
      print: name,
    });
  });
  const made = Array.from({ length: events }, (_, i) => {
    const clip = originals[(i * 7919) % clips] as Original;
    const source = clip.start + ((i * 31) % 2800);
    return newEvent({
      key: `V1/${i + 1}`,
      number: String(i + 1),
      reel: clip.reel,
      clipName: clip.clipName,
      fileName: clip.fileName,
      sourceRate: RATES['24'],
      source: { in: source, out: source + 48 },
      sourceLabels: `${source}`,
      record: { in: i * 48, out: i * 48 + 48 },
    });
  });
  const list = identified({
    ...EMPTY_LIST,
    format: 'edl',
    title: 'BENCH',
    rate: RATES['24'],
    tracks: [{ name: 'V1', kind: 'picture', events: made }],
  });
  return { list, originals };
}

/** Pairing at the size of a series, and again after one change; the yardstick compares each event with each original. */
export async function pairing(): Promise<Figure[]> {
  const figures: Figure[] = [];
  const small = job(1000, 10_000);
  const large = job(10_000, 100_000);
  const measured = new Map<string, number>();
  for (const [name, { list, originals }] of [
    ['1 000 events against 10 000 originals', small],
    ['10 000 events against 100 000 originals', large],
  ] as const) {
    const cut = applyDecisions(list, []).list;
    const asText = JSON.stringify(originals);
    const figure = async (
      what: string,
      work: () => unknown,
      yardstick = () => JSON.parse(asText),
      yardstickName = 'JSON.parse of the originals',
    ) => {
      const { ours, yardstick: theirs } = await inTurn(work, yardstick, 5);
      measured.set(`${what}, ${name}`, ours);
      figures.push({ name: `${what}, ${name}`, ours, yardstick: theirs, yardstickName, note: `${(ours * 1000).toFixed(1)} ms` });
    };
    await figure('index', () => indexOriginals(originals));
    const index = indexOriginals(originals);
    await figure('pair', () => pairCut(cut, index));
    const before = pairCut(cut, index);
    const strict = READY_RULES.find((r) => r.name === 'To the letter');
    await figure('again with another rule', () => pairCut(cut, index, { rules: strict ?? null }, before));
    const key = cut.tracks[0]?.events[5]?.key ?? '';
    const decided = applyDecisions(list, [{ kind: 'shift', scope: { of: 'event', event: key }, frames: 1 }]).list;
    await figure('again after one decision', () => pairCut(decided, index, {}, before));
    const added = original('/cards/A0000/new.mov', { reel: 'A0000', start: 24 * 3600 * 6, frames: 3000 });
    await figure('again with one more original', () => pairCut(cut, withOriginals(index, [added]), {}, before));
    const renamed = applyDecisions(list, [{ kind: 'name-pattern', find: '*_260412', becomes: '*_x' }]).list;
    await figure('again with a name pattern for all', () => pairCut(renamed, index, {}, before));
    const settling = settlingOf(list, [], index);
    await figure('look for common causes', () => proposals(settling));
  }
  const [few, many] = [
    measured.get('pair, 1 000 events against 10 000 originals'),
    measured.get('pair, 10 000 events against 100 000 originals'),
  ];
  const growth = (many ?? 0) / (few ?? 1);
  figures.push(await naive(growth));
  return figures;
}

/** Each of 200 events against each of 2 000 originals. */
async function naive(growth: number): Promise<Figure> {
  const { list, originals } = job(200, 2000);
  const cut = applyDecisions(list, []).list;
  const index = indexOriginals(originals);
  const everyOne = () => {
    for (const { events } of cut.tracks)
      for (const event of events) for (const o of originals) if (compareReel(event, o).grade === 'exact') compareName(event, o);
  };
  const theirs = await seconds(everyOne);
  const { ours } = await inTurn(
    () => pairCut(cut, index),
    () => undefined,
    5,
  );
  const note = `ten times of both takes ${growth.toFixed(1)} times as long`;
  return { name: 'pair 200 events against 2 000 originals', ours, yardstick: theirs, yardstickName: 'each against each', note };
}
