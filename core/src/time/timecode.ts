import { canDropFrames, type Frames, nominal, type Rate } from './rate';

/** A frame label at a rate. `frames` counts from 00:00:00:00 and may run past 24 hours. */
export interface Timecode {
  readonly frames: Frames;
  readonly rate: Rate;
}

/** Labels skipped at the start of a minute: 2 at 29.97, 4 at 59.94, 8 at 119.88 (SMPTE ST 12-1). */
function droppedPerMinute(rate: Rate): number {
  return rate.dropFrame && canDropFrames(rate) ? nominal(rate) / 15 : 0;
}

/** Frames in one day of timecode: 2 073 600 at 24, 2 589 408 at 29.97 drop-frame (SMPTE ST 12-1). */
export function framesPerDay(rate: Rate): Frames {
  return 24 * (3600 * nominal(rate) - 54 * droppedPerMinute(rate));
}

/** The four numbers of a label. `frames` may be as large as `nominal(rate) - 1`. */
export interface TimecodeDigits {
  readonly hours: number;
  readonly minutes: number;
  readonly seconds: number;
  readonly frames: number;
}

/**
 * Counts the frames before a label. A label that drop-frame counting skips (`00:01:00;00`) counts
 * as the next one that exists. Digits past their range carry over, so `00:00:00:30` at 25 is one
 * second and five frames.
 */
export function framesOfDigits(digits: TimecodeDigits, rate: Rate): Frames {
  const { hours, minutes, seconds, frames } = digits;
  const drop = droppedPerMinute(rate);
  const totalMinutes = hours * 60 + minutes;
  const skipped = drop > 0 && totalMinutes % 10 !== 0 && seconds === 0 && frames < drop;
  const label = (totalMinutes * 60 + seconds) * nominal(rate) + (skipped ? drop : frames);
  return label - drop * (totalMinutes - Math.floor(totalMinutes / 10));
}

/** The label of a frame count at or above 0. Hours run on past 24. */
export function digitsOfFrames(count: Frames, rate: Rate): TimecodeDigits {
  const drop = droppedPerMinute(rate);
  const base = nominal(rate);
  let label = count;
  if (drop > 0) {
    const tenMinutes = base * 600 - drop * 9;
    const minute = base * 60 - drop;
    const tens = Math.floor(count / tenMinutes);
    const rest = count % tenMinutes;
    const dropped = rest < base * 60 ? 0 : Math.floor((rest - base * 60) / minute) + 1;
    label = count + drop * (9 * tens + dropped);
  }
  const totalSeconds = Math.floor(label / base);
  return {
    hours: Math.floor(totalSeconds / 3600),
    minutes: Math.floor(totalSeconds / 60) % 60,
    seconds: totalSeconds % 60,
    frames: label % base,
  };
}

/** What a timecode text said. `impossible` names digits that cannot be at this rate, else null. */
export interface TimecodeReading {
  readonly frames: Frames;
  readonly impossible: 'frame-digits' | 'dropped-label' | 'sixty' | null;
}

const TIMECODE = /^\s*(-)?(\d{1,3})[:;.,](\d{1,2})[:;.,](\d{1,2})[:;.,](\d{1,3})\s*$/;

/**
 * Reads a timecode leniently: `:` `;` `.` `,` separate, hours may pass 24, frame digits may have
 * three places. Returns null when it is no timecode. Labels that cannot exist at the rate are read
 * all the same (see `framesOfDigits`) and named in `impossible`.
 */
export function readTimecode(text: string, rate: Rate): TimecodeReading | null {
  return readPlain(text, rate) ?? readAny(text, rate);
}

/** The two digits at a place of a text; NaN where there are none. */
function digitsAt(text: string, at: number): number {
  const [a, b] = [text.charCodeAt(at) - 48, text.charCodeAt(at + 1) - 48];
  return a >= 0 && a <= 9 && b >= 0 && b <= 9 ? a * 10 + b : Number.NaN;
}

/** `HH:MM:SS:FF`, as nearly all are written; null for any other text. */
function readPlain(text: string, rate: Rate): TimecodeReading | null {
  if (text.length !== 11 || text.charCodeAt(2) !== COLON || text.charCodeAt(5) !== COLON) return null;
  const separator = text.charCodeAt(8);
  if (separator !== COLON && separator !== SEMICOLON) return null;
  const [hours, minutes, seconds, frames] = [digitsAt(text, 0), digitsAt(text, 3), digitsAt(text, 6), digitsAt(text, 9)];
  if (!(hours + minutes + seconds + frames >= 0)) return null;
  return {
    frames: framesOfDigits({ hours, minutes, seconds, frames }, rate),
    impossible: whatIsImpossible(minutes, seconds, frames, rate),
  };
}
const [COLON, SEMICOLON] = [58, 59];

function readAny(text: string, rate: Rate): TimecodeReading | null {
  const match = TIMECODE.exec(text);
  if (!match) return null;
  const hours = Number(match[2]);
  const minutes = Number(match[3]);
  const seconds = Number(match[4]);
  const frames = Number(match[5]);
  const count = framesOfDigits({ hours, minutes, seconds, frames }, rate);
  return { frames: match[1] ? -count : count, impossible: whatIsImpossible(minutes, seconds, frames, rate) };
}

function whatIsImpossible(minutes: number, seconds: number, frames: number, rate: Rate): TimecodeReading['impossible'] {
  if (minutes > 59 || seconds > 59) return 'sixty';
  if (frames >= nominal(rate)) return 'frame-digits';
  if (minutes % 10 !== 0 && seconds === 0 && frames < droppedPerMinute(rate)) return 'dropped-label';
  return null;
}

/** True for a text that `readTimecode` can read, at whatever rate. */
export const isTimecode = (text: string): boolean => TIMECODE.test(text);

/** True for a label whose frames stand behind a semicolon: drop-frame (SMPTE ST 12-1). */
export const isDropLabel = (text: string): boolean => text.lastIndexOf(';') > text.lastIndexOf(':');

/** `readTimecode` for callers that only want the count; null when it is no timecode. */
export function parseTimecode(text: string, rate: Rate): Frames | null {
  return readTimecode(text, rate)?.frames ?? null;
}

const twoPlaces = (n: number) => String(n).padStart(2, '0');

/**
 * Prints the canonical label: `HH:MM:SS:FF`, a `;` before the frames of a drop-frame count, three
 * frame digits from 120 up. A count below zero gets a leading minus.
 */
export function formatTimecode(count: Frames, rate: Rate): string {
  const d = digitsOfFrames(Math.abs(count), rate);
  const frameDigits = String(d.frames).padStart(nominal(rate) > 100 ? 3 : 2, '0');
  const sign = count < 0 ? '-' : '';
  return `${sign}${twoPlaces(d.hours)}:${twoPlaces(d.minutes)}:${twoPlaces(d.seconds)}${rate.dropFrame ? ';' : ':'}${frameDigits}`;
}

/** A shift as people write it: `+01:00:00:00`, `-00:00:02:12`. */
export const formatShift = (frames: Frames, rate: Rate): string => `${frames < 0 ? '' : '+'}${formatTimecode(frames, rate)}`;

/** A count in timecode of day: 24:00:00:00 is 00:00:00:00 again. Counts below zero stay. */
export const inDay = (count: Frames, rate: Rate): Frames => (count < 0 ? count : count % framesPerDay(rate));

/** The label of a frame whose timecode is that of day, as cameras write it and lists name their sources: it begins anew at midnight. */
export const formatTimeOfDay = (count: Frames, rate: Rate): string => formatTimecode(inDay(count, rate), rate);

/** The same label read at another rate: `10:00:05:20` at 24 is taken for `10:00:05:20` at 25. */
export function relabel(count: Frames, from: Rate, to: Rate): Frames {
  return framesOfDigits(digitsOfFrames(count, from), to);
}
