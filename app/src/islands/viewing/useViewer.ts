import { proxy, type Remote, transfer, wrap } from 'comlink';
import { useCallback, useEffect, useRef, useState } from 'react';
import { useConform } from '../data/queries';
import type { Comparing } from './drawing';
import type { Play, Told } from './viewer';
import type { ViewerThread } from './viewer.worker';

const NOTHING: Told = { frame: -1, playing: false, shown: 0, dropped: 0 };

/** The viewer as a part of a page uses it. */
export interface ViewerInHand {
  /** To be set on the canvas that it draws onto. */
  readonly canvas: (element: HTMLCanvasElement | null) => void;
  /** False until it can draw, and where it cannot: then stills from the server stand in. */
  readonly ready: boolean;
  readonly told: Told;
  play(play: Play): void;
  stop(): void;
}

/** Opens the viewer on a thread, keeps it in step with the cut, and shows a record frame, both sides held against each other in one way. */
export function useViewer(job: string, frame: number, comparing: Comparing, look: string): ViewerInHand {
  const { data: conform } = useConform(job);
  const thread = useRef<Remote<ViewerThread> | null>(null);
  const [ready, setReady] = useState(false);
  const [loaded, setLoaded] = useState(0);
  const [told, setTold] = useState<Told>(NOTHING);
  const playing = useRef(false);

  const canvas = useCallback(
    (element: HTMLCanvasElement | null) => {
      if (!element || thread.current) return;
      const worker = new Worker(new URL('./viewer.worker.ts', import.meta.url), { type: 'module' });
      const remote = wrap<ViewerThread>(worker);
      thread.current = remote;
      const offscreen = element.transferControlToOffscreen();
      const hear = proxy((heard: Told) => {
        playing.current = heard.playing;
        setTold(heard);
      });
      remote.begin(transfer(offscreen, [offscreen]), job, hear).then(setReady, () => setReady(false));
      Object.assign(element, { viewer: remote });
      closing.current = () => {
        void remote.close().finally(() => worker.terminate());
        thread.current = null;
      };
    },
    [job],
  );
  const closing = useRef<(() => void) | null>(null);
  useEffect(() => () => closing.current?.(), []);

  useEffect(() => {
    if (!ready || conform === undefined) return;
    thread.current?.load(conform, look).then(() => setLoaded((n) => n + 1));
  }, [ready, conform, look]);

  const shown = useRef(-1);
  // biome-ignore lint/correctness/useExhaustiveDependencies: the same frame, held otherwise against itself, is not put together anew
  useEffect(() => {
    if (loaded === 0 || !thread.current) return;
    // What is told while it plays comes back as the playhead, and is no wish of anyone.
    if (playing.current && frame === shown.current) return;
    if (playing.current) void thread.current.stop();
    void thread.current.show(frame, comparing);
  }, [loaded, frame]);
  useEffect(() => {
    if (ready) void thread.current?.compare(comparing);
  }, [ready, comparing]);
  shown.current = told.frame;

  return {
    canvas,
    ready: ready && loaded > 0,
    told,
    play: (play) => void thread.current?.play(play),
    stop: () => void thread.current?.stop(),
  };
}
