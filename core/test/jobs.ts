import {
  type Decision,
  EMPTY_LIST,
  FOLDER,
  identified,
  type ListEvent,
  newEvent,
  type Original,
  RATES,
  type Rate,
  type Track,
} from '../src';
import { convertByFrameCount, convertByRealTime, framesPerDay, nominal } from '../src/time';
import { original } from './make';

/** What is wrong with a reel of a made job; TRADE.md section 3 names each as a thing of the trade. */
export const DIRT = [
  'clean',
  'hour-off',
  'zone-off',
  'counts-from-zero',
  'eight-characters',
  'six-characters',
  'renamed-files',
  'no-reel-in-files',
  'card-structure-lost',
  'proxy-names',
  'typed-names',
  'twin-cameras',
  'never-copied',
  'two-exports',
  'over-midnight',
  'drop-frame',
  'archive-rate',
  'counted-at-another-rate',
  'reset-to-zero',
  'odd-shift',
  'same-names',
  'same-names-no-reels',
  'typed-names-hour-off',
] as const;
export type Dirt = (typeof DIRT)[number];

/** A cut and originals of which it is known what belongs to what. */
export interface MadeJob {
  readonly list: ReturnType<typeof identified>;
  readonly originals: readonly Original[];
  /** By the key of an event: the originals that are right for it, none where its clip was never copied, and the frame it begins at. */
  readonly truth: ReadonlyMap<string, { readonly paths: readonly string[]; readonly start: number; readonly dirt: Dirt }>;
  readonly decisions: readonly Decision[];
}

/** Numbers from 0 to below 1, the same for a seed (mulberry32, from memory). */
export function random(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4_294_967_296;
  };
}

interface Clip {
  readonly original: Original;
  readonly copied: boolean;
}

const CLIPS = 10;
const WORDS = ['pan', 'gull', 'rake', 'cart', 'rain', 'house', 'pump', 'brine', 'quay', 'mill'];

/** Makes a job of `events` events, its reels each with one kind of dirt, in turn. */
export function madeJob(seed: number, events: number, dirts: readonly Dirt[] = DIRT): MadeJob {
  const next = random(seed);
  const upTo = (n: number) => Math.floor(next() * n);
  const originals: Original[] = [];
  const made: { event: ListEvent; paths: readonly string[]; start: number; dirt: Dirt }[] = [];
  let record = 86_400;
  for (let r = 0; made.length < events; r++) {
    const dirt = dirts[r % dirts.length] as Dirt;
    const rate = rateOf(dirt);
    const camera = 'ABCDEH'[upTo(6)] as string;
    const reel = `${camera}${String(100 + r).padStart(3, '0')}`;
    const clips = clipsOf(dirt, reel, rate, seed, upTo);
    for (const { original: o, copied } of clips) if (copied) originals.push(...filesOf(o, dirt, reel));
    if (TWINS.has(dirt)) {
      // The other camera ran on the same time of day, and half of this one's clips were never copied.
      const twin = `${camera === 'A' ? 'B' : 'A'}${reel.slice(1)}`;
      for (const { original: o } of clips) originals.push(...filesOf(renamed(o, twin, o.clipName.replace(reel, twin)), dirt, twin));
    }
    const odd = 700 + upTo(50_000);
    for (const clip of clips)
      for (let use = 0; use < 2 && made.length < events; use++) {
        const length = 12 + upTo(60);
        const start = upTo(clip.original.frames - length);
        const event = eventOf(clip.original, start, length, record, dirt, odd, made.length, upTo);
        record += length;
        const paths = clip.copied ? filesOf(clip.original, dirt, reel).map((f) => f.path) : [];
        made.push({ event, paths, start, dirt });
      }
  }
  const track: Track = { name: 'V1', kind: 'picture', events: made.map((m) => m.event) };
  const list = identified({ ...EMPTY_LIST, format: 'otio', title: 'MADE', rate: RATES['24'], tracks: [track] });
  const truth = new Map(made.map(({ event, ...rest }) => [event.key, rest]));
  return { list, originals, truth, decisions: [] };
}

const TWINS: ReadonlySet<Dirt> = new Set(['twin-cameras', 'same-names', 'same-names-no-reels']);

const rateOf = (dirt: Dirt): Rate =>
  dirt === 'drop-frame' ? RATES['29.97df'] : dirt === 'archive-rate' || dirt === 'counted-at-another-rate' ? RATES['25'] : RATES['24'];

function clipsOf(dirt: Dirt, reel: string, rate: Rate, seed: number, upTo: (n: number) => number): Clip[] {
  const day = framesPerDay(rate);
  const second = nominal(rate);
  // From six in the morning on; a reel over midnight begins a little before it.
  let at = dirt === 'over-midnight' ? day - 20 * second : (6 + upTo(12)) * 3600 * second + upTo(3600 * second);
  return Array.from({ length: CLIPS }, (_, i): Clip => {
    const frames = 150 + upTo(900);
    const number = String(i + 1).padStart(4, '0');
    const name = dirt.startsWith('same-names') ? `C${number}` : `${reel}C${number}_26041${seed % 10}`;
    const clip = original(`/cards/${reel}/${name}.mov`, {
      reel,
      clipName: name,
      start: dirt === 'reset-to-zero' ? 0 : at % day,
      frames,
      rate,
      clock: rate,
      print: `${seed} ${name}`,
    });
    // A card that is used all day long holds little of it.
    at += frames + upTo((dirt === 'typed-names-hour-off' ? 1200 : 40) * second);
    return { original: clip, copied: !(dirt === 'never-copied' || TWINS.has(dirt)) || i % 2 === 0 };
  });
}

/** A clip that says nothing of its reel, as a scan takes it: by a folder that is called like a card. */
const suggested = (clip: Original, folder: string): Original => ({
  ...clip,
  reel: folder,
  claims: [{ field: 'reel', value: folder, origin: FOLDER, taken: true }],
});

/** The files that stand for a clip on the cards. */
function filesOf(clip: Original, dirt: Dirt, reel: string): Original[] {
  switch (dirt) {
    case 'renamed-files':
      return [renamed(clip, reel, `untitled ${clip.clipName.slice(5, 9)}`)];
    case 'same-names-no-reels':
      return [suggested(clip, clip.reel)];
    case 'no-reel-in-files':
    case 'card-structure-lost':
    case 'six-characters':
    case 'eight-characters':
      return [{ ...suggested(clip, 'DAY_01'), path: clip.path.replace(`/${reel}/`, '/DAY_01/') }];
    case 'two-exports': {
      const small = {
        ...clip,
        path: clip.path.replace('/cards/', '/exports/'),
        raster: { width: 960, height: 540 },
        print: `${clip.print} small`,
      };
      return [clip, small];
    }
    default:
      return [clip];
  }
}

const renamed = (clip: Original, reel: string, name: string): Original => ({
  ...clip,
  reel,
  clipName: name,
  fileName: `${name}.mov`,
  path: `/cards/${reel}/${name}.mov`,
  print: `${clip.print} ${reel} ${name}`,
});

function eventOf(
  clip: Original,
  start: number,
  length: number,
  record: number,
  dirt: Dirt,
  odd: number,
  at: number,
  upTo: (n: number) => number,
): ListEvent {
  const { rate } = clip;
  const day = framesPerDay(rate);
  const wrapped = (frames: number) => ((frames % day) + day) % day;
  let label = wrapped(clip.start + start);
  let sourceRate = rate;
  if (dirt === 'hour-off' || dirt === 'typed-names-hour-off') label = wrapped(label - 3600 * nominal(rate));
  if (dirt === 'zone-off') label = wrapped(label + 5.5 * 3600 * nominal(rate));
  if (dirt === 'odd-shift') label = wrapped(label + odd);
  if (dirt === 'counts-from-zero') label = start;
  if (dirt === 'counted-at-another-rate') {
    label = convertByFrameCount(label, rate, RATES['24']);
    sourceRate = RATES['24'];
  }
  if (dirt === 'archive-rate') {
    label = convertByRealTime(start, rate, rate) + clip.start;
  }
  const names = namesOf(clip, dirt, upTo);
  return newEvent({
    key: `V1/${at + 1}`,
    number: String(at + 1).padStart(4, '0'),
    sourceRate,
    source: { in: label, out: label + length },
    sourceLabels: `${label} ${label + length}`,
    record: { in: record, out: record + length },
    rateMode: 'frame-for-frame',
    ...names,
  });
}

function namesOf({ reel, clipName, fileName }: Original, dirt: Dirt, upTo: (n: number) => number) {
  switch (dirt) {
    case 'eight-characters':
      return { reel: fileName.slice(0, 8), clipName: '', fileName: '' };
    case 'six-characters':
      return { reel: fileName.slice(0, 6), clipName: '', fileName: '' };
    case 'no-reel-in-files':
      return { reel: '', clipName, fileName: '' };
    case 'proxy-names':
      return { reel: 'AX', clipName: `offl_${clipName}_v2`, fileName: '' };
    case 'typed-names':
    case 'typed-names-hour-off':
      return { reel, clipName: `${WORDS[upTo(10)]} ${WORDS[upTo(10)]}`, fileName: '' };
    default:
      return { reel, clipName, fileName };
  }
}

/** What became of a made job's events: right, wrong, or left to a person; an event that is wrong names its state. */
export function figuresOf(
  { truth }: MadeJob,
  pairings: readonly {
    event: { key: string; source: { in: number; out: number } };
    state: string;
    chosen: { original: Original; sourceStartFrame: number } | null;
  }[],
) {
  const figures = { events: pairings.length, settled: 0, wrong: [] as string[], person: new Map<Dirt, number>(), absent: 0 };
  for (const { event, state, chosen } of pairings) {
    const known = truth.get(event.key);
    if (!known) throw new Error(`no truth of ${event.key}`);
    if ((state === 'proposed' || state === 'paired') && chosen) {
      figures.settled++;
      if (!known.paths.includes(chosen.original.path) || chosen.sourceStartFrame !== known.start)
        figures.wrong.push(
          `${known.dirt}: ${chosen.original.path} from ${chosen.sourceStartFrame}, not ${known.paths[0]} from ${known.start}`,
        );
    } else if (known.paths.length === 0) figures.absent++;
    else figures.person.set(known.dirt, (figures.person.get(known.dirt) ?? 0) + 1);
  }
  return figures;
}
