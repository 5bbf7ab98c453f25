import { useCallback, useEffect, useMemo, useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { useView } from '../data/view';
import type { Shows } from '../viewing/drawing';
import { useViewer } from '../viewing/useViewer';
import { Compare, type Compared, type CompareMode, Mark, Slider } from './Compare';

/** What each way of comparing shows; a swap shows one side, then the other. */
const SHOWS: Record<Exclude<CompareMode, 'swap'>, Shows> = {
  beside: 'facing',
  split: 'split',
  difference: 'difference',
  blend: 'blend',
  checker: 'checker',
};

/** How long a frame may take before a still from the server stands in, in milliseconds. */
const PATIENCE = 180;

/**
 * Reference and conform at one record frame, put together here from viewing copies and moving at the rate of the cut. Until they are
 * there, exact stills from the server stand in.
 */
export function Viewer({ job, row, at, look, mode }: Compared) {
  const [line, setLine] = useState({ x: 50, angle: 0 });
  const [gain, setGain] = useState(1);
  const [blend, setBlend] = useState(50);
  const [hertz, setHertz] = useState(0);
  const [front, setFront] = useState<'reference' | 'conform'>('reference');
  const swap = useCallback(() => setFront((f) => (f === 'reference' ? 'conform' : 'reference')), []);
  useHotkeys('v', swap, { enabled: mode === 'swap' });
  useEffect(() => {
    if (mode !== 'swap' || hertz === 0) return;
    const timer = setInterval(swap, 500 / hertz);
    return () => clearInterval(timer);
  }, [mode, hertz, swap]);
  const comparing = useMemo(
    () => ({
      shows: mode === 'swap' ? front : SHOWS[mode],
      line: line.x / 100,
      angle: line.angle,
      gain,
      blend: blend / 100,
      tinted: 0,
    }),
    [mode, front, line, gain, blend],
  );
  const viewer = useViewer(job, at, comparing, look);
  const { frame, playing, shown, dropped } = viewer.told;
  const { moveTo } = useView();
  useEffect(() => {
    if (playing && frame >= 0) moveTo(frame);
  }, [playing, frame, moveTo]);
  const { in: first, out } = row.recordFrames;
  const run = (speed: number) => viewer.play({ from: speed > 0 && at >= out - 1 ? first : at, in: first, out, speed });
  useHotkeys('j', () => run(-1), [at, first, out]);
  useHotkeys('l', () => run(1), [at, first, out]);
  useHotkeys('k', () => viewer.stop());
  useHotkeys('space', () => (playing ? viewer.stop() : run(1)), { preventDefault: true }, [playing, at, first, out]);

  const here = viewer.ready && (frame === at || playing);
  const late = useLate(!here, at);
  const stills = late || !viewer.ready;
  const facing = mode === 'beside';
  const marked = facing || mode === 'split' || (mode === 'swap' && front === 'reference');
  return (
    <div data-testid="compared" data-drawn={here ? at : ''} data-shown={shown} data-dropped={dropped}>
      <div className={`relative mx-auto ${stills ? 'hidden' : ''} ${facing ? '' : 'max-w-[92vh]'}`}>
        <canvas ref={viewer.canvas} className="w-full block bg-black" role="img" aria-label={labelOf(mode, front)} />
        {marked && <Mark />}
      </div>
      {stills && <Compare job={job} row={row} at={at} look={look} mode={mode} front={front} line={line} />}
      <div className="flex items-center justify-center gap-4 h-7 text-xs">
        {mode === 'split' && (
          <>
            <Slider label="Line" min={0} max={100} value={line.x} onChange={(x) => setLine({ ...line, x })} />
            <Slider label="Turn" min={-60} max={60} value={line.angle} onChange={(angle) => setLine({ ...line, angle })} />
          </>
        )}
        {mode === 'swap' && (
          <>
            <button type="button" className="btn btn-xs" title="V" onClick={swap}>
              {`Shows the ${front}; swap`}
            </button>
            <Slider label={hertz === 0 ? 'By hand' : `${hertz} a second`} min={0} max={8} value={hertz} onChange={setHertz} />
          </>
        )}
        {mode === 'difference' && (
          <>
            <Slider label={`Strengthened ${gain} times`} min={1} max={16} value={gain} onChange={setGain} />
            <span className="quiet">Black where the two agree. Burn-ins and colour differ by design.</span>
          </>
        )}
        {mode === 'blend' && (
          <>
            <Slider label="Reference" min={0} max={100} value={blend} onChange={setBlend} />
            <span className="quiet">Doubled edges show a slip or another size.</span>
          </>
        )}
        {playing && dropped > 0 && <span className="quiet">{`${dropped} of ${shown + dropped} frames passed over`}</span>}
      </div>
    </div>
  );
}

function labelOf(mode: CompareMode, front: string): string {
  if (mode === 'beside') return 'Reference and conform side by side';
  return mode === 'swap' ? `The ${front}` : `Reference and conform: ${mode}`;
}

/** True once something has been so for longer than a person should wait; anew at each frame. */
function useLate(waiting: boolean, at: number): boolean {
  const [late, setLate] = useState(false);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another frame has its own time
  useEffect(() => {
    setLate(false);
    if (!waiting) return;
    const timer = setTimeout(() => setLate(true), PATIENCE);
    return () => clearTimeout(timer);
  }, [waiting, at]);
  return waiting && late;
}
