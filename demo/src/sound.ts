import { writeFileSync } from 'node:fs';
import { CUT, CUT_LENGTH, offsets, RATE } from './scenario';

const SAMPLE_RATE = 48_000;
/** Loudness of the wind, of what happens in the pictures, and how fast that dies away, in seconds. */
const [WIND, STROKE, DYING] = [0.07, 0.32, 0.22];
/** Notes of the strokes, in Hz: a fifth and a fourth apart, so that each event is told from its neighbours. */
const NOTES = [110, 165, 147, 220, 196] as const;

/**
 * Writes the guide sound of the cut, as a WAV file (RIFF WAVE, 16 bits, stereo): wind that comes and goes, and a stroke at the head
 * of each event of the lowest layer, so that it is heard whether sound and picture are in step.
 */
export function writeGuideSound(file: string): void {
  const seconds = (CUT_LENGTH * RATE.den) / RATE.num;
  const count = Math.round(seconds * SAMPLE_RATE);
  const samples = new Int16Array(count * 2);
  const starts = offsets();
  const strokes = CUT.filter((e) => e.track === 'V' && e.clip).map((e) => ((starts.get(e) ?? 0) * RATE.den) / RATE.num);
  let [seed, low, next] = [1, 0, 0];
  for (let i = 0; i < count; i++) {
    const t = i / SAMPLE_RATE;
    // A generator of whole numbers (Numerical Recipes' constants), smoothed to a rustle.
    seed = (Math.imul(seed, 1_664_525) + 1_013_904_223) >>> 0;
    low += 0.04 * (seed / 2 ** 31 - 1 - low);
    const wind = WIND * (1.4 + Math.sin(t * 0.7) + 0.6 * Math.sin(t * 0.23)) * low * 4;
    while (next < strokes.length - 1 && (strokes[next + 1] as number) <= t) next++;
    const into = t - (strokes[next] ?? 0);
    const note = NOTES[next % NOTES.length] as number;
    const stroke = into < 0 ? 0 : STROKE * Math.exp(-into / DYING) * Math.sin(2 * Math.PI * note * into);
    const aside = 0.2 * Math.sin(t * 0.31);
    samples[2 * i] = Math.round(32_767 * (wind * (1 + aside) + stroke));
    samples[2 * i + 1] = Math.round(32_767 * (wind * (1 - aside) + stroke));
  }
  writeFileSync(file, Buffer.concat([header(samples.byteLength), Buffer.from(samples.buffer)]));
}

function header(bytes: number): Buffer {
  const made = Buffer.alloc(44);
  made.write('RIFF', 0, 'latin1');
  made.writeUInt32LE(36 + bytes, 4);
  made.write('WAVEfmt ', 8, 'latin1');
  made.writeUInt32LE(16, 16);
  made.writeUInt16LE(1, 20);
  made.writeUInt16LE(2, 22);
  made.writeUInt32LE(SAMPLE_RATE, 24);
  made.writeUInt32LE(SAMPLE_RATE * 4, 28);
  made.writeUInt16LE(4, 32);
  made.writeUInt16LE(16, 34);
  made.write('data', 36, 'latin1');
  made.writeUInt32LE(bytes, 40);
  return made;
}
