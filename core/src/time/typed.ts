import { type Frames, nominal, type Rate } from './rate';
import { framesOfDigits, readTimecode } from './timecode';

/** Digits alone, in pairs from the right: frames, seconds, minutes, hours. */
const DIGITS = /^\d{1,9}$/;
const PARTS = /^(\d{1,3})?(?:[:;.,\s](\d{1,3}))?(?:[:;.,\s](\d{1,3}))?(?:[:;.,\s](\d{1,3}))?$/;

/**
 * A timecode as a person types it, at the rate of a cut; null where it is none. `from` is where they are. Worked examples at 24
 * frames a second: `01:00:10:05` that label; `1005` ten seconds and five frames; `10.5` the same; a `+` or `-` in front goes so far
 * from where they are; a number of frames of one or two digits after `+` or `-` is that many, so that `+48` is two seconds. Labels
 * that leave out the hours take those of `from` (common practice).
 */
export function typedTimecode(text: string, rate: Rate, from: Frames): Frames | null {
  const said = text.trim();
  const sign = said.startsWith('+') ? 1 : said.startsWith('-') ? -1 : 0;
  const label = sign === 0 ? said : said.slice(1).trim();
  const length = lengthOf(label, rate);
  if (length === null) return null;
  if (sign !== 0) return from + sign * length.frames;
  if (length.whole) return readTimecode(label, rate)?.frames ?? length.frames;
  // What was not said is as it is here.
  const hour = framesOfDigits({ hours: 1, minutes: 0, seconds: 0, frames: 0 }, rate);
  return Math.floor(from / hour) * hour + length.frames;
}

/** Frames of a label, and whether it names hours. */
function lengthOf(label: string, rate: Rate): { readonly frames: Frames; readonly whole: boolean } | null {
  const pairs = DIGITS.test(label)
    ? pairsOf(label)
    : PARTS.exec(label)
        ?.slice(1)
        .filter((p) => p !== undefined);
  if (!pairs || pairs.length === 0 || label === '') return null;
  const [frames = 0, seconds = 0, minutes = 0, hours = 0] = pairs.map(Number).reverse();
  // Digits past their place are carried over: 70 seconds are a minute and ten.
  const all = seconds + 60 * (minutes + 60 * hours) + Math.floor(frames / nominal(rate));
  const digits = { hours: Math.floor(all / 3600), minutes: Math.floor(all / 60) % 60, seconds: all % 60, frames: frames % nominal(rate) };
  return { frames: framesOfDigits(digits, rate), whole: pairs.length > 3 };
}

function pairsOf(digits: string): string[] {
  const pairs: string[] = [];
  for (let end = digits.length; end > 0 && pairs.length < 3; end -= 2) pairs.unshift(digits.slice(Math.max(0, end - 2), end));
  const rest = digits.slice(0, Math.max(0, digits.length - 6));
  return rest === '' ? pairs : [rest, ...pairs];
}
