import { PIECE_SECONDS } from '@gemello/core/viewing';
import { LRUCache } from 'lru-cache';
import { type HeardFile, soundAddress } from '../data/api';

/** Pieces that are held, about 1.5 MB each. */
const HELD = 8;
/** Sound is laid out this far ahead, in seconds, and looked after this often, in milliseconds. */
const [AHEAD, EACH] = [3, 500];
const SAMPLE_RATE = 48_000;
/** Readings of the card's clock, and the time between two of them in milliseconds. */
const [READINGS, BETWEEN_READINGS] = [9, 7];

/** What is to be heard: a stretch of a movie from a moment of the clock on. `startsAt` is on the page's clock, in milliseconds. */
export interface Hearing {
  /** Seconds from the first picture of the movie. */
  readonly from: number;
  readonly startsAt: number;
  /** Where it ends, and where it goes on from there; null: it ends. */
  readonly until: number;
  readonly again: number | null;
}

export interface Sounding {
  play(hearing: Hearing): Promise<void>;
  /** A moment of it, as it is gone over by hand. */
  touch(from: number, seconds: number): Promise<void>;
  stop(): void;
  /** Fetches what would be heard from a moment on, so that it begins at once. */
  ready(from: number): void;
  volume(level: number): void;
  close(): void;
}

/**
 * Plays what a movie holds, laid out on the sound card's own clock: what is heard at a moment is reckoned from the first picture, so
 * that it does not drift from the pictures, which are shown by the same clock.
 */
export function openSounding(job: string, heard: HeardFile): Sounding {
  let loud = 1;
  let card: { readonly context: AudioContext; readonly level: GainNode } | null = null;
  /** The sound card, opened when something is first to be heard: before a person has done anything, no browser opens it. */
  const opened = () => {
    if (card) return card;
    const context = new AudioContext({ sampleRate: SAMPLE_RATE, latencyHint: 'interactive' });
    const level = context.createGain();
    level.gain.value = loud;
    level.connect(context.destination);
    card = { context, level };
    return card;
  };
  const pieces = new LRUCache<number, Promise<AudioBuffer | null>>({ max: HELD });
  const sounding = new Set<AudioBufferSourceNode>();
  let turn = 0;
  let timer: ReturnType<typeof setInterval> | undefined;

  const piece = (k: number): Promise<AudioBuffer | null> => {
    const known = pieces.get(k);
    if (known) return known;
    const made = fetched(soundAddress(job, heard, k)).catch(() => null);
    pieces.set(k, made);
    // What failed may be there when it is asked for again.
    void made.then((buffer) => buffer ?? pieces.delete(k));
    return made;
  };
  /**
   * How far the page's clock is ahead of the card's, in milliseconds: what a reading says lies up to a buffer aside, so that several
   * are taken, and the one in their middle counts.
   */
  const aheadOf = async ({ context }: NonNullable<typeof card>): Promise<number> => {
    const said: number[] = [];
    for (let tries = 0; said.length < READINGS && tries < READINGS * 4; tries++) {
      const { contextTime = 0, performanceTime = 0 } = context.getOutputTimestamp();
      // Before anything was put out the card says nothing.
      if (performanceTime > 0) said.push(performanceTime - contextTime * 1000);
      await new Promise((resolve) => setTimeout(resolve, BETWEEN_READINGS));
    }
    return said.sort((a, b) => a - b)[said.length >> 1] ?? performance.now() - context.currentTime * 1000;
  };
  /** Lays out the movie from one moment of it to another, to begin at a moment of the card's clock. */
  const lay = async (from: number, to: number, at: number, mine: number) => {
    for (let k = Math.max(0, Math.floor(from / PIECE_SECONDS)); k * PIECE_SECONDS < to; k++) {
      const buffer = await piece(k);
      if (mine !== turn) return;
      const { context, level } = opened();
      if (!buffer) continue;
      const [first, last] = [Math.max(from, k * PIECE_SECONDS), Math.min(to, (k + 1) * PIECE_SECONDS)];
      // What should have begun by now is gone into as far as it has come.
      const late = Math.max(0, context.currentTime - (at + first - from));
      if (late >= last - first) continue;
      const source = new AudioBufferSourceNode(context, { buffer });
      source.connect(level);
      source.onended = () => sounding.delete(source);
      source.start(at + first - from + late, first - k * PIECE_SECONDS + late, last - first - late);
      sounding.add(source);
    }
  };
  const stop = () => {
    turn++;
    clearInterval(timer);
    for (const source of sounding) source.stop();
    sounding.clear();
  };

  return {
    async play({ from, startsAt, until, again }) {
      stop();
      const mine = turn;
      const now = opened();
      await now.context.resume();
      const aside = await aheadOf(now);
      if (mine !== turn) return;
      let [at, start] = [from, startsAt];
      const on = () => {
        while (start < performance.now() + AHEAD * 1000) {
          const to = Math.min(until, at + AHEAD);
          if (to <= at) return clearInterval(timer);
          void lay(at, to, (start - aside) / 1000, mine);
          start += (to - at) * 1000;
          at = to;
          if (at >= until && again !== null) at = again;
        }
      };
      on();
      timer = setInterval(on, EACH);
    },
    async touch(from, seconds) {
      stop();
      const mine = turn;
      const { context } = opened();
      await context.resume();
      await lay(Math.max(0, from), Math.max(0, from) + seconds, context.currentTime + 0.01, mine);
    },
    stop,
    ready(from) {
      for (const k of [0, 1]) void piece(Math.max(0, Math.floor(from / PIECE_SECONDS)) + k);
    },
    volume(to) {
      loud = to;
      card?.level.gain.setTargetAtTime(to, card.context.currentTime, 0.01);
    },
    close() {
      stop();
      void card?.context.close();
    },
  };
}

async function fetched(address: string): Promise<AudioBuffer | null> {
  const answer = await fetch(address);
  if (!answer.ok) return null;
  const samples = new Int16Array(await answer.arrayBuffer());
  const buffer = new AudioBuffer({ numberOfChannels: 2, length: Math.max(1, samples.length / 2), sampleRate: SAMPLE_RATE });
  const sides = [buffer.getChannelData(0), buffer.getChannelData(1)] as const;
  for (let i = 0; i < samples.length; i++) (sides[(i & 1) as 0 | 1] as Float32Array)[i >> 1] = (samples[i] as number) / 32768;
  return buffer;
}
