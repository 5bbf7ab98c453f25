import { execFileSync } from 'node:child_process';
import {
  applyDecisions,
  type Decision,
  EMPTY_LIST,
  type EventProof,
  type ListEvent,
  newEvent,
  type Original,
  RATES,
  type Standing,
} from '@gemello/core';
import { openThreads, probeMovie, proveAbreast, type ReferenceLaid } from '../src';
import { scratch } from './scratch';

/** Pictures that the ffmpeg program draws by itself, each 320 x 180 at 24 frames a second. */
const DRAWN = {
  zoom: 'mandelbrot=s=320x180:r=24:start_scale=0.8',
  clock: 'testsrc2=s=320x180:r=24',
  life: 'life=s=80x45:r=24:mold=9:life_color=white:death_color=gray,scale=320:180:flags=bilinear',
} as const;
type Drawn = keyof typeof DRAWN;

/** How long each drawn movie is, in frames, and where cuts of them begin: at one hour. */
const LENGTH = 120;
export const START = 86_400;

const CODING = ['-c:v', 'libx264', '-pix_fmt', 'yuv420p'];

/** An event of a cut, with the original it is of. */
export interface Placed {
  readonly event: ListEvent;
  readonly original: Original;
}

/** An event of so many frames that shows an original from a frame on; `record` counts from the first of the cut. */
export const placed = (
  key: string,
  original: Original,
  from: number,
  record: number,
  frames: number,
  more: Partial<ListEvent> = {},
): Placed => ({
  original,
  event: newEvent({
    key,
    number: key,
    clipName: original.clipName,
    sourceRate: RATES['24'],
    source: { in: from, out: from + frames },
    record: { in: START + record, out: START + record + frames },
    ...more,
  }),
});

/** A cut of layers from the bottom up; `paired` where each event has its original. */
export function cutOf(layers: readonly (readonly Placed[])[], paired = true): Standing {
  const tracks = layers.map((events, i) => ({ name: `V${i + 1}`, kind: 'picture' as const, events: events.map((e) => e.event) }));
  const pairs = layers
    .flat()
    .map(
      ({ event, original }): Decision => ({ kind: 'pair', event: event.key, original: original.path, sourceStartFrame: event.source.in }),
    );
  const framing = { raster: { width: 320, height: 180 }, pixelAspect: 1, fields: null };
  return applyDecisions({ ...EMPTY_LIST, format: 'test', rate: RATES['24'], framing, tracks }, paired ? pairs : []).list;
}

/** A filter that takes frames of an input, and names what comes of it. */
export const taken = (input: number, from: number, frames: number, name: string, more = ''): string =>
  `[${input}]trim=start_frame=${from}:end_frame=${from + frames},setpts=PTS-STARTPTS${more}[${name}]`;

/** A folder of movies that the ffmpeg program makes, and threads on which they are proved. */
export function movies() {
  const { at, end } = scratch();
  const threads = openThreads();
  let made = 0;
  const ffmpeg = (args: readonly string[], name: string, crf = 20): Original => {
    execFileSync('ffmpeg', ['-v', 'error', '-y', ...args, ...CODING, '-crf', `${crf}`, at(name)]);
    return probeMovie(at(name));
  };
  const filtered = (inputs: readonly Original[], filter: string): Original =>
    ffmpeg([...inputs.flatMap((o) => ['-i', o.path]), '-filter_complex', filter], `reference ${made++}.mov`);
  return {
    at,
    threads,
    ffmpeg,
    filtered,
    drawn: (which: Drawn): Original => ffmpeg(['-f', 'lavfi', '-i', DRAWN[which], '-frames:v', `${LENGTH}`], `${which}.mov`),
    /** A reference of stretches, one after the other: of which original, from which frame on, how many. */
    joined: (parts: readonly (readonly [Original, number, number])[]): Original =>
      filtered(
        parts.map(([original]) => original),
        `${parts.map(([, from, frames], i) => taken(i, from, frames, `p${i}`)).join(';')};${parts.map((_, i) => `[p${i}]`).join('')}concat=n=${parts.length}:v=1`,
      ),
    async proved(layers: readonly (readonly Placed[])[], reference: Original, originals: readonly Original[]) {
      const proofs = new Map<string, EventProof>();
      const basis = { list: cutOf(layers), originals, reference, cache: at('cache') };
      const keys = layers.flat().map((e) => e.event.key);
      const { laid }: { laid: ReferenceLaid } = await proveAbreast(threads, basis, keys, (some) => {
        for (const p of some) proofs.set(p.event, p);
      });
      return { proofs, laid };
    },
    async close() {
      await threads.close();
      end();
    },
  };
}
