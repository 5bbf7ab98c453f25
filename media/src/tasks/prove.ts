import {
  type Area,
  align,
  type Conform,
  compile,
  correlate,
  detailOf,
  type EventProof,
  type Finding,
  type Frame,
  type Frames,
  findPictureArea,
  findReframe,
  formatTimeOfDay,
  framesAlone,
  GRID,
  isTitle,
  judge,
  judgeStill,
  LINES,
  newPicture,
  type Original,
  onGrid,
  type Part,
  pictureAt,
  poseAt,
  prepare,
  REACH,
  type Sample,
  type Shot,
  type Standing,
  searchFor,
  sourceFrameAt,
  wholePart,
} from '@gemello/core';
import { frameOfClip, readPartLuma, titleArea, titleText } from '../compose';
import { LumaStrip } from '../strip';
import { type Report, type StopSignal, stopIfAsked } from './task';

export interface ProvePayload {
  /** The cut as it stands, with its pairs. */
  readonly list: Standing;
  readonly originals: readonly Original[];
  readonly reference: Original;
  /** Folder for the reference's small pictures, kept between proofs; null keeps them in memory. */
  readonly cache: string | null;
  /** Only these events are proved; null for all. */
  readonly only: readonly string[] | null;
}

export interface ProveResult {
  readonly events: EventProof[];
  readonly framesCompared: number;
  readonly seconds: number;
  /** The part of the reference taken for picture, as shares of its width and height. */
  readonly area: { left: number; top: number; right: number; bottom: number };
  /** Record frame at which the reference begins. */
  readonly referenceStart: Frames;
}

/** At most this many frames of an event take part in finding a slip; the trace has them all. */
const MOST_SAMPLES = 48;

/**
 * Compares each event with the reference, frame by frame, through the one time map. Where the
 * picture is another, every original is searched for the right one. Originals and reference are
 * only read.
 */
export function prove(payload: ProvePayload, report: Report, signal: StopSignal): ProveResult {
  const began = performance.now();
  const conform = compile(payload.list, payload.originals);
  const referenceStart = referenceStartOf(payload.reference, conform);
  const strip = LumaStrip.of(payload.reference, payload.cache, report, signal);
  const area = conform.referenceFit ? onGrid(conform.referenceFit) : findPictureArea(spread(strip.frames, 60).map((n) => strip.frame(n)));
  const frame = frameToCompare(conform, payload.reference);
  const all = conform.layers.flatMap((l) => l.shots.map((shot) => ({ shot, track: l.name })));
  const chosen = all.filter(({ shot }) => !payload.only || payload.only.includes(shot.event.key));
  const work: EventWork[] = [];
  chosen.forEach(({ shot, track }, index) => {
    stopIfAsked(signal);
    report({ done: index, total: chosen.length, what: `Event ${shot.event.number}` });
    work.push(proveShot(conform, shot, track, { strip, referenceStart, area, frame }));
  });
  const strangers = work.filter((w) => w.proof.findings.some((f) => f.kind === 'wrong-picture'));
  if (strangers.length > 0) findElsewhere(strangers, payload.originals, area, frame, report, signal);
  strip.close();
  const events = work.map((w) => w.proof);
  report({ done: chosen.length, total: chosen.length, what: '' });
  return {
    events,
    framesCompared: events.reduce((sum, e) => sum + e.framesCompared, 0),
    seconds: (performance.now() - began) / 1000,
    area: { left: area.left / GRID.width, top: area.top / GRID.height, right: area.right / GRID.width, bottom: area.bottom / GRID.height },
    referenceStart,
  };
}

/** A reference whose timecode covers the cut's start is laid by timecode; any other by its first frame. */
export function referenceStartOf(reference: Original, conform: Conform): Frames {
  const covers = reference.hasTimecode && reference.start <= conform.span.in && conform.span.in < reference.start + reference.frames;
  return covers ? reference.start : conform.span.in;
}

interface EventWork {
  readonly shot: Shot;
  readonly samples: readonly Sample[];
  proof: EventProof;
}

function spread(total: number, most: number): number[] {
  const count = Math.min(total, most);
  return Array.from({ length: count }, (_, i) => Math.floor(((i + 0.5) * total) / count));
}

/** What events are compared with. */
interface Against {
  readonly strip: LumaStrip;
  readonly referenceStart: Frames;
  readonly area: Area;
  /** The frame that the grid shows. */
  readonly frame: Frame;
}

/** The shape of two frames counts as the same when they differ by less than this share. */
const SAME_SHAPE = 0.01;

/** Pictures are laid into the cut's own frame where the reference has its shape, else into that of the reference. */
function frameToCompare({ frame }: Conform, reference: Original): Frame {
  const theirs = frameOfClip(reference);
  const shape = ({ raster, pixelAspect }: Frame) => (raster.width * pixelAspect) / raster.height;
  return Math.abs(shape(frame) / shape(theirs) - 1) < SAME_SHAPE ? frame : theirs;
}

/** The area without where titles lie over a shot. */
function withoutTitles(conform: Conform, alone: readonly Frames[], area: Area): Area {
  const texts = new Set<string>();
  const picture = newPicture();
  for (const n of alone) {
    const { parts, count } = pictureAt(conform, n, picture);
    for (let i = 0; i < count; i++) if (isTitle(parts[i] as Part)) texts.add(titleText((parts[i] as Part).shot.event));
  }
  const { width, height } = conform.frame.raster;
  return texts.size === 0 ? area : { ...area, holes: [...texts].map((t) => onGrid(titleArea(t, width, height), 2)) };
}

function proveShot(conform: Conform, shot: Shot, track: string, against: Against): EventWork {
  const { event, original } = shot;
  const { strip, referenceStart, frame } = against;
  const empty: EventProof = {
    event: event.key,
    number: event.number,
    track,
    verdict: 'unchecked',
    score: null,
    bestOffset: null,
    bestScore: null,
    trace: [],
    framesCompared: 0,
    findings: [],
  };
  const alone = framesAlone(conform, shot).filter((n) => n - referenceStart >= 0 && n - referenceStart < strip.frames);
  const why = reasonNotToCheck(shot, alone.length);
  if (why) return { shot, samples: [], proof: { ...empty, findings: why } };

  const area = withoutTitles(conform, alone, against.area);
  const references = new Map(alone.map((n) => [n, prepare(strip.frame(n - referenceStart), area)]));
  const source = loadSource(original as Original, shot, alone, area, frame);
  const sampled = spread(alone.length, MOST_SAMPLES).map((i) => alone[i] as Frames);
  const samples = sampled.map((n): Sample => ({ reference: references.get(n) as Float32Array, sourceFrame: sourceFrameAt(shot, n) }));
  const still = (original as Original).kind === 'still' || event.retime.kind === 'freeze';
  const alignment = align(samples, (n) => source.prepared(n));
  if (!alignment) return { shot, samples, proof: { ...empty, verdict: 'differs', findings: [{ kind: 'picture-missing' }] } };

  const trace: (number | null)[] = [];
  for (let n = event.record.in; n < event.record.out; n++) {
    const reference = references.get(n);
    const picture = reference ? source.prepared(sourceFrameAt(shot, n)) : null;
    trace.push(reference && picture ? round(correlate(reference, picture)) : null);
  }
  const detail = sharperDetail(
    sampled,
    (n) => strip.frame(n - referenceStart),
    (n) => source.luma(sourceFrameAt(shot, n)),
    area,
  );
  let { verdict, findings } = (original as Original).kind === 'still' ? judgeStill(alignment.atZero, detail) : judge(alignment, detail);
  if (still && findings.some((f) => f.kind === 'cannot-tell') && alignment.atZero >= LINES.same)
    ({ verdict, findings } = { verdict: 'same', findings: [] });
  if (verdict !== 'same' && !findings.some((f) => f.kind === 'slipped')) {
    const reframed = reframing(shot, sampled, strip, referenceStart, source, area);
    if (reframed) {
      verdict = 'differs';
      findings = [reframed];
    }
  }
  // Where it lies elsewhere, what is missing here says nothing.
  const absent = alone.filter((n) => source.luma(sourceFrameAt(shot, n)) === null).length;
  if (absent > 0 && !findings.some((f) => f.kind === 'slipped' || f.kind === 'wrong-picture')) {
    verdict = 'differs';
    findings = [{ kind: 'picture-missing', frames: absent }, ...findings];
  }
  return {
    shot,
    samples,
    proof: {
      ...empty,
      verdict,
      findings,
      trace,
      score: round(alignment.atZero),
      bestOffset: alignment.best.offset,
      bestScore: round(alignment.best.score),
      framesCompared: trace.filter((t) => t !== null).length,
    },
  };
}

const round = (n: number) => Math.round(n * 10000) / 10000;

/** The detail of reference or source, whichever has more, in the middle of what was sampled of each. */
function sharperDetail(
  sampled: readonly Frames[],
  reference: (n: Frames) => Uint8Array,
  source: (n: Frames) => Uint8Array | null,
  area: Area,
): number {
  const middle = (pictures: (Uint8Array | null)[]) => {
    const details = pictures.flatMap((p) => (p ? [detailOf(p, area)] : [])).sort((a, b) => a - b);
    return details[details.length >> 1] ?? 0;
  };
  return Math.max(middle(sampled.map(reference)), middle(sampled.map(source)));
}

function reasonNotToCheck(shot: Shot, framesToCompare: number): Finding[] | null {
  if (shot.exempt && !shot.original) return [];
  if (!shot.original) return [{ kind: 'cannot-tell', why: 'No original is paired with this event.' }];
  if (framesToCompare === 0)
    return [
      { kind: 'cannot-tell', why: 'It never stands alone in the picture within the reference: a transition or another layer covers it.' },
    ];
  return null;
}

interface LoadedSource {
  prepared(frame: Frames): Float32Array | null;
  luma(frame: Frames): Uint8Array | null;
}

/** A shot as it is laid at its first frame; one that moves on the way is compared as it begins. */
const partOf = (shot: Shot): Part => ({
  shot,
  layer: 0,
  sourceFrame: shot.sourceStart,
  pose: poseAt(shot.event.placement, 0),
  side: 'alone',
  join: null,
  share: 1,
});

/** Decodes once what the event may need, REACH to each side, small. */
function loadSource(original: Original, shot: Shot, alone: readonly Frames[], area: Area, frame: Frame): LoadedSource {
  const needed = alone.map((n) => sourceFrameAt(shot, n));
  const lowest = original.kind === 'still' ? 0 : Math.min(...needed) - REACH;
  const highest = original.kind === 'still' ? 0 : Math.max(...needed) + REACH;
  const raw = new Map<Frames, Uint8Array>();
  readPartLuma(partOf(shot), frame, GRID, Math.max(0, lowest), highest + 1, (luma, number) => {
    raw.set(number, luma.slice());
    return undefined;
  });
  const made = new Map<Frames, Float32Array>();
  return {
    luma: (n) => raw.get(n) ?? null,
    prepared(n) {
      const known = made.get(n);
      if (known) return known;
      const luma = raw.get(n);
      if (!luma) return null;
      const prepared = prepare(luma, area);
      made.set(n, prepared);
      return prepared;
    },
  };
}

/** Tries whether an enlargement explains the difference: found on the middle frame, confirmed on two others. */
function reframing(
  shot: Shot,
  sampled: readonly Frames[],
  strip: LumaStrip,
  referenceStart: Frames,
  source: LoadedSource,
  area: Area,
): Finding | null {
  const scores: number[] = [];
  let first: ReturnType<typeof findReframe> | null = null;
  for (const share of [0.5, 0.15, 0.85]) {
    const n = sampled[Math.floor(sampled.length * share)];
    const luma = n === undefined ? null : source.luma(sourceFrameAt(shot, n));
    if (n === undefined || !luma) return null;
    const found = findReframe(strip.frame(n - referenceStart), luma, area);
    first ??= found;
    if (Math.abs(found.scale - first.scale) > 0.06) return null;
    scores.push(found.score);
  }
  if (!first || first.scale < 1.02 || scores.some((s) => s < LINES.same)) return null;
  return { kind: 'reframed', scale: round(first.scale), x: round(first.x), y: round(first.y), rotation: 0 };
}

/** One pass through all originals for all events whose picture was not where the list said. */
function findElsewhere(
  strangers: EventWork[],
  originals: readonly Original[],
  area: Area,
  frame: Frame,
  report: Report,
  signal: StopSignal,
): void {
  const searches = strangers.map((w) => ({
    work: w,
    search: searchFor(w.samples),
    best: null as { original: Original; sourceFrame: Frames; score: number } | null,
  }));
  originals.forEach((original, index) => {
    stopIfAsked(signal);
    report({ done: index, total: originals.length, what: `Looking for the right picture in ${original.fileName}` });
    readPartLuma(wholePart(original, 0), frame, GRID, 0, original.frames, (luma, number) => {
      const prepared = prepare(luma, area);
      for (const s of searches) s.search.offer(prepared, number);
      return signal.aborted ? false : undefined;
    });
    for (const s of searches) {
      const found = s.search.finish();
      if (found && found.score > (s.best?.score ?? LINES.same)) s.best = { original, ...found };
    }
  });
  for (const { work, best } of searches) {
    if (!best) continue;
    const moved = best.sourceFrame - (work.samples[0]?.sourceFrame ?? 0);
    const start = work.shot.sourceStart + moved;
    const { original } = best;
    const sourceIn = original.hasTimecode ? formatTimeOfDay(original.start + start, original.rate) : null;
    work.proof = {
      ...work.proof,
      verdict: 'differs',
      findings: [{ kind: 'wrong-picture', path: original.path, sourceStartFrame: start, sourceIn }],
    };
  }
}
