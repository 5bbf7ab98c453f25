import { useCallback, useEffect, useMemo, useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import type { LedgerRow, LedgerView } from '../../contract';
import type { ConformView, ContenderView } from '../../contract/ledger';
import { useLooking } from '../data/looking';
import { useConform, useEvent, useLists, useStranger, useVersion } from '../data/queries';
import { useSelection } from '../data/selection';
import { useTrial } from '../data/trial';
import { useSize } from '../parts/useSize';
import type { Seen } from '../viewing/cuts';
import { type Comparing, GAP } from '../viewing/drawing';
import { useViewer } from '../viewing/useViewer';
import type { Pair } from '../viewing/viewer';
import { Bar } from './Bar';
import { Over } from './Over';
import { Playback } from './Playback';
import { Scopes } from './Scopes';
import { SplitLine } from './SplitLine';
import { Stills } from './Stills';
import { saveStill } from './save';
import { otherCandidate, type SideShown, sideOf } from './sides';
import { showsOf } from './ways';

interface Props {
  readonly job: string;
  readonly ledger: LedgerView;
  readonly row: LedgerRow;
  readonly at: number;
  /** Which of the event's candidates is looked at, where that is not the one the cut shows. */
  readonly candidate?: number;
}

/** How long a frame may take before a still from the server stands in, in milliseconds. */
const PATIENCE = 180;
const MIDDLE = { times: 1, x: 0.5, y: 0.5 };

/**
 * Two sides at one record frame, put together here from viewing copies and moving at the rate of the cut, as large as there is room
 * for. Until copies are there, exact stills from the server stand in. What is tried is seen as it would be.
 */
export function Viewer({ job, ledger, row, at, candidate = 0 }: Props) {
  const looking = useLooking();
  const { mode, a, b, line, angle, gain, blend, hertz, tint, channel, set } = looking;
  const trial = useTrial((s) => s.trial);
  const { data: event } = useEvent(job, row.id);
  const { data: lists } = useLists(job);
  const { data: conform } = useConform(job);
  const titles = useMemo(
    () => new Map(lists?.filter((l) => l.state === 'beside').map((l) => [l.id, l.files.join(', ')] as const) ?? []),
    [lists],
  );
  const [zoom, setZoom] = useState(MIDDLE);
  const [wide, setWide] = useState(false);
  const [front, setFront] = useState<'a' | 'b'>('a');
  const swap = useCallback(() => setFront((f) => (f === 'a' ? 'b' : 'a')), []);
  useHotkeys('v', swap, { enabled: mode === 'swap' });
  useHotkeys('f', () => setWide((w) => !w));
  useHotkeys('escape', () => setWide(false), { enabled: wide });
  useEffect(() => {
    if (mode !== 'swap' || hertz === 0) return;
    const timer = setInterval(swap, 500 / hertz);
    return () => clearInterval(timer);
  }, [mode, hertz, swap]);

  const hidden = useSelection((s) => s.hidden);
  const without = (side: SideShown): SideShown =>
    hidden.size > 0 && side.seen.of === 'conform'
      ? { ...side, seen: { ...side.seen, without: [...hidden] }, says: `${side.says} without ${[...hidden].join(', ')}` }
      : side;
  const other = otherCandidate(row, event, candidate);
  const shown = sidesShown(sideOf(a, row, other, titles), sideOf(b, row, other, titles), trial);
  const sides: Pair<SideShown> = [without(shown[0]), without(shown[1])];
  const { list, stranger } = useBorrowed(job, sides, other);
  const frames: Pair<number> = trial?.sight?.frames ?? [at, at];
  // Both sides of what is moved are seen beside each other.
  const way = trial?.sight ? 'beside' : mode;
  const tinted = (side: SideShown) => (side.seen.of === 'reference' ? tint : 0);
  const [tintA, tintB] = [tinted(sides[0]), tinted(sides[1])];
  const [room, size] = useSize<HTMLDivElement>();
  const across = acrossOf(size, way === 'beside', frameShape(conform));
  const toPixels = pixelTimes(conform, across);
  useHotkeys('y', () => setZoom((z) => (z.times === 1 ? { ...z, times: toPixels } : MIDDLE)), [toPixels]);
  const comparing = useMemo(
    (): Comparing => ({ shows: showsOf(way, front), line, angle, gain, blend, tinted: { a: tintA, b: tintB }, channel, zoom, across }),
    [way, front, line, angle, gain, blend, tintA, tintB, channel, zoom, across],
  );
  const viewer = useViewer(job, { frames, seen: [sides[0].seen, sides[1].seen], comparing, look: ledger.look, version: list, stranger });
  const { told } = viewer;
  // The same frames may be asked for of something else.
  const wish = JSON.stringify([sides[0].seen, sides[1].seen]);
  const atFrames = told.frames[0] === frames[0] && told.frames[1] === frames[1];
  const here = viewer.ready && told.shows === wish && (atFrames || told.playing);
  const late = useLate(!here, `${at} ${wish}`);
  // Stills are of reference and conform as they stand; anything else waits for its pictures.
  const usual = sides[0].seen.of === 'reference' && sides[1].seen.of === 'conform' && !sides[1].seen.tried && hidden.size === 0 && !trial;
  const stills = usual && (late || !viewer.ready);
  const box = boxIn(size, way === 'beside' ? told.shape * (2 + GAP) : told.shape);
  const save = () =>
    saveStill({
      job,
      at,
      rate: ledger.rate,
      mode: way,
      sides,
      stands: told.stands,
      asDrawn: usual && zoom.times === 1 && channel === 'colour' && !isLookedThrough(conform),
      kept: viewer.keep,
    });

  return (
    <section
      className={wide ? 'fixed inset-0 z-40 bg-base-100 flex flex-col p-2' : 'h-full flex flex-col min-h-0'}
      aria-label="Viewer"
      data-testid="compared"
      data-drawn={here ? at : ''}
      data-frame={told.frame}
      data-comparing={JSON.stringify(comparing)}
      data-shown={told.shown}
      data-dropped={told.dropped}
    >
      <Bar job={job} row={row} other={other} titles={titles} wide={wide} onWide={setWide} front={front} onSwap={swap} onSave={save} />
      <div className="grow min-h-24 flex gap-2">
        <div ref={room} className="relative grow min-w-0 overflow-hidden">
          {/* biome-ignore lint/a11y/noStaticElementInteractions: Y does the same by keyboard */}
          <div className="absolute" style={box} onDoubleClick={(e) => setZoom(zoomedAt(zoom, toPixels, e, way === 'beside'))}>
            <div
              ref={viewer.place}
              className={`w-full h-full ${stills ? 'invisible' : ''}`}
              role="img"
              aria-label={`${sides[0].says} and ${sides[1].says}: ${way}`}
              title="Double click or Y: pixels of the original"
            />
            {stills && <Stills job={job} row={row} at={at} look={ledger.look} mode={mode} front={front} line={line} angle={angle} />}
            <Over waits={late && !stills} sides={sides} told={told} facing={way === 'beside'} mode={way} front={front} rate={ledger.rate} />
            {zoom.times > 1 && <Panning zoom={zoom} facing={way === 'beside'} onZoom={setZoom} />}
            {way === 'split' && <SplitLine width={box.width} height={box.height} />}
          </div>
        </div>
        {looking.scopes && (
          <Scopes read={viewer.scope} frame={told.frame} playing={told.playing} ready={here} onClose={() => set({ scopes: false })} />
        )}
      </div>
      <Playback job={job} ledger={ledger} row={row} at={at} viewer={viewer} />
    </section>
  );
}

/** What both sides show while something is tried: the cut as it would be. */
function sidesShown(a: SideShown, b: SideShown, trial: ReturnType<typeof useTrial.getState>['trial']): Pair<SideShown> {
  if (!trial) return [a, b];
  const tried: Seen = { of: 'conform', tried: trial.decisions };
  return trial.sight
    ? [
        { seen: tried, says: `Tried: ${trial.sight.says[0].toLowerCase()}` },
        { seen: tried, says: `Tried: ${trial.sight.says[1].toLowerCase()}` },
      ]
    : [a, { seen: tried, says: 'Conform, as tried' }];
}

/** What a side shows that the cut has not itself: another version of it, an original that only a candidate would bring in. */
function useBorrowed(job: string, sides: Pair<SideShown>, candidate: ContenderView | null) {
  const version = sides.map((s) => s.seen).find((s) => s.of === 'version')?.list ?? null;
  const { data: view } = useVersion(job, version);
  const other = sides.some((s) => s.brings) ? candidate : null;
  const { data: stranger } = useStranger(job, other?.path ?? null);
  const list = useMemo(() => (version && view !== undefined ? { list: version, view } : null), [version, view]);
  return { list, stranger: other ? (stranger ?? null) : null };
}

/** The largest box of a shape in the middle of a room. */
function boxIn({ width, height }: { width: number; height: number }, shape: number) {
  const w = Math.max(1, Math.min(width, height * shape));
  const h = w / shape;
  return { width: w, height: h, left: (width - w) / 2, top: (height - h) / 2 };
}

/** Pixels of the screen that one picture has across; 0 until the page has laid it out; in steps, so that a drag of the page's parts does not draw anew with each pixel. */
function acrossOf(size: { width: number; height: number }, facing: boolean, shape: number): number {
  if (size.width === 0) return 0;
  const { width } = boxIn(size, facing ? shape * (2 + GAP) : shape);
  const one = (facing ? width / (2 + GAP) : width) * devicePixelRatio;
  return Math.max(STEP, Math.ceil(one / STEP) * STEP);
}
const STEP = 16;

const rasterOf = (view: ConformView | null | undefined) => view?.list.framing?.raster ?? view?.originals[0]?.raster ?? null;

/** How many times it must be enlarged for a pixel of the cut's frame to fill one of the screen; twice at the least. */
const pixelTimes = (view: ConformView | null | undefined, across: number): number => Math.max(2, (rasterOf(view)?.width ?? 0) / across);

/** True where some pictures are looked at through something, which no still of the server has. */
const isLookedThrough = (view: ConformView | null | undefined): boolean =>
  view?.list.tracks.some((t) => t.events.some((e) => e.viewing !== null)) === true;

/** Width of the cut's frame over its height. */
const frameShape = (view: ConformView | null | undefined): number => {
  const raster = rasterOf(view);
  return raster ? (raster.width * (view?.list.framing?.pixelAspect ?? 1)) / raster.height : 16 / 9;
};

type Zoom = Comparing['zoom'];

/** A double click enlarges around the pointer to the pixels of the original, and back. */
function zoomedAt(zoom: Zoom, times: number, e: React.MouseEvent, facing: boolean): Zoom {
  if (zoom.times > 1) return MIDDLE;
  const box = e.currentTarget.getBoundingClientRect();
  const across = (e.clientX - box.left) / box.width;
  const x = facing ? (across * 2) % 1 : across;
  return { times, x, y: (e.clientY - box.top) / box.height };
}

/** Drags what is enlarged about; the wheel enlarges more or less. */
function Panning({ zoom, facing, onZoom }: { zoom: Zoom; facing: boolean; onZoom: (zoom: Zoom) => void }) {
  const inside = (n: number) => Math.max(0, Math.min(1, n));
  return (
    <div
      className="absolute inset-0 cursor-move"
      onPointerDown={(e) => e.currentTarget.setPointerCapture(e.pointerId)}
      onPointerMove={(e) => {
        if (e.buttons !== 1) return;
        const { clientWidth, clientHeight } = e.currentTarget;
        const width = facing ? clientWidth / 2 : clientWidth;
        onZoom({
          ...zoom,
          x: inside(zoom.x - e.movementX / width / zoom.times),
          y: inside(zoom.y - e.movementY / clientHeight / zoom.times),
        });
      }}
      onWheel={(e) => onZoom({ ...zoom, times: Math.max(1, Math.min(16, zoom.times * 1.1 ** -Math.sign(e.deltaY))) })}
    />
  );
}

/** True once something has been so for longer than a person should wait; anew for each thing that is asked for. */
function useLate(waiting: boolean, at: string): boolean {
  const [late, setLate] = useState(false);
  // biome-ignore lint/correctness/useExhaustiveDependencies: each has its own time
  useEffect(() => {
    setLate(false);
    if (!waiting) return;
    const timer = setTimeout(() => setLate(true), PATIENCE);
    return () => clearTimeout(timer);
  }, [waiting, at]);
  return waiting && late;
}
