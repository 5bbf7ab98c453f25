import type { Rate } from '@gemello/core/time';
import { SpeakerLoudIcon, SpeakerOffIcon } from '@radix-ui/react-icons';
import { useEffect, useRef } from 'react';
import { type Heard, useHeard } from '../data/heard';
import { useLooking } from '../data/looking';
import type { Play } from '../viewing/viewer';
import { openSounding, type Sounding } from './sounding';

/** So long after it is asked for does what has sound begin to play, in milliseconds: pictures and sound begin together. */
const LEAD = 120;
/** The playhead rests after so long, in milliseconds. */
const AT_REST = 150;

interface Sound {
  /** Plays what is heard with the pictures; gives when both begin, on the page's clock. */
  play(play: Omit<Play, 'startsAt'>): number;
  stop(): void;
}

export const SILENCE: Sound = { play: () => performance.now(), stop: () => {} };

/** Guide sound, or that of the reference, in step with the pictures from its first one on. Silent at other speeds than the cut's. */
export function useSound(job: string, at: number, playing: boolean, rate: Rate): Sound {
  const { sound, scrubs, volume } = useLooking();
  const { heard: here } = useHeard(job);
  const heard = sound ? here : null;
  const open = useRef<{ file: string; sounding: Sounding } | null>(null);
  const sounding = (of: Heard) => {
    const file = `${of.from} ${of.look}`;
    if (open.current?.file !== file) {
      open.current?.sounding.close();
      open.current = { file, sounding: openSounding(job, of) };
    }
    open.current.sounding.volume(volume);
    return open.current.sounding;
  };
  useEffect(() => () => open.current?.sounding.close(), []);
  useEffect(() => open.current?.sounding.volume(volume), [volume]);
  // It ends where the pictures end, or where it is switched off; that the cut is asked for anew is no end.
  const silent = heard === null;
  const wasPlaying = useRef(false);
  useEffect(() => {
    if (silent || (wasPlaying.current && !playing)) open.current?.sounding.stop();
    wasPlaying.current = playing;
  }, [playing, silent]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: it is heard where the playhead is moved to
  useEffect(() => {
    if (scrubs && heard && !playing) void sounding(heard).touch(heard.secondsAt(at), (1.5 * rate.den) / rate.num);
  }, [at]);
  // What would be heard from the playhead on is here when it is played.
  // biome-ignore lint/correctness/useExhaustiveDependencies: it is fetched once the playhead rests
  useEffect(() => {
    if (!heard || playing) return;
    const timer = setTimeout(() => sounding(heard).ready(heard.secondsAt(at)), AT_REST);
    return () => clearTimeout(timer);
  }, [at, heard, playing]);
  return {
    play({ from, in: first, out, speed, loops }) {
      const startsAt = performance.now() + (heard && speed === 1 ? LEAD : 0);
      if (heard && speed === 1)
        void sounding(heard).play({
          from: heard.secondsAt(from),
          startsAt,
          until: heard.secondsAt(out),
          again: loops ? heard.secondsAt(first) : null,
        });
      else open.current?.sounding.stop();
      return startsAt;
    },
    stop: () => open.current?.sounding.stop(),
  };
}

/** Sound on or off, how loud, and whether it is heard while frames are gone over by hand. */
export function SoundSwitch({ job }: { job: string }) {
  const { sound, scrubs, volume, set } = useLooking();
  const { heard: has, all } = useHeard(job);
  const says = has ? `Sound of ${has.name}; it is heard at the speed of the cut` : 'Neither the reference nor a guide has sound';
  return (
    <span className="flex items-center gap-1">
      <button
        type="button"
        className="btn btn-xs btn-ghost px-1"
        aria-pressed={sound && has !== null}
        aria-label={sound ? 'Sound on' : 'Sound off'}
        title={says}
        disabled={!has}
        onClick={() => set({ sound: !sound })}
      >
        {sound && has ? <SpeakerLoudIcon /> : <SpeakerOffIcon />}
      </button>
      {has && sound && (
        <>
          <input
            type="range"
            className="range range-xs w-14"
            aria-label="How loud"
            min={0}
            max={100}
            value={Math.round(volume * 100)}
            onChange={(e) => set({ volume: Number(e.target.value) / 100 })}
          />
          {all.length > 1 && (
            <select
              className="select select-xs w-24"
              aria-label="What is heard"
              value={has.from}
              onChange={(e) => set({ hears: e.target.value === 'guide' ? 'guide' : 'reference' })}
            >
              <option value="guide">Guide</option>
              <option value="reference">Reference</option>
            </select>
          )}
          <label className="flex items-center gap-1" title="Sound is heard while frames are gone over by hand">
            <input type="checkbox" className="checkbox checkbox-xs" checked={scrubs} onChange={(e) => set({ scrubs: e.target.checked })} />
            Scrub
          </label>
        </>
      )}
    </span>
  );
}
