import { greatest } from 'd3-array';
import { coarser, ENVELOPE_EACH, faster, inDecibels } from './envelope';

/** How a mix lies against the guide sound of a cut. */
export interface MixLay {
  /** Where the mix begins, in seconds from the first sample of the guide; negative: before it. */
  readonly offset: number;
  /** How much longer the mix takes for the same, in parts of a million; positive: it runs slower. */
  readonly drift: number;
  /** How fast the mix was made against the guide: 1, or one of `SPEEDS`. */
  readonly speed: number;
  /** Places along the guide that were looked at, and those that tell of this lay. */
  readonly places: number;
  readonly agreeing: number;
  /** How far places that agree stray from the line through them, at most, in seconds. */
  readonly stray: number;
}

/** A lay that could not be told, and how many places agreed at the most. */
export interface NoLay {
  readonly fault: MixFault;
  readonly agreeing: number;
}

/** Why no lay is told: nothing is heard in one of them, too little of it is the same sound, or parts of it lie differently. */
export type MixFault = 'silent' | 'other-sound' | 'cut-otherwise';

/** How fast a mix may have been made: as the cut; pulled to film or video (1000/1001); as a transfer between 24 and 25 (common practice). */
export const SPEEDS = [1, 1000 / 1001, 1001 / 1000, 24 / 25, 25 / 24] as const;

/** Length of what is compared at a place: a sixth of a short guide, within these; and how far the mix may begin from the guide. In seconds. */
const [SHORTEST, LONGEST, REACH] = [2, 8, 120];
/** Most places along the guide, and points of an envelope that are one when it is first looked through. */
const [PLACES, FIRST] = [24, 20];
/** How alike a place must be to be heard at all, as a correlation of loudness in logarithms. It says little: what tells is that places agree. */
const ALIKE = 0.2;
/** How far places may stray from one line, in seconds: a quarter of a frame of film. */
const STRAY = 0.01;
/**
 * The share of the places that must agree on one line, and how many at least. Among places that tell nothing two agree by chance, in a reach of
 * 240 s and with 10 ms to stray. Measured on spoken texts of six minutes, not drawn for this: 18 of 24 and more where it is the sound, under music
 * and noise, compressed, with echo; 2 of 24 at the most where it is another text or voice.
 */
const [AGREE, LEAST] = [0.25, 3];

interface Told {
  readonly at: number;
  readonly lag: number;
  readonly alike: number;
}

/**
 * Lays a mix against the guide sound by where both rise and fall: `guide` and `mix` are envelopes (`ENVELOPE_EACH` points a second). Levels,
 * music and effects may differ; what is common to both must be heard in a good part of it. The lay is that of the line which most places agree on.
 */
export function layMix(guide: Float32Array, mix: Float32Array): MixLay | NoLay {
  if (!isHeard(guide) || !isHeard(mix)) return { fault: 'silent', agreeing: 0 };
  const against = inDecibels(guide);
  const tries: { speed: number; told: Told[]; line: ReturnType<typeof lineOf> }[] = [];
  for (const speed of SPEEDS) {
    const places = placesOf(against, inDecibels(faster(mix, 1 / speed)));
    tries.push({ speed, told: places, line: lineOf(places) });
    // Most are made at the rate of the cut: then nothing else needs to be tried.
    if ((tries[0]?.line.agreeing.length ?? 0) > placesIn(guide) / 2) break;
  }
  const best = greatest(tries, (one) => one.line.agreeing.length);
  if (!best) return { fault: 'other-sound', agreeing: 0 };
  const { told, line, speed } = best;
  const agreeing = line.agreeing.length;
  const enough = Math.max(LEAST, placesIn(guide) * AGREE);
  if (agreeing < enough) return { fault: 'other-sound', agreeing };
  // As many that agree on another line are of another version of the cut.
  if (lineOf(told.filter((t) => !line.agreeing.includes(t))).agreeing.length >= enough) return { fault: 'cut-otherwise', agreeing };
  return {
    offset: line.offset,
    drift: (speed === 1 ? line.slope : (1 + line.slope) / speed - 1) * 1e6,
    speed,
    places: placesIn(guide),
    agreeing,
    stray: line.stray,
  };
}

const isHeard = (points: Float32Array): boolean => points.some((p) => p > 1e-4);
/** Points of what is compared at a place. */
const windowIn = (guide: Float32Array): number =>
  Math.min(guide.length, Math.round(Math.min(LONGEST, Math.max(SHORTEST, guide.length / ENVELOPE_EACH / 6)) * ENVELOPE_EACH));
const placesIn = (guide: Float32Array): number => Math.max(1, Math.min(PLACES, Math.floor(guide.length / windowIn(guide))));

/** Places along the guide at which the mix sounds alike, with how much later it is there, in seconds. */
function placesOf(guide: Float32Array, mix: Float32Array): Told[] {
  const [few, fewMix] = [coarser(guide, FIRST), coarser(mix, FIRST)];
  const count = placesIn(guide);
  const window = windowIn(guide);
  const room = guide.length - window;
  const told: Told[] = [];
  for (let i = 0; i < count; i++) {
    const from = count === 1 ? 0 : Math.round((room * i) / (count - 1));
    const rough = bestLag(few, Math.floor(from / FIRST), Math.floor(window / FIRST), fewMix, 0, (REACH * ENVELOPE_EACH) / FIRST);
    if (!rough || rough.alike < ALIKE) continue;
    const fine = bestLag(guide, from, window, mix, rough.lag * FIRST, FIRST * 2);
    if (fine) told.push({ at: from / ENVELOPE_EACH, lag: fine.lag / ENVELOPE_EACH, alike: fine.alike });
  }
  return told;
}

/** The lag around `about` at which a window of the guide is most like the mix, between points where that is told; null where it lies nowhere inside. */
function bestLag(
  guide: Float32Array,
  from: number,
  length: number,
  mix: Float32Array,
  about: number,
  reach: number,
): { lag: number; alike: number } | null {
  const low = Math.max(-from, Math.round(about - reach));
  const high = Math.min(mix.length - length - from, Math.round(about + reach));
  if (high < low || length < 2) return null;
  const window = levelled(guide.subarray(from, from + length));
  if (!window) return null;
  const found = new Float64Array(high - low + 1);
  let [sum, squares] = [0, 0];
  for (let i = 0; i < length; i++) {
    const v = mix[from + low + i] as number;
    sum += v;
    squares += v * v;
  }
  let best = 0;
  for (let k = 0; k < found.length; k++) {
    const start = from + low + k;
    const spread = squares - (sum * sum) / length;
    let product = 0;
    if (spread > 1e-6) for (let i = 0; i < length; i++) product += (window[i] as number) * (mix[start + i] as number);
    found[k] = spread > 1e-6 ? product / Math.sqrt(spread) : 0;
    if ((found[k] as number) > (found[best] as number)) best = k;
    const [out, into] = [mix[start] as number, mix[start + length] ?? 0];
    sum += into - out;
    squares += into * into - out * out;
  }
  const [before, at, after] = [found[best - 1], found[best] as number, found[best + 1]];
  // The top of the parabola through the highest and its neighbours.
  const bend = before === undefined || after === undefined ? 0 : before - 2 * at + after;
  const aside = bend < 0 && before !== undefined && after !== undefined ? (before - after) / (2 * bend) : 0;
  return { lag: low + best + aside, alike: at };
}

/** Values about their mean, of length 1 all together; null where they are level. */
function levelled(values: Float32Array): Float32Array | null {
  let sum = 0;
  for (const v of values) sum += v;
  const mean = sum / values.length;
  let squares = 0;
  for (const v of values) squares += (v - mean) ** 2;
  if (squares < 1e-6) return null;
  const by = 1 / Math.sqrt(squares);
  return values.map((v) => (v - mean) * by);
}

/** The line that most places agree on: through each two of them in turn, then by least squares through those that agree. */
function lineOf(told: readonly Told[]) {
  let agreeing: readonly Told[] = told.slice(0, 1);
  const near = (slope: number, offset: number) => told.filter((t) => Math.abs(t.lag - offset - slope * t.at) <= STRAY);
  for (const [i, a] of told.entries())
    for (const b of told.slice(i + 1)) {
      const slope = (b.lag - a.lag) / (b.at - a.at);
      // Beyond that it would be another speed.
      if (Math.abs(slope) > 0.0006) continue;
      const all = near(slope, a.lag - slope * a.at);
      if (all.length > agreeing.length) agreeing = all;
    }
  const n = agreeing.length;
  const mean = (of: (t: Told) => number) => agreeing.reduce((sum, t) => sum + of(t), 0) / Math.max(1, n);
  const [at, lag] = [mean((t) => t.at), mean((t) => t.lag)];
  const spread = mean((t) => (t.at - at) ** 2);
  const slope = spread > 0 ? mean((t) => (t.at - at) * (t.lag - lag)) / spread : 0;
  const offset = lag - slope * at;
  return {
    agreeing,
    slope,
    // A mix that is later by so much begins so much before: its own start is where the guide has minus the lag.
    offset: -offset,
    stray: Math.max(0, ...agreeing.map((t) => Math.abs(t.lag - offset - slope * t.at))),
  };
}
