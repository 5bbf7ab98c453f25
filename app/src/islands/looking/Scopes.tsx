import { chromaOf, type Levels, PLANE, WAVE } from '@gemello/core/scopes';
import { useEffect, useRef, useState } from 'react';
import type { Side } from '../viewing/drawing';

const KINDS = ['waveform', 'parade', 'vectorscope'] as const;
type Kind = (typeof KINDS)[number];
const WORDS: Record<Kind, string> = { waveform: 'Waveform', parade: 'Parade', vectorscope: 'Vectorscope' };
/** While it plays, scopes are drawn anew no more often than this, in milliseconds. */
const EACH = 200;
const [WIDTH, HEIGHT] = [232, 168] as const;
/** The colours of bars, at 75 %. */
const BARS = [
  ['R', 1, 0, 0],
  ['Y', 1, 1, 0],
  ['G', 0, 1, 0],
  ['C', 0, 1, 1],
  ['B', 0, 0, 1],
  ['M', 1, 0, 1],
] as const;

interface Props {
  readonly read: (side: Side) => Promise<Levels | null>;
  readonly frame: number;
  readonly playing: boolean;
  readonly ready: boolean;
  readonly onClose: () => void;
}

/** How the levels of both sides lie: of each side one scope, A above B. */
export function Scopes({ read, frame, playing, ready, onClose }: Props) {
  const [kind, setKind] = useState<Kind>('waveform');
  const [scopes, setScopes] = useState<readonly (Levels | null)[]>([null, null]);
  const last = useRef(0);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another frame has other levels
  useEffect(() => {
    if (!ready) return;
    let current = true;
    const wait = playing ? Math.max(0, EACH - (performance.now() - last.current)) : 30;
    const timer = setTimeout(async () => {
      last.current = performance.now();
      const both = await Promise.all([read('a'), read('b')]);
      if (current) setScopes(both);
    }, wait);
    return () => {
      current = false;
      clearTimeout(timer);
    };
  }, [frame, ready, playing]);
  return (
    <aside className="shrink-0 overflow-y-auto" style={{ width: WIDTH }} aria-label="Scopes">
      <div className="flex items-center pb-1">
        {KINDS.map((k) => (
          <button
            key={k}
            type="button"
            aria-pressed={k === kind}
            className={`btn btn-xs px-1 ${k === kind ? 'btn-primary' : 'btn-ghost'}`}
            onClick={() => setKind(k)}
          >
            {WORDS[k]}
          </button>
        ))}
        <button type="button" className="btn btn-xs btn-ghost px-1 ml-auto" aria-label="Close the scopes" onClick={onClose}>
          ×
        </button>
      </div>
      {scopes.map((scope, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: the two sides stay where they are
        <figure key={i} className="pb-1">
          <figcaption className="quiet text-xs">{i === 0 ? 'A' : 'B'}</figcaption>
          <Drawn scope={scope} kind={kind} />
        </figure>
      ))}
    </aside>
  );
}

function Drawn({ scope, kind }: { scope: Levels | null; kind: Kind }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const context = canvas.current?.getContext('2d');
    if (!context) return;
    context.fillStyle = '#0c0c0c';
    context.fillRect(0, 0, WIDTH, HEIGHT);
    if (!scope) return;
    const [luma, ...colours] = scope.waves;
    if (kind === 'vectorscope') plane(context, scope.plane);
    else if (kind === 'waveform') wave(context, luma, 0, WIDTH, [230, 230, 230]);
    else {
      const third = WIDTH / 3;
      const inks = [
        [255, 110, 100],
        [110, 230, 120],
        [120, 150, 255],
      ] as const;
      colours.forEach((one, i) => {
        wave(context, one, i * third, third - 3, inks[i] as Ink);
      });
    }
    if (kind !== 'vectorscope') levels(context);
  }, [scope, kind]);
  return <canvas ref={canvas} width={WIDTH} height={HEIGHT} className="block" role="img" aria-label={WORDS[kind]} />;
}

type Ink = readonly [number, number, number];

/** A few pixels are to be seen as well as many: brightness goes with the logarithm. */
const brightness = (n: number, most: number): number => (n === 0 ? 0 : 70 + (185 * Math.log1p(n)) / Math.log1p(most));

function wave(context: CanvasRenderingContext2D, counts: Uint32Array, left: number, width: number, [r, g, b]: Ink): void {
  const { columns, levels: rows } = WAVE;
  const image = new ImageData(columns, rows);
  const most = counts.reduce((a, n) => Math.max(a, n), 1);
  for (let x = 0; x < columns; x++)
    for (let level = 0; level < rows; level++)
      image.data.set([r, g, b, brightness(counts[x * rows + level] as number, most)], ((rows - 1 - level) * columns + x) * 4);
  place(context, image, left, 8, width, HEIGHT - 16);
}

function plane(context: CanvasRenderingContext2D, counts: Uint32Array): void {
  const image = new ImageData(PLANE, PLANE);
  const most = counts.reduce((a, n) => Math.max(a, n), 1);
  counts.forEach((n, i) => {
    image.data.set([200, 230, 215, brightness(n, most)], i * 4);
  });
  const left = (WIDTH - HEIGHT) / 2;
  context.strokeStyle = '#4a4a4a';
  context.beginPath();
  context.moveTo(left, HEIGHT / 2);
  context.lineTo(left + HEIGHT, HEIGHT / 2);
  context.moveTo(WIDTH / 2, 0);
  context.lineTo(WIDTH / 2, HEIGHT);
  context.stroke();
  place(context, image, left, 0, HEIGHT, HEIGHT);
  context.fillStyle = '#9a9a9a';
  context.font = '12px "IBM Plex Mono", monospace';
  for (const [name, r, g, b] of BARS) {
    const [cb, cr] = chromaOf([0.75 * r, 0.75 * g, 0.75 * b]);
    const [x, y] = [left + (cb + 0.5) * HEIGHT, (0.5 - cr) * HEIGHT];
    context.strokeRect(x - 4, y - 4, 8, 8);
    context.fillText(name, x + 6, y + 4);
  }
}

function place(context: CanvasRenderingContext2D, image: ImageData, x: number, y: number, width: number, height: number): void {
  const off = new OffscreenCanvas(image.width, image.height);
  off.getContext('2d')?.putImageData(image, 0, 0);
  context.drawImage(off, x, y, width, height);
}

/** Lines at 0, 25, 50, 75 and 100 % of the code values. */
function levels(context: CanvasRenderingContext2D): void {
  context.strokeStyle = '#5a5a5a';
  context.fillStyle = '#9a9a9a';
  context.font = '12px "IBM Plex Mono", monospace';
  for (const share of [0, 0.25, 0.5, 0.75, 1]) {
    const y = Math.round(8 + (1 - share) * (HEIGHT - 16)) + 0.5;
    context.beginPath();
    context.moveTo(0, y);
    context.lineTo(WIDTH, y);
    context.globalAlpha = 0.5;
    context.stroke();
    context.globalAlpha = 1;
    if (share === 0 || share === 1) context.fillText(`${share * 100}`, 2, y + (share === 1 ? 12 : -3));
  }
}
