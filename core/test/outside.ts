import { execFileSync } from 'node:child_process';
import { existsSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { decimalOf, type EditList, type ListEvent, type Rate, speedOf, startOf, tailFrames } from '../src';

/** Lists that nobody here made (scripts/needs.mjs fetches them), by the first digits of their content's SHA-256. */
export interface Sample {
  readonly hash: string;
  readonly extension: string;
  readonly size: number;
  /** The hash of a movie that was rendered from it; null where there is none. */
  readonly movie: string | null;
}

const here = path.dirname(fileURLToPath(import.meta.url));
const root = path.join(here, '..', '..');
const folder = path.join(root, '.venv', 'outside');
export const python = path.join(root, '.venv', 'bin', 'python');

export const SAMPLES: readonly Sample[] = existsSync(path.join(folder, 'index.json'))
  ? JSON.parse(readFileSync(path.join(folder, 'index.json'), 'utf8'))
  : [];
export const fileOf = (hash: string, extension: string): string => path.join(folder, `${hash}.${extension}`);
export const bytesOf = ({ hash, extension }: Sample): Uint8Array => readFileSync(fileOf(hash, extension));

/** Runs one of the Python scripts beside this file; what it prints is JSON. */
export const judged = <T>(script: string, ...args: string[]): T =>
  JSON.parse(
    execFileSync(python, [path.join(here, script), ...args], {
      encoding: 'utf8',
      maxBuffer: 1 << 29,
      stdio: ['ignore', 'pipe', 'ignore'],
    }),
  );

/** A clip as the open timeline library and its adapters find it, in seconds from the start of the cut. */
export interface TheirClip {
  readonly kind: string;
  readonly lane: readonly number[];
  readonly name: string;
  readonly in: number;
  readonly out: number;
  readonly source: number;
  /** Null for a speed that the library only names. */
  readonly speed: number | null;
  readonly enabled: boolean;
}
export interface TheirCut {
  readonly name: string;
  readonly start: number | null;
  readonly clips: readonly TheirClip[];
  readonly transitions: readonly { readonly kind: string; readonly at: number; readonly before: number; readonly after: number }[];
}
export type Theirs = readonly TheirCut[] | { readonly failed: string };

/** What two readings of a list may say otherwise; `refused`: one of them does not read it. */
type What =
  | 'start'
  | 'ours-alone'
  | 'theirs-alone'
  | 'name'
  | 'source'
  | 'speed'
  | 'enabled'
  | 'transition'
  | 'order'
  | 'refused-there'
  | 'refused-here';

/** One thing that both say otherwise. */
export interface Difference {
  readonly what: What;
  readonly ours: string;
  readonly theirs: string;
}

/** Half a frame, and what seconds as decimals lose. */
const HALF_A_FRAME = 0.5 + 1e-3;
const KINDS: Readonly<Record<string, string>> = { Video: 'picture', Audio: 'sound' };
const perSecond = (r: Rate) => r.num / r.den;

interface OurClip {
  readonly kind: string;
  readonly track: number;
  readonly event: ListEvent;
  readonly in: number;
  readonly out: number;
  readonly faded: number | null;
}

/** Everything that a cut of ours and theirs say otherwise, event by event: what stands where, names, sources, speeds, what is off, transitions. */
export function differences(list: EditList, theirs: TheirCut): Difference[] {
  const found: Difference[] = [];
  const frame = 1 / perSecond(list.rate);
  const close = (a: number, b: number, frames = HALF_A_FRAME) => Math.abs(a - b) <= frames * frame;
  const start = startOf(list);
  if (theirs.start !== null && !close(theirs.start, start * frame))
    found.push({ what: 'start', ours: `${start}`, theirs: `${theirs.start / frame}` });
  const left: OurClip[] = list.tracks.flatMap(({ kind, events }, track) =>
    events.map((event, i) => ({
      kind,
      track,
      event,
      in: (event.record.in - start) * frame,
      out: (event.record.out - start) * frame,
      // A fade-out at the end of a track is black that begins with it; the library lets the clip last until it is gone.
      faded: events[i + 1]?.kind === 'black' ? (event.record.out - start + tailFrames({ name: '', kind, events }, i)) * frame : null,
    })),
  );
  const pairs: [OurClip, TheirClip][] = [];
  for (const clip of theirs.clips) {
    const kind = KINDS[clip.kind];
    if (!kind) continue;
    const standing = left.filter(
      (o) => o.kind === kind && close(o.in, clip.in) && (close(o.out, clip.out) || (o.faded !== null && close(o.faded, clip.out))),
    );
    // Of several the one of its name whose source begins nearest.
    const off = ({ event }: OurClip) => (event.clipName === clip.name ? 0 : 1e9) + Math.abs(sourceSeconds(event) - clip.source);
    const one = standing.sort((a, b) => off(a) - off(b))[0];
    if (!one) {
      found.push({ what: 'theirs-alone', ours: '', theirs: `${clip.kind} ${clip.name} ${clip.in / frame} to ${clip.out / frame}` });
      continue;
    }
    left.splice(left.indexOf(one), 1);
    pairs.push([one, clip]);
  }
  // Black is an event of ours where the library has an empty place.
  for (const { kind, event } of left.filter(({ event }) => event.kind !== 'black'))
    found.push({
      what: 'ours-alone',
      ours: `${kind} ${event.clipName} ${event.record.in - start} to ${event.record.out - start}`,
      theirs: '',
    });
  for (const [{ event }, clip] of pairs) {
    if (event.kind !== 'black' && event.clipName !== clip.name) found.push({ what: 'name', ours: event.clipName, theirs: clip.name });
    const speed = speedOf(event.retime);
    const source = sourceSeconds(event);
    if (event.kind === 'clip' && !close(source, clip.source))
      found.push({ what: 'source', ours: `${source / frame} (${event.record.in - start})`, theirs: `${clip.source / frame}` });
    if (clip.speed === null ? event.retime.kind === 'natural' : event.retime.kind === 'keyed' || Math.abs(clip.speed - speed) > 1e-4)
      found.push({ what: 'speed', ours: event.retime.kind === 'keyed' ? 'keyed' : `${speed}`, theirs: `${clip.speed}` });
    if (event.kind !== 'black' && event.enabled !== clip.enabled)
      found.push({ what: 'enabled', ours: `${event.enabled}`, theirs: `${clip.enabled}` });
  }
  // Of two that stand above each other theirs has the same one on top.
  pairs.forEach(([ours, clip], i) => {
    for (const [other, another] of pairs.slice(i + 1)) {
      if (ours.kind !== 'picture' || other.kind !== 'picture' || ours.out <= other.in || other.out <= ours.in) continue;
      const above = before(clip.lane, another.lane);
      if (above !== 0 && Math.sign(ours.track - other.track) !== above)
        found.push({
          what: 'order',
          ours: `${ours.event.clipName} on ${ours.track}, ${other.event.clipName} on ${other.track}`,
          theirs: `${clip.lane} and ${another.lane}`,
        });
    }
  });
  const joins = list.tracks.flatMap(({ kind, events }) =>
    events.flatMap(({ transitionIn: join, record }) =>
      join
        ? [{ kind, from: (record.in - join.before - start) * frame, to: (record.in - join.before + join.duration - start) * frame }]
        : [],
    ),
  );
  for (const { kind, at, before: ahead, after } of theirs.transitions) {
    const i = joins.findIndex((j) => j.kind === KINDS[kind] && close(j.from, at - ahead) && close(j.to, at + after));
    if (i >= 0) joins.splice(i, 1);
    else found.push({ what: 'transition', ours: '', theirs: `${kind} ${(at - ahead) / frame} to ${(at + after) / frame}` });
  }
  for (const j of joins) found.push({ what: 'transition', ours: `${j.kind} ${j.from / frame} to ${j.to / frame}`, theirs: '' });
  return found;
}

const before = (a: readonly number[], b: readonly number[]): number => {
  for (let i = 0; i < Math.min(a.length, b.length); i++) if (a[i] !== b[i]) return Math.sign((a[i] as number) - (b[i] as number));
  return 0;
};

/** Where the source of an event begins: the adapters state the first frame of what is retimed, which for a reverse is its last to be seen. */
const sourceSeconds = ({ source, phase, sourceRate, retime }: ListEvent): number =>
  (source.in + (retime.kind === 'constant' && retime.speed.num < 0 ? 0 : decimalOf(phase))) / perSecond(sourceRate);
