import { nearestMark } from '@gemello/core/lanes';
import { formatTimecode } from '@gemello/core/time';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import type { LedgerRow, LedgerView } from '../../contract';
import { useCuts } from '../data/cuts';
import { useHeard } from '../data/heard';
import { useConform, usePeaks } from '../data/queries';
import { useSelection } from '../data/selection';
import { useTrial } from '../data/trial';
import { useView } from '../data/view';
import { roundTimes } from '../parts/times';
import { useKey } from '../parts/useKey';
import { useSize } from '../parts/useSize';
import { drawLanes } from './draw';
import { EventsInWords } from './EventsInWords';
import { eventsIn, type Hit, hitAt, laneAt } from './hit';
import { inksOf } from './inks';
import { Layers } from './Layers';
import { openPictures } from './pictures';
import { sceneOf } from './scene';
import { BETWEEN, fitted, frameAtX, laneHeight, panned, RULER, revealing, type Sight, SOUND, zoomed } from './sight';
import { ARROWS, GRIP_WORDS, movedText, useGrip, whyNoFurther } from './useGrip';

/** A drag snaps to what is no further than this, in pixels. */
const SNAPS = 7;
/** A press that goes no further than this is a click, in pixels. */
const STILL = 3;

interface Drag {
  readonly what: 'grip' | 'box' | 'playhead';
  readonly hit: Hit | null;
  readonly x: number;
  readonly y: number;
  moved: boolean;
}

/**
 * The zoomed drawing of all layers. Handles of what is selected are dragged, or moved by the arrow keys; both sides of what is moved are
 * seen above as they would be, and it is decided when it is let go, or with Enter.
 */
export function Lanes({ job, ledger, row, at }: { job: string; ledger: LedgerView; row: LedgerRow; at: number }) {
  const { data: conform } = useConform(job);
  const scene = useMemo(() => (conform ? sceneOf(conform, ledger) : null), [conform, ledger]);
  const { choose, moveTo } = useView();
  const { keys: also, hidden, locked, select } = useSelection();
  const selected = useMemo(() => new Set([row.id, ...also]), [row.id, also]);
  const { arrows, steer } = useTrial();
  const grip = useGrip(job, scene);
  const [snaps, setSnaps] = useState(true);
  const [room, { width, height }] = useSize<HTMLDivElement>();
  const canvas = useRef<HTMLCanvasElement>(null);
  const [sight, setSight] = useState<Sight | null>(null);
  const [scrolled, setScrolled] = useState(0);
  const [box, setBox] = useState<{ left: number; right: number; top: number; bottom: number } | null>(null);
  const drag = useRef<Drag | null>(null);
  const cuts = useReferenceCuts(job);
  const sound = useSoundOf(job);
  const [, setArrived] = useState(0);
  const pictures = useMemo(() => openPictures(job, () => setArrived((n) => n + 1)), [job]);
  useEffect(() => () => pictures.close(), [pictures]);

  const { span, rate } = ledger;
  const now = sight ?? fitted(span, width);
  const each = laneHeight(height, scene?.lanes.length ?? 1, sound !== null);
  const lanesHigh = (scene?.lanes.length ?? 0) * (each + BETWEEN);
  const mostScrolled = Math.max(0, lanesHigh - (height - RULER - (sound ? SOUND : 0)));
  const theme = useTheme();
  // The playhead stays in sight.
  // biome-ignore lint/correctness/useExhaustiveDependencies: it is looked at when the playhead moves, not when the lanes are
  useEffect(() => {
    if (sight && width > 0) setSight(revealing(sight, at, span, width));
  }, [at]);

  useEffect(() => {
    const element = canvas.current;
    const context = element?.getContext('2d');
    if (!element || !context || !scene || width === 0) return;
    const request = requestAnimationFrame(() => {
      const began = performance.now();
      const ratio = devicePixelRatio;
      const [w, h] = [Math.round(width * ratio), Math.round(height * ratio)];
      if (element.width !== w || element.height !== h) [element.width, element.height] = [w, h];
      context.setTransform(ratio, 0, 0, ratio, 0, 0);
      const times = roundTimes(Math.max(0, Math.ceil(now.from)), Math.floor(frameAtX(now, width)), rate, Math.max(2, width / 120));
      drawLanes(context, {
        scene,
        sight: now,
        width,
        height,
        each,
        scrolled: Math.min(scrolled, mostScrolled),
        selected,
        hidden,
        locked,
        tried: grip.moved?.tried.changed ?? NOTHING_TRIED,
        lifted: grip.moved?.tried.layer ? { keys: grip.moved.keys, layer: grip.moved.tried.layer } : null,
        playhead: at,
        cuts,
        sound,
        times: times.map((frame) => [frame, formatTimecode(frame, rate)] as const),
        pictures,
        box,
        inks: inksOf(theme),
      });
      element.dataset.drawn = String(performance.now() - began);
    });
    return () => cancelAnimationFrame(request);
  });

  const where = scene && { scene, sight: now, each, scrolled: Math.min(scrolled, mostScrolled), selected, locked };
  const point = (e: React.PointerEvent | React.WheelEvent) => {
    const of = canvas.current?.getBoundingClientRect();
    return { x: e.clientX - (of?.left ?? 0), y: e.clientY - (of?.top ?? 0) };
  };
  const inSpan = (x: number) => Math.max(span.in, Math.min(span.out - 1, Math.floor(frameAtX(now, x))));

  const down = (e: React.PointerEvent) => {
    if (e.button !== 0 || !where) return;
    const { x, y } = point(e);
    canvas.current?.setPointerCapture(e.pointerId);
    canvas.current?.focus();
    const hit = y < RULER ? null : hitAt(where, x, y);
    const what = y < RULER ? 'playhead' : hit?.grip && !e.shiftKey ? 'grip' : 'box';
    drag.current = { what, hit, x, y, moved: false };
    if (what === 'playhead') moveTo(inSpan(x));
  };
  const move = (e: React.PointerEvent) => {
    const { x, y } = point(e);
    const held = drag.current;
    if (!held) {
      if (canvas.current && where) canvas.current.style.cursor = cursorOf(y < RULER ? null : hitAt(where, x, y));
      return;
    }
    held.moved ||= Math.abs(x - held.x) > STILL || Math.abs(y - held.y) > STILL;
    if (!held.moved) return;
    if (held.what === 'playhead') moveTo(inSpan(x));
    else if (held.what === 'box')
      setBox({ left: Math.min(x, held.x), right: Math.max(x, held.x), top: Math.min(y, held.y), bottom: Math.max(y, held.y) });
    else dragGrip(held, x, y, e.altKey);
  };
  const dragGrip = ({ hit, x: from }: Drag, x: number, y: number, freely: boolean) => {
    if (!hit?.event || !hit.grip) return;
    const { event, grip: what } = hit;
    const raw = Math.round((x - from) / now.perFrame);
    // What is slipped goes with the pointer: pulled to the right, earlier frames come in.
    if (what === 'source') return grip.move('source', [...selected], -raw);
    const edge =
      { tail: event.record.out, 'join-in': event.record.in - (event.transitionIn?.before ?? 0) }[what as string] ?? event.record.in;
    const end = what === 'join-out' ? event.record.in - (event.transitionIn?.before ?? 0) + (event.transitionIn?.duration ?? 0) : edge;
    const mark = snaps && !freely ? nearestMark(end + raw, cuts, SNAPS / now.perFrame) : null;
    // Along its own lane nothing changes layers, whatever else is selected.
    const under = what === 'event' && where ? laneAt(where, y) : null;
    const layer = under === scene?.lanes[hit.lane]?.name ? null : under;
    grip.move(what, what === 'event' ? [...selected] : [event.key], mark === null ? raw : mark - end, layer);
  };
  const up = (e: React.PointerEvent) => {
    const held = drag.current;
    drag.current = null;
    if (!held || !where) return;
    const { x } = point(e);
    if (held.what === 'grip' && held.moved) grip.take();
    else if (held.what === 'box' && held.moved && box) {
      select(eventsIn(where, box));
    } else if (held.what !== 'playhead' && held.hit?.event) {
      const { key } = held.hit.event;
      if (e.shiftKey || e.ctrlKey || e.metaKey) {
        const more = new Set(also);
        if (!more.delete(key)) more.add(key);
        select(more);
      } else {
        select([]);
        choose(key, inSpan(x));
      }
    } else if (held.what === 'box') moveTo(inSpan(x));
    setBox(null);
  };

  useWheel(canvas, (e) => {
    e.preventDefault();
    const { x } = point(e as unknown as React.WheelEvent);
    if (e.ctrlKey || e.metaKey || e.altKey) setSight(zoomed(now, 1.0025 ** -e.deltaY, x, span, width));
    else if (e.shiftKey && mostScrolled > 0) setScrolled(Math.max(0, Math.min(mostScrolled, scrolled + e.deltaY)));
    else setSight(panned(now, e.deltaX + e.deltaY, span, width));
  });

  const middle = useCallback(() => Math.max(0, Math.min(width, (at - now.from) * now.perFrame)), [at, now, width]);
  const nearer = (by: number) => setSight(zoomed(now, by, middle(), span, width));
  useHotkeys('equal, shift+equal, add', () => nearer(1.5), [now, width, at]);
  useHotkeys('minus, subtract', () => nearer(1 / 1.5), [now, width, at]);
  useHotkeys('0', () => setSight(null));
  const steered = [arrows, grip.moved, row.id, selected, scene, locked];
  const push = (by: number) => {
    if (arrows === 'playhead') return;
    const many = arrows === 'source' || arrows === 'event';
    const same = grip.moved?.grip === arrows;
    const layer = same ? (grip.moved?.tried.layer ?? null) : null;
    grip.move(arrows, many ? [...selected] : [row.id], (same ? (grip.moved?.tried.by ?? 0) : 0) + by, layer);
  };
  /** Puts what is selected a layer higher or lower, on trial. */
  const lift = (by: 1 | -1) => {
    if (!scene) return;
    const { lanes } = scene;
    const held = grip.moved?.grip === 'event' ? grip.moved.tried : null;
    const on = lanes.findIndex((l) => l.name === (held?.layer ?? row.track));
    const onto = lanes[Math.max(0, Math.min(lanes.length - 1, on - by))];
    if (onto && !locked.has(onto.name)) grip.move('event', [...selected], held?.by ?? 0, onto.name);
  };
  useHotkeys('alt+up', () => lift(1), { preventDefault: true }, steered);
  useHotkeys('alt+down', () => lift(-1), { preventDefault: true }, steered);
  const pushes = { enabled: arrows !== 'playhead', preventDefault: true };
  useHotkeys('left', () => push(-1), pushes, steered);
  useHotkeys('right', () => push(1), pushes, steered);
  useHotkeys('shift+left', () => push(-10), pushes, steered);
  useHotkeys('shift+right', () => push(10), pushes, steered);
  useHotkeys('e', () => steer(nextOf(arrows, 1)), [arrows]);
  useHotkeys('shift+e', () => steer(nextOf(arrows, -1)), [arrows]);
  useKey('enter', () => grip.moved && grip.take(), steered);
  useHotkeys('escape', () => {
    drag.current = null;
    setBox(null);
    if (grip.moved) grip.drop();
    else steer('playhead');
  }, [grip.moved]);
  useHotkeys('mod+a', () => select(ledger.rows.filter((r) => r.track === row.track).map((r) => r.id)), { preventDefault: true }, [
    ledger,
    row,
  ]);

  return (
    <section className="h-full flex flex-col min-h-0" aria-label="Lanes">
      <div className="flex items-center gap-2 px-2 py-1 text-xs whitespace-nowrap overflow-x-auto">
        <label className="flex items-center gap-1" title="E goes through them; arrows move by a frame, with Shift by ten">
          <span className="quiet">Arrows move</span>
          <select className="select select-xs w-44" value={arrows} onChange={(e) => steer(e.target.value as typeof arrows)}>
            <option value="playhead">Playhead</option>
            {ARROWS.map((g) => (
              <option key={g} value={g}>
                {GRIP_WORDS[g].says}
              </option>
            ))}
          </select>
        </label>
        <Moved grip={grip} />
        <span className="ml-auto flex items-center gap-1">
          {selected.size > 1 && (
            <button type="button" className="btn btn-xs btn-ghost" onClick={() => select([])}>
              {`${selected.size} selected: only one`}
            </button>
          )}
          <label
            className="flex items-center gap-1"
            title={
              cuts.length > 0
                ? 'What is dragged snaps to cuts found in the reference; Alt drags freely'
                : 'Find the cuts of the reference under Turnover; what is dragged then snaps to them'
            }
          >
            <input type="checkbox" className="checkbox checkbox-xs" checked={snaps} onChange={(e) => setSnaps(e.target.checked)} />
            Snap
          </label>
          <button type="button" className="btn btn-xs btn-ghost" title="-" onClick={() => nearer(1 / 1.5)}>
            Further
          </button>
          <button type="button" className="btn btn-xs btn-ghost" title="=" onClick={() => nearer(1.5)}>
            Nearer
          </button>
          <button
            type="button"
            className="btn btn-xs btn-ghost"
            onClick={() => {
              const { in: from, out } = row.recordFrames;
              setSight(fitted({ in: from - (out - from), out: out + (out - from) }, width));
            }}
          >
            Fit event
          </button>
          <button type="button" className="btn btn-xs btn-ghost" title="0" onClick={() => setSight(null)}>
            Fit cut
          </button>
        </span>
      </div>
      <div className="grow min-h-0 flex">
        {scene && <Layers job={job} lanes={scene.lanes} each={each} scrolled={Math.min(scrolled, mostScrolled)} />}
        <div ref={room} className="grow min-w-0 relative overflow-hidden">
          <canvas
            ref={canvas}
            className="absolute inset-0 block"
            style={{ width, height }}
            role="img"
            tabIndex={0}
            aria-label="Lanes: all layers of the cut. The list that follows says what stands there."
            onPointerDown={down}
            onPointerMove={move}
            onPointerUp={up}
            onPointerCancel={() => {
              drag.current = null;
              grip.drop();
            }}
          />
          {scene && <EventsInWords scene={scene} sight={now} width={width} selected={selected} onChoose={choose} />}
        </div>
      </div>
    </section>
  );
}

const NOTHING_TRIED = new Map<string, never>();

const nextOf = (arrows: 'playhead' | (typeof ARROWS)[number], by: 1 | -1) => {
  const all = ['playhead', ...ARROWS] as const;
  return all[(all.indexOf(arrows) + by + all.length) % all.length] ?? 'playhead';
};

/** How far what is on trial is moved, and why no further. */
function Moved({ grip }: { grip: ReturnType<typeof useGrip> }) {
  const { moved } = grip;
  if (!moved) return null;
  const { tried, grip: what, wished } = moved;
  const short = tried.by !== wished;
  return (
    <span className="flex items-center gap-2" role="status" data-testid="moved">
      <span className="tc font-medium">{movedText(what, tried)}</span>
      {short && tried.refused && <span style={{ color: 'var(--state-unpaired)' }}>{`no further: ${whyNoFurther(tried.refused)}`}</span>}
      {!grip.kept && (
        <>
          <button
            type="button"
            className="btn btn-xs btn-primary"
            title="Enter"
            disabled={tried.decisions.length === 0}
            onClick={grip.take}
          >
            Keep
          </button>
          <button type="button" className="btn btn-xs btn-ghost" title="Esc" onClick={grip.drop}>
            Drop
          </button>
        </>
      )}
    </span>
  );
}

function cursorOf(hit: Hit | null): string {
  if (!hit) return 'ew-resize';
  if (hit.grip === 'source' || hit.grip === 'event') return 'grab';
  if (hit.grip) return 'col-resize';
  return hit.event ? 'pointer' : 'default';
}

/** Cuts that were found in the reference, as record frames. */
function useReferenceCuts(job: string): readonly number[] {
  const { data } = useCuts(job);
  return useMemo(() => {
    if (!data?.movie || !data.found) return [];
    const { record } = data.movie;
    return data.found.marks.map((m) => m.frame + record).sort((a, b) => a - b);
  }, [data]);
}

/** How loud it is along what is heard. */
function useSoundOf(job: string) {
  const { heard } = useHeard(job);
  const { data: peaks } = usePeaks(job, heard);
  return useMemo(() => (heard && peaks ? { peaks, secondsAt: heard.secondsAt } : null), [heard, peaks]);
}

/** Listens to the wheel so that the page does not scroll with it. */
function useWheel(canvas: React.RefObject<HTMLCanvasElement | null>, turned: (e: WheelEvent) => void): void {
  const latest = useRef(turned);
  latest.current = turned;
  useEffect(() => {
    const element = canvas.current;
    const listen = (e: WheelEvent) => latest.current(e);
    element?.addEventListener('wheel', listen, { passive: false });
    return () => element?.removeEventListener('wheel', listen);
  }, [canvas]);
}

/** The theme's name; it changes with the page. */
function useTheme(): string {
  const [theme, setTheme] = useState(document.documentElement.dataset.theme ?? 'dusk');
  useEffect(() => {
    const watch = new MutationObserver(() => setTheme(document.documentElement.dataset.theme ?? 'dusk'));
    watch.observe(document.documentElement, { attributeFilter: ['data-theme'] });
    return () => watch.disconnect();
  }, []);
  return theme;
}
