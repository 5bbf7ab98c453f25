import type { CarryMode, StandingEvent } from '../../edit';
import type { Original } from '../../originals';
import { convertByFrameCount, convertByRealTime, type FrameRange, type Frames, framesPerDay, type Rate, relabel } from '../../time';
import { CONFLICT, EXACT, type Grade, UNKNOWN } from './grade';

/**
 * Where the source in of an event lies in an original, by timecode. `asked` is that label, in frames of the original's
 * rate; `counts` says where the list's numbers begin: at midnight or at the first frame of the clip. `fromZero` is true
 * where the label is outside but would be inside if the list counted from the clip's first frame.
 */
export type TimecodeEvidence = Grade & {
  readonly criterion: 'timecode';
  readonly asked: Frames;
  readonly rate: Rate;
  readonly start: Frames;
  readonly counts: 'midnight' | 'clip' | 'nothing';
  readonly fromZero: boolean;
  readonly shift: Frames;
};

/** Carries a label to another rate: by what it says, by real time, or frame for frame from midnight. */
export function carried(frames: Frames, from: Rate, to: Rate, mode: CarryMode): Frames {
  if (from.num === to.num && from.den === to.den && from.dropFrame === to.dropFrame) return frames;
  if (mode === 'real-time') return convertByRealTime(frames, from, to);
  return mode === 'frame-count' ? convertByFrameCount(frames, from, to) : relabel(frames, from, to);
}

/**
 * The frame of an original that bears a timecode: below 0 before it, at or past its length behind it, whichever is
 * nearer. Timecode of day begins anew at midnight: an original from 23:59:57:00 on does hold 00:00:00:10.
 */
export function placeIn({ start, rate, frames }: Pick<Original, 'start' | 'rate' | 'frames'>, timecode: Frames): Frames {
  const day = framesPerDay(rate);
  const into = (((timecode - start) % day) + day) % day;
  return into > day / 2 && into >= frames ? into - day : into;
}

type Asked = Pick<StandingEvent, 'source' | 'sourceRate' | 'shift' | 'sourceReading'>;

/** How the list's source timecode is carried to an original: as was settled for the event, else as the rules say. */
export const carryOf = ({ sourceReading }: Pick<StandingEvent, 'sourceReading'>, rules: CarryMode): CarryMode =>
  sourceReading?.carry ?? rules;

/** The label an event asks for, in frames of an original's rate. */
export const labelAt = (event: Asked, rate: Rate, rules: CarryMode): Frames =>
  carried(event.source.in + event.shift, event.sourceRate, rate, carryOf(event, rules));

/**
 * Finds the source in of an event in an original. `span` is what the event shows, counted from its source in; `named`: the
 * original bears its name, so that a list that counts from zero may be told.
 */
export function compareTimecode(event: Asked, original: Original, rules: CarryMode, span: FrameRange, named: boolean): TimecodeEvidence {
  const { rate } = original;
  const plain = carried(event.source.in, event.sourceRate, rate, carryOf(event, rules));
  const asked = event.shift === 0 ? plain : labelAt(event, rate, rules);
  const base = { criterion: 'timecode', asked, rate, shift: asked - plain, fromZero: false } as const;
  if (original.kind === 'still') return { ...base, start: 0, counts: 'nothing', ...UNKNOWN.original };
  if (event.sourceReading?.from === 'clip' || !original.hasTimecode) {
    // A file without timecode counts from its first frame, and so does whoever reads it.
    const grade = gradeOf(asked, span, original);
    const from = { ...base, counts: 'clip', shift: original.start + asked - plain } as const;
    if (original.hasTimecode) return { ...from, start: asked, ...grade };
    return grade === CONFLICT ? { ...from, start: asked, ...UNKNOWN.original } : { ...from, start: asked, ...loosened(grade) };
  }
  const start = placeIn(original, asked);
  const grade = gradeOf(start, span, original);
  if (grade === CONFLICT && named && asked >= 0 && asked < original.frames)
    return { ...base, start: asked, counts: 'clip', fromZero: true, shift: original.start + asked - plain, ...CONFLICT };
  return { ...base, start, counts: 'midnight', ...grade };
}

function gradeOf(start: Frames, span: FrameRange, { frames }: Pick<Original, 'frames'>): Grade {
  const length = span.out - span.in;
  const from = Math.max(0, start + span.in);
  const out = Math.min(frames, start + span.out);
  if (out <= from) return CONFLICT;
  return out - from === length ? EXACT : { grade: 'overlaps', frames: out - from, of: length };
}

/** What counts from a first frame that bears no label agrees, and not to the letter. */
const loosened = (grade: Grade): Grade => (grade === EXACT ? { grade: 'contained' } : grade);

/**
 * True where timecode may say which clip it is, and where. Where the name says nothing for a candidate, one that begins at
 * 00:00:00:00 is not told by its timecode: cameras and systems that know none write that (common practice).
 */
export const isTold = (timecode: Pick<TimecodeEvidence, 'counts'>, { start }: Pick<Original, 'start'>, named: boolean): boolean =>
  named || (timecode.counts !== 'clip' && start !== 0);
