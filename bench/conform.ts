import { execFileSync } from 'node:child_process';
import path from 'node:path';
import {
  applyDecisions,
  compile,
  type Decision,
  FILLING,
  identified,
  newPicture,
  type Original,
  pictureAt,
  RATES,
  readEdl,
  recordSpan,
  type Standing,
} from '@gemello/core';
import { compositionOf, openCompositor, openSources, probeMovie } from '@gemello/media';
import { longEdl } from './lists';
import { type Figure, inFolder, inTurn, seconds } from './measure';

const EVENTS = 10_000;

/** The time map and what stands on it: taking decisions in, compiling, asking for pictures, drawing them. */
export function conform(): Promise<Figure[]> {
  return inFolder(async (folder) => [...(await reckoned()), ...(await drawn(folder))]);
}

async function reckoned(): Promise<Figure[]> {
  const list = identified(readEdl(longEdl(EVENTS), { rate: RATES['24'] }));
  const events = list.tracks.flatMap((t) => (t.kind === 'picture' ? t.events : []));
  const pairs = events.map((e, i): Decision => ({ kind: 'pair', event: e.key, original: `/v/${i}.mov`, sourceStartFrame: 0 }));
  const cut = applyDecisions(list, pairs).list;
  const asJson = JSON.stringify(list);
  const parse = () => JSON.parse(asJson);
  const figure = async (name: string, work: () => unknown, note = ''): Promise<Figure> => {
    const { ours, yardstick } = await inTurn(work, parse, 9);
    return { name, ours, yardstick, yardstickName: 'JSON.parse of the list', note: `${(ours * 1000).toFixed(1)} ms${note}` };
  };
  const figures = [
    await figure(`compile ${EVENTS} events`, () => compile(cut, [])),
    await figure(`take ${EVENTS} decisions into ${EVENTS} events`, () => applyDecisions(list, pairs)),
  ];
  const conformed = compile(cut, []);
  const { in: start, out } = recordSpan(cut);
  const picture = newPicture();
  const ask = () => {
    for (let n = start; n < out; n++) pictureAt(conformed, n, picture);
  };
  ask();
  globalThis.gc?.();
  const before = process.memoryUsage().heapUsed;
  const took = await seconds(ask);
  const grown = process.memoryUsage().heapUsed - before;
  const per = `${Math.round((out - start) / took / 1000)} thousand pictures/s; the heap grew by ${(grown / (out - start)).toFixed(1)} bytes a picture`;
  figures.push(await figure(`what stands at each of ${out - start} frames`, ask, `; ${per}`));
  return figures;
}

const FRAMES = 48;

/** Frames drawn one after the other against FFmpeg's filters on the same frames, decoding included on both sides. */
async function drawn(folder: string): Promise<Figure[]> {
  const make = (name: string, source: string): Original => {
    const file = path.join(folder, name);
    const args = ['-f', 'lavfi', '-i', `${source}=size=1920x1080:rate=24`, '-frames:v', String(FRAMES), '-pix_fmt', 'yuv422p10le'];
    execFileSync('ffmpeg', ['-v', 'error', ...args, '-c:v', 'prores_ks', '-profile:v', '2', file]);
    return probeMovie(file);
  };
  const [a, b] = [make('a.mov', 'testsrc2'), make('b.mov', 'mandelbrot')];
  const tc = (n: number) => `00:00:${String(Math.floor(n / 24)).padStart(2, '0')}:${String(n % 24).padStart(2, '0')}`;
  const line = (reel: string, layer: string) => `001  ${reel}  ${layer}  C  ${tc(0)} ${tc(FRAMES)} 00:00:00:00 ${tc(FRAMES)}\n`;
  const list = identified(readEdl(`TITLE: B\n${line('A', 'V1')}${line('B', 'V2')}`, { rate: RATES['24'] }));
  const [lower, upper] = list.tracks.map((t) => t.events[0]?.key ?? '');
  const pair = (event: string, { path: original }: Original): Decision => ({ kind: 'pair', event, original, sourceStartFrame: 0 });
  const inset = { ...FILLING, scaleX: 0.5, scaleY: 0.5, x: 0.25, y: 0.25 };
  const cutOf = (more: Decision[]): Standing => applyDecisions(list, [pair(lower ?? '', a), ...more]).list;
  const single = cutOf([{ kind: 'enable', event: upper ?? '', enabled: false }]);
  const placed = cutOf([pair(upper ?? '', b), { kind: 'placement', event: upper ?? '', placement: inset }]);
  const mixed = cutOf([pair(upper ?? '', b), { kind: 'placement', event: upper ?? '', placement: { ...FILLING, opacity: 0.5 } }]);
  const draw = (cut: Standing, width: number, height: number) => () => {
    const conformed = compile(cut, [a, b]);
    const compositor = openCompositor(openSources(2, 256 * 1024 * 1024, 'missing'));
    for (let n = 0; n < FRAMES; n++) compositor.draw(compositionOf(pictureAt(conformed, n), conformed.frame), width, height);
    compositor.close();
  };
  const filters =
    (graph: string, ...inputs: Original[]) =>
    () =>
      execFileSync('ffmpeg', [
        '-v',
        'error',
        ...inputs.flatMap((o) => ['-i', o.path]),
        '-filter_complex',
        `${graph}[out]`,
        '-map',
        '[out]',
        '-f',
        'null',
        '-',
      ]);
  const rows = [
    ['one picture, 1920x1080', draw(single, 1920, 1080), filters('[0:v]format=rgba64le', a)],
    ['one picture, 960x540', draw(single, 960, 540), filters('[0:v]scale=960:540,format=rgba64le', a)],
    [
      'an inset over a picture, 960x540',
      draw(placed, 960, 540),
      filters(
        '[0:v]scale=960:540,format=gbrp[x];[1:v]scale=480:270,format=gbrp[y];[x][y]overlay=480:270:format=gbrp,format=rgba64le',
        a,
        b,
      ),
    ],
    [
      'two pictures mixed, 960x540',
      draw(mixed, 960, 540),
      filters('[0:v]scale=960:540,format=gbrp16[x];[1:v]scale=960:540,format=gbrp16[y];[x][y]blend=all_mode=average,format=rgba64le', a, b),
    ],
  ] as const;
  const figures: Figure[] = [];
  for (const [name, ours, yardstick] of rows) {
    const took = await inTurn(ours, yardstick, 3);
    figures.push({
      name: `draw ${name}`,
      ...took,
      yardstickName: "ffmpeg's filters, 16 bit",
      note: `${Math.round(FRAMES / took.ours)} frames/s`,
    });
  }
  return figures;
}
