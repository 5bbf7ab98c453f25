import { nominal, type Rate } from '../time';

/** In which order the four bytes of a packed timecode stand. */
export type PackedOrder = 'hours-first' | 'frames-first';

/** What each byte holds besides its two decimal digits: flag bits (SMPTE ST 12-1, binary groups left out). */
const DIGITS = { hours: 0x3f, minutes: 0x7f, seconds: 0x7f, frames: 0x3f } as const;
const DROP_FLAG = 0x40;

/**
 * The label of a timecode packed as eight hexadecimal digits, two decimal digits a byte: hours first
 * as in the headers of numbered frames (SMPTE ST 268-1), or frames first, the order in which a
 * timecode signal sends them (SMPTE ST 12-1). Flag bits are passed over, but for drop-frame, which
 * gives a `;`; `none` takes only what has no other flag set. Null when the digits are no time of day,
 * or the frames do not exist at the rate.
 */
export function labelOfPacked(hex: string, order: PackedOrder, rate: Rate | null, flags: 'any' | 'none' = 'any'): string | null {
  if (!/^[0-9a-f]{8}$/i.test(hex)) return null;
  const bytes = (hex.match(/../g) as string[]).map((b) => Number.parseInt(b, 16));
  const [h = 0, m = 0, s = 0, f = 0] = order === 'hours-first' ? bytes : bytes.reverse();
  if (flags === 'none' && ((h & ~DIGITS.hours) | (m & ~DIGITS.minutes) | (s & ~DIGITS.seconds) | (f & 0x80)) !== 0) return null;
  const decimal = (byte: number, mask: number): number | null => {
    const [tens, units] = [(byte & mask) >> 4, byte & 15];
    return units > 9 ? null : tens * 10 + units;
  };
  const [hours, minutes, seconds, frames] = [
    decimal(h, DIGITS.hours),
    decimal(m, DIGITS.minutes),
    decimal(s, DIGITS.seconds),
    decimal(f, DIGITS.frames),
  ];
  if (hours === null || minutes === null || seconds === null || frames === null) return null;
  if (hours > 23 || minutes > 59 || seconds > 59 || frames >= (rate ? nominal(rate) : 60)) return null;
  const two = (n: number) => String(n).padStart(2, '0');
  return `${two(hours)}:${two(minutes)}:${two(seconds)}${(f & DROP_FLAG) !== 0 ? ';' : ':'}${two(frames)}`;
}

/** A packed timecode as a metadata file gives it. */
export interface PackedNote {
  readonly hex: string;
  /** Which frame of the clip it is for, from 0; null when it does not say. */
  readonly frame: number | null;
}

/**
 * The label of the first packed timecode of a metadata file. Which order it stands in is told by
 * itself where only one gives a time of day; else by a later one, which must be as many frames on as
 * it says; else `usual` is taken. Null when there is no reading.
 */
export function startOfPacked(notes: readonly PackedNote[], rate: Rate | null, usual: PackedOrder): string | null {
  const first = notes.find((n) => (n.frame ?? 0) === 0);
  if (!first) return null;
  const read = (flags: 'any' | 'none') =>
    (['hours-first', 'frames-first'] as const).flatMap((order) => {
      const label = labelOfPacked(first.hex, order, rate, flags);
      return label === null ? [] : [{ order, label }];
    });
  // Flags are rare: the reading that needs none is the likelier.
  const plain = read('none');
  const labels = plain.length > 0 ? plain : read('any');
  if (labels.length < 2) return labels[0]?.label ?? null;
  const later = notes.find((n) => n !== first && n.frame !== null && n.frame > 0);
  if (later && rate) {
    const agrees = labels.filter(({ order, label }) => {
      const end = labelOfPacked(later.hex, order, rate);
      return end !== null && Math.abs(secondsBetween(label, end) - (later.frame ?? 0) / nominal(rate)) < 1;
    });
    if (agrees.length === 1) return agrees[0]?.label ?? null;
  }
  return labels.find((l) => l.order === usual)?.label ?? null;
}

/** Time of day from one label to another by their digits, to the second, through midnight. */
function secondsBetween(from: string, to: string): number {
  const seconds = (label: string) => label.split(/[:;]/).reduce((sum, part, i) => sum + Number(part) * ([3600, 60, 1, 0][i] as number), 0);
  return (seconds(to) - seconds(from) + 86_400) % 86_400;
}
