import {
  AS_IT_IS,
  agreement,
  agreementLaid,
  asideAt,
  type Blocks,
  type Bounds,
  type Conform,
  comparable,
  compile,
  FOUND,
  type Frame,
  type FrameFit,
  type Frames,
  finerFit,
  framesAlone,
  GRID,
  isTitle,
  type Luma,
  layReference,
  likelyFits,
  type Mask,
  maskOf,
  newPicture,
  type Original,
  type Part,
  type Probe,
  pictureAt,
  type ReferenceLay,
  type Shot,
  type Standing,
  type Step,
  sourceFrameAt,
  spread,
  stepsOf,
  unexplained,
  withoutPrinted,
} from '@gemello/core';
import { frameOfClip, titleArea, titleText } from '../compose';
import { openReference, type Reference } from './reference';
import { openSources, type Sources } from './sources';
import type { Report, StopSignal } from './task';

/** What proofs are made from. */
export interface ProofBasis {
  /** The cut as it stands, with its pairs. */
  readonly list: Standing;
  readonly originals: readonly Original[];
  readonly reference: Original;
  /** Folder for small pictures, kept between proofs; null keeps them in memory. */
  readonly cache: string | null;
}

/** How the reference lies against the cut, found once for all events. */
export interface ReferenceLaid extends ReferenceLay {
  readonly fit: FrameFit;
  readonly steps: readonly Step[];
  /** The part of the reference taken for picture, as shares of its width and height. */
  readonly box: Bounds;
  /** Where pictures are compared: inside the box, and not where the reference prints something of its own. */
  readonly mask: Mask;
}

/** What events are compared with. */
export interface Against {
  readonly conform: Conform;
  /** The reference's picture at a record frame, brought to the frame of the cut; null where it has none. */
  reference(record: Frames): Luma | null;
  readonly laid: ReferenceLaid;
  readonly sources: Sources;
  close(): void;
}

/** Opens what events are compared with. `laid` spares finding anew how the reference lies. */
export function openProof(
  { list, originals, reference, cache }: ProofBasis,
  report: Report,
  signal: StopSignal,
  laid?: ReferenceLaid,
): Against {
  const conform = compile(list, originals);
  const opened = openReference(reference, cache, report, signal);
  const sources = openSources(conform.frame, cache, report, signal);
  try {
    const found = laid ?? layOf(conform, reference, opened, sources);
    const picture = opened.laid(found.fit);
    return {
      conform,
      laid: found,
      sources,
      reference: (record) => picture(record - found.start + asideAt(found.steps, record)),
      close() {
        opened.close();
        sources.close();
      },
    };
  } catch (error) {
    opened.close();
    sources.close();
    throw error;
  }
}

/** Events that the reference is laid by. */
const PROBED = 40;
/** A reference of the cut's own length, so many frames aside, begins where the cut does. */
const SAME_LENGTH: Frames = 2;
/** How far beyond what its length allows the reference may begin. */
const SLACK: Frames = 12;
const MOST_HEADS = 2400;

/** Finds how the reference lies: by its timecode where that covers the cut, and by its pictures. */
function layOf(conform: Conform, reference: Original, opened: Reference, sources: Sources): ReferenceLaid {
  const { native, frames } = opened;
  const box = conform.referenceFit ?? opened.box();
  const probes = probesOf(conform, sources);
  const shape = ({ raster, pixelAspect }: Frame) => (raster.width * pixelAspect) / raster.height;
  const stated = reference.hasTimecode ? conform.span.in - reference.start : null;
  const byTimecode = stated !== null && stated >= 0 && stated < frames ? stated : null;
  const laying = layReference(
    native,
    box,
    likelyFits(box, shape(conform.frame), shape(frameOfClip(reference))),
    headsOf(byTimecode, frames - (conform.span.out - conform.span.in)),
    probes,
    byTimecode !== null || Math.abs(frames - (conform.span.out - conform.span.in)) <= SAME_LENGTH,
  );
  const fit = probes.length > 0 ? finerFit(native, box, laying, probes) : laying.fit;
  const start = conform.span.in - laying.head;
  const mask = maskOf(box, fit);
  const laid = opened.laid(fit);
  const shown = (record: Frames) => laid(record - start);
  const whole = withoutPrinted(mask, blocksOf(conform, sources, shown, mask));
  return { fit, start, box, mask: whole, steps: paceOf(conform, sources, shown, whole) };
}

/** Where the reference lost or doubled frames: by some events first, and only where those say so by all of them. */
function paceOf(conform: Conform, sources: Sources, reference: (record: Frames) => Luma | null, mask: Mask): Step[] {
  const agreeing = (shots: readonly { shot: Shot; alone: Frames[] }[]) => {
    const inOrder = [...shots].sort((a, b) => (a.alone[0] as Frames) - (b.alone[0] as Frames));
    const at = new Map(inOrder.flatMap(({ shot, alone }) => alone.map((n) => [n, shot] as const)));
    return stepsOf(inOrder, (record, by) => {
      const shot = at.get(record);
      const [r, s] = [reference(record + by), shot ? orNull(() => sources.luma(shot, sourceFrameAt(shot, record), record)) : null];
      return r && s ? agreement(comparable(r, mask), comparable(s, mask)) : null;
    });
  };
  return agreeing(probed(conform)).length === 0 ? [] : agreeing(probed(conform, Number.POSITIVE_INFINITY));
}

/** The places at which a reference may begin, the likeliest first. `longer`: by how much it is longer than the cut. */
function headsOf(byTimecode: Frames | null, longer: Frames): Frames[] {
  const likeliest = byTimecode ?? 0;
  const from = Math.max(-MOST_HEADS, Math.min(0, longer) - SLACK);
  const to = Math.min(MOST_HEADS, Math.max(0, longer) + SLACK);
  const others = Array.from({ length: to - from + 1 }, (_, i) => from + i).filter((n) => n !== likeliest);
  return [likeliest, ...others];
}

/** Shots that can be probed: some of all that stand alone somewhere. */
function probed(conform: Conform, most = PROBED): { shot: Shot; alone: Frames[] }[] {
  const shots = conform.layers.flatMap((l) => l.shots).filter((s) => s.original && s.original.kind !== 'sound');
  return spread(shots, most).flatMap((shot) => {
    const alone = framesAlone(conform, shot);
    return alone.length > 0 ? [{ shot, alone }] : [];
  });
}

function probesOf(conform: Conform, sources: Sources): Probe[] {
  return probed(conform).flatMap(({ shot, alone }): Probe[] => {
    const at = alone[alone.length >> 1] as Frames;
    const luma = orNull(() => sources.luma(shot, sourceFrameAt(shot, at), at));
    return luma ? [{ at: at - conform.span.in, luma }] : [];
  });
}

/** A file that cannot be read says nothing here; its own event says so. */
export function orNull<T>(read: () => T | null): T | null {
  try {
    return read();
  } catch {
    return null;
  }
}

/** What the reference shows over events that are right and that their originals do not explain. */
function blocksOf(conform: Conform, sources: Sources, reference: (record: Frames) => Luma | null, mask: Mask): Blocks[] {
  return probed(conform).flatMap(({ shot, alone }) => {
    const pairs = spread(alone, 8).flatMap((at) => {
      const [r, s] = [reference(at), orNull(() => sources.luma(shot, sourceFrameAt(shot, at), at))];
      return r && s ? [{ reference: r, source: s }] : [];
    });
    if (pairs.length === 0 || agreementLaid(pairs, AS_IT_IS, mask) < FOUND) return [];
    return [
      unexplained(
        pairs.map((p) => p.reference),
        pairs.map((p) => p.source),
        mask,
      ),
    ];
  });
}

/** The mask without where titles lie over a shot. */
export function withoutTitles(conform: Conform, alone: readonly Frames[], mask: Mask): Mask {
  const texts = new Set<string>();
  const picture = newPicture();
  for (const n of alone) {
    const { parts, count } = pictureAt(conform, n, picture);
    for (let i = 0; i < count; i++) if (isTitle(parts[i] as Part)) texts.add(titleText((parts[i] as Part).shot.event));
  }
  if (texts.size === 0) return mask;
  const { width, height } = conform.frame.raster;
  const out = mask.slice();
  for (const text of texts) {
    const { left, top, right, bottom } = titleArea(text, width, height);
    for (let y = Math.floor(top * GRID.height) - 2; y < bottom * GRID.height + 2; y++)
      for (let x = Math.floor(left * GRID.width) - 2; x < right * GRID.width + 2; x++)
        if (y >= 0 && y < GRID.height && x >= 0 && x < GRID.width) out[y * GRID.width + x] = 0;
  }
  return out;
}
