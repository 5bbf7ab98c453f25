import type { Levels } from '@gemello/core/scopes';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { useLine } from '../data/line';
import { useConform } from '../data/queries';
import type { Seen } from './cuts';
import type { Comparing, Side } from './drawing';
import { type Borrowed, viewerOf } from './kept';
import type { Pair, Play, Told } from './viewer';

const NOTHING: Told = {
  frame: -1,
  frames: [-1, -1],
  shows: '',
  playing: false,
  shown: 0,
  dropped: 0,
  unseen: [null, null],
  stands: [[], []],
  shape: 16 / 9,
};

/** What the viewer is to show. */
export interface Wish extends Borrowed {
  readonly frames: Pair<number>;
  readonly seen: Pair<Seen>;
  readonly comparing: Comparing;
  /** Changes with any picture of the cut. */
  readonly look: string;
}

/** The viewer as a part of a page uses it. */
export interface ViewerInHand {
  /** To be set on what its canvas is to fill. */
  readonly place: (element: HTMLElement | null) => void;
  /** False until it can draw, and where it cannot: then stills from the server stand in. */
  readonly ready: boolean;
  readonly told: Told;
  play(play: Play): void;
  stop(): void;
  /** How the levels of a side's picture lie. */
  scope(side: Side): Promise<Levels | null>;
  /** What is on the screen, as a PNG. */
  keep(): Promise<Blob | null>;
}

/** Brings the viewer of the page here, keeps it in step with the cut, and shows what is wished for. */
export function useViewer(job: string, { frames, seen, comparing, look, version, stranger }: Wish): ViewerInHand {
  const { data: conform } = useConform(job);
  const [ready, setReady] = useState(false);
  const [loaded, setLoaded] = useState(0);
  const [told, setTold] = useState<Told>(NOTHING);
  const playing = useRef(false);
  // What could not be had while the server was away is asked for again.
  const returns = useLine((s) => s.returns);
  // biome-ignore lint/correctness/useExhaustiveDependencies: its thread too
  const viewer = useMemo(() => viewerOf(job), [job, returns]);

  const place = useCallback(
    (element: HTMLElement | null) => {
      if (element) viewer.moveTo(element);
    },
    [viewer],
  );
  useEffect(() => {
    let here = true;
    void viewer.ready.then((begun) => here && setReady(begun));
    viewer.hear((heard) => {
      playing.current = heard.playing;
      setTold(heard);
    });
    return () => {
      here = false;
      viewer.hear(null);
      void viewer.thread.stop();
    };
  }, [viewer]);

  useEffect(() => {
    if (!ready || conform === undefined) return;
    viewer.load(conform, look, { version, stranger }).then(() => setLoaded((n) => n + 1));
  }, [viewer, ready, conform, look, version, stranger]);

  const shown = useRef(-1);
  const [left, right] = frames;
  const wish = JSON.stringify(seen);
  // Before the page is laid out nobody knows how large it is to be drawn.
  const hasRoom = comparing.across > 0;
  // biome-ignore lint/correctness/useExhaustiveDependencies: the same frames, held otherwise against each other, are not put together anew
  useEffect(() => {
    if (loaded === 0 || !hasRoom) return;
    // What is told while it plays comes back as the playhead, and is no wish of anyone.
    if (playing.current && right === shown.current) return;
    if (playing.current) void viewer.thread.stop();
    void viewer.thread.show(frames, seen, comparing);
  }, [loaded, hasRoom, left, right, wish, returns]);
  useEffect(() => {
    if (ready && hasRoom) void viewer.thread.compare(comparing);
  }, [viewer, ready, hasRoom, comparing]);
  shown.current = told.frame;

  return {
    place,
    ready: ready && loaded > 0,
    told,
    play: (play) => void viewer.thread.play(play),
    stop: () => void viewer.thread.stop(),
    scope: (side) => viewer.thread.scope(side),
    keep: () => viewer.thread.keep(),
  };
}
