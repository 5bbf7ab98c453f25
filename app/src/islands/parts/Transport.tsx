import type { Rate } from '@gemello/core';
import { formatTimecode } from '@gemello/core/time';
import { ChevronLeftIcon, ChevronRightIcon, TrackNextIcon, TrackPreviousIcon } from '@radix-ui/react-icons';
import { useCallback, useEffect, useRef, useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import type { LedgerRow } from '../../contract';
import { frameIn, useView } from '../data/view';

interface Props {
  readonly row: LedgerRow;
  readonly rate: Rate;
  /** False where a viewer plays what is seen; else the frames are stepped through one by one. */
  readonly plays?: boolean;
}

/** Slider through one event, with frame steps and J K L. Frames are record frames. */
export function Transport({ row, rate, plays = true }: Props) {
  const { frame, moveTo } = useView();
  const { in: start, out } = row.recordFrames;
  const at = frameIn(row, frame);
  const to = useCallback((n: number) => moveTo(Math.max(start, Math.min(out - 1, n))), [start, out, moveTo]);
  const [direction, setDirection] = useState<-1 | 0 | 1>(0);
  const now = useRef(at);
  now.current = at;

  useEffect(() => {
    if (direction === 0) return;
    const timer = setInterval(
      () => {
        const next = now.current + direction;
        if (next < start || next >= out) setDirection(0);
        else to(next);
      },
      (1000 * rate.den) / rate.num,
    );
    return () => clearInterval(timer);
  }, [direction, start, out, to, rate]);

  useHotkeys('left', () => to(at - 1), [at, to]);
  useHotkeys('right', () => to(at + 1), [at, to]);
  useHotkeys('shift+left', () => to(at - 10), [at, to]);
  useHotkeys('shift+right', () => to(at + 10), [at, to]);
  useHotkeys('j', () => setDirection(-1), { enabled: plays });
  useHotkeys('k', () => setDirection(0), { enabled: plays });
  useHotkeys('l', () => setDirection(1), { enabled: plays });
  useHotkeys('i', () => to(start), [to, start]);
  useHotkeys('o', () => to(out - 1), [to, out]);

  const step = (label: string, n: number, Icon: typeof ChevronLeftIcon) => (
    <button type="button" className="btn btn-xs btn-ghost px-1" aria-label={label} title={label} onClick={() => to(n)}>
      <Icon />
    </button>
  );
  return (
    <div className="flex items-center gap-1">
      {step('First frame (I)', start, TrackPreviousIcon)}
      {step('One frame back (left arrow)', at - 1, ChevronLeftIcon)}
      <input
        type="range"
        aria-label="Frame of the event"
        aria-valuetext={formatTimecode(at, rate)}
        className="range range-xs grow"
        min={start}
        max={out - 1}
        value={at}
        onChange={(e) => to(Number(e.target.value))}
      />
      {step('One frame on (right arrow)', at + 1, ChevronRightIcon)}
      {step('Last frame (O)', out - 1, TrackNextIcon)}
      <span className="tc text-xs pl-1" title="Record timecode and frame of the event">
        {formatTimecode(at, rate)} <span className="quiet">{`${at - start + 1}/${out - start}`}</span>
      </span>
    </div>
  );
}
