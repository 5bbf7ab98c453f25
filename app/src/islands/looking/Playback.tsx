import { formatTimecode, typedTimecode } from '@gemello/core/time';
import { ChevronLeftIcon, ChevronRightIcon, PauseIcon, PlayIcon, TrackNextIcon, TrackPreviousIcon } from '@radix-ui/react-icons';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { toast } from 'sonner';
import type { LedgerRow, LedgerView } from '../../contract';
import { useLooking } from '../data/looking';
import { useConform } from '../data/queries';
import { useTrial } from '../data/trial';
import { useView } from '../data/view';
import { useKey } from '../parts/useKey';
import type { ViewerInHand } from '../viewing/useViewer';
import { nextPlace, PLACES, type Place, placesOf, rowAt } from './places';
import { SILENCE, SoundSwitch, useSound } from './Sound';

interface Props {
  readonly job: string;
  readonly ledger: LedgerView;
  readonly row: LedgerRow;
  readonly at: number;
  readonly viewer: ViewerInHand;
}

/** Fastest it plays, times the rate of the cut. */
const FASTEST = 8;
const PLACE_WORDS: Record<Place, string> = { cut: 'Cut', finding: 'Finding', marker: 'Marker' };

/** Steps, plays and jumps through the whole cut; the event that is looked at goes with the playhead. */
export function Playback({ job, ledger, row, at, viewer }: Props) {
  const { span, rows, rate } = ledger;
  const { choose, moveTo } = useView();
  const { roll, loops, set } = useLooking();
  const { data: conform } = useConform(job);
  const { frame, playing, shown, dropped } = viewer.told;
  const speed = useRef(0);
  // Keys keep what they were given: they find the sound as it is now.
  const sound = useRef(SILENCE);
  sound.current = useSound(job, at, playing, rate);
  const go = useCallback(
    (to: number) => {
      const inside = Math.max(span.in, Math.min(span.out - 1, to));
      const there = rowAt(rows, inside, row.track);
      if (there && there.id !== row.id) choose(there.id, inside);
      else moveTo(inside);
    },
    [span, rows, row, choose, moveTo],
  );
  useEffect(() => {
    if (!playing || frame < 0) return;
    // A loop stays with its event, though what stands around it is played too.
    if (loops) moveTo(frame);
    else go(frame);
  }, [playing, frame, loops, go, moveTo]);

  const { in: first, out } = row.recordFrames;
  /** What is played: the event with what stands around it, again and again, or on from here to the end of the cut. */
  const run = (wished: number) => {
    speed.current = wished;
    const around = { in: Math.max(span.in, first - roll), out: Math.min(span.out, out + roll) };
    const within = loops ? around : span;
    const from = at >= within.in && at < within.out - 1 ? at : wished > 0 ? within.in : within.out - 1;
    const play = { from, in: within.in, out: within.out, speed: wished, loops };
    viewer.play({ ...play, startsAt: performance.timeOrigin + sound.current.play(play) });
  };
  const stop = () => {
    speed.current = 0;
    sound.current.stop();
    viewer.stop();
  };
  const faster = (sign: 1 | -1) => {
    const now = playing ? speed.current : 0;
    run(now * sign > 0 ? Math.max(-FASTEST, Math.min(FASTEST, now * 2)) : sign);
  };
  const deps = [at, go, first, out, row, rows, loops, roll, playing];
  useHotkeys('j', () => faster(-1), deps);
  useHotkeys('l', () => faster(1), deps);
  useHotkeys('k', stop, deps);
  useKey('space', () => (playing ? stop() : run(1)), deps);
  const step = (by: number) => {
    if (playing) stop();
    go(at + by);
  };
  // The arrows may move something else in the lanes.
  const arrows = useTrial((s) => s.arrows);
  const steps = { enabled: arrows === 'playhead' };
  useHotkeys('left', () => step(-1), steps, deps);
  useHotkeys('right', () => step(1), steps, deps);
  useHotkeys('shift+left', () => step(-10), steps, deps);
  useHotkeys('shift+right', () => step(10), steps, deps);
  useHotkeys('i', () => go(first), deps);
  useHotkeys('o', () => go(out - 1), deps);
  useHotkeys('home', () => go(span.in), { preventDefault: true }, deps);
  useHotkeys('end', () => go(span.out - 1), { preventDefault: true }, deps);
  const [place, setPlace] = useState<Place>('cut');
  const places = useMemo(() => placesOf(place, ledger, conform), [place, ledger, conform]);
  const jump = (by: 1 | -1) => {
    const to = nextPlace(places, at, by);
    if (to !== null) go(to);
  };
  useHotkeys('pageup', () => jump(-1), { preventDefault: true }, [places, ...deps]);
  useHotkeys('pagedown', () => jump(1), { preventDefault: true }, [places, ...deps]);

  const button = (label: string, act: () => void, Icon: typeof PlayIcon) => (
    <button type="button" className="btn btn-xs btn-ghost px-1" aria-label={label} title={label} onClick={act}>
      <Icon />
    </button>
  );
  return (
    <div className="@container">
      <div className="flex flex-wrap items-center gap-x-1 gap-y-0.5 pt-1 text-xs" data-testid="playback">
        {button('First frame of the event (I)', () => go(first), TrackPreviousIcon)}
        {button('One frame back (left arrow)', () => step(-1), ChevronLeftIcon)}
        {playing ? button('Stop (K or Space)', stop, PauseIcon) : button('Play (L or Space)', () => run(1), PlayIcon)}
        {button('One frame on (right arrow)', () => step(1), ChevronRightIcon)}
        {button('Last frame of the event (O)', () => go(out - 1), TrackNextIcon)}
        <GoTo at={at} rate={rate} onGo={go} />
        <span className="quiet tc" title="Frame of the event">{`${at - first + 1}/${out - first}`}</span>
        <input
          type="range"
          aria-label="Frame of the event"
          aria-valuetext={formatTimecode(at, rate)}
          className="range range-xs grow min-w-20 @max-[64rem]:order-first @max-[64rem]:basis-full"
          min={first}
          max={out - 1}
          value={at}
          onChange={(e) => go(Number(e.target.value))}
        />
        <Shuttle onSpeed={(n) => (n === 0 ? stop() : run(n))} />
        <span className="flex items-center">
          {button('The one before (Page up)', () => jump(-1), ChevronLeftIcon)}
          <select
            className="select select-xs w-20"
            aria-label="What Page up and Page down go to"
            value={place}
            onChange={(e) => setPlace(e.target.value as Place)}
          >
            {PLACES.map((p) => (
              <option key={p} value={p}>
                {PLACE_WORDS[p]}
              </option>
            ))}
          </select>
          {button('The next one (Page down)', () => jump(1), ChevronRightIcon)}
        </span>
        <label className="flex items-center gap-1" title="Plays the event again and again, with so many frames before and after it">
          <input type="checkbox" className="checkbox checkbox-xs" checked={loops} onChange={(e) => set({ loops: e.target.checked })} />
          Loop
        </label>
        <input
          type="number"
          className="input input-xs tc w-14"
          aria-label="Frames before and after the event in a loop"
          title="Frames before and after the event in a loop"
          min={0}
          max={480}
          value={roll}
          onChange={(e) => set({ roll: Math.max(0, Math.min(480, Math.round(Number(e.target.value)) || 0)) })}
        />
        <SoundSwitch job={job} />
        {playing && (
          <span className="quiet tc" title="How fast it plays, and frames that were passed over since">
            {`${speed.current}×${dropped > 0 ? `, ${dropped} of ${shown + dropped} passed over` : ''}`}
          </span>
        )}
      </div>
    </div>
  );
}

/** Where the playhead is; a timecode that is typed goes there. */
function GoTo({ at, rate, onGo }: { at: number; rate: LedgerView['rate']; onGo: (frame: number) => void }) {
  const [typed, setTyped] = useState<string | null>(null);
  const go = () => {
    const to = typed === null ? null : typedTimecode(typed, rate, at);
    if (typed?.trim() && to === null) toast.error(`“${typed}” is no timecode. Type 01:00:10:05, 1005, +24 or -1:00.`);
    else if (to !== null) onGo(to);
    setTyped(null);
  };
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        go();
        (document.activeElement as HTMLElement | null)?.blur();
      }}
    >
      <input
        className="input input-xs tc w-[7.6rem]"
        aria-label="Record timecode; type another to go there"
        title="Type a timecode and press Enter: 01:00:10:05, 1005, +24, -1:00"
        value={typed ?? formatTimecode(at, rate)}
        onFocus={(e) => e.target.select()}
        onChange={(e) => setTyped(e.target.value)}
        onBlur={() => setTyped(null)}
      />
    </form>
  );
}

/** Plays as fast as it is pulled aside; let go, it stops. */
function Shuttle({ onSpeed }: { onSpeed: (speed: number) => void }) {
  const [pulled, setPulled] = useState(0);
  const set = (n: number) => {
    if (n === pulled) return;
    setPulled(n);
    onSpeed(n === 0 ? 0 : Math.sign(n) * 2 ** (Math.abs(n) - 2));
  };
  return (
    <input
      type="range"
      className="range range-xs w-16 [--range-fill:0]"
      aria-label="Shuttle"
      aria-valuetext={pulled === 0 ? 'stopped' : `${Math.sign(pulled) * 2 ** (Math.abs(pulled) - 2)} times`}
      title="Shuttle: pull aside to play slower or faster, let go to stop"
      min={-5}
      max={5}
      value={pulled}
      onChange={(e) => set(Number(e.target.value))}
      onPointerUp={() => set(0)}
      onBlur={() => set(0)}
    />
  );
}
