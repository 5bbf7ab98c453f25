/** Points a second at which two sounds are held against each other. */
export const ENVELOPE_EACH = 1000;

/** Gathers how loud a sound is, point by point, from samples of some channels in turn as they come. */
export interface EnvelopeMaker {
  /** `at`: the first sample's place, counted in samples of one channel from the start. What is never given is silent. */
  take(samples: Int16Array, at: number): void;
  /** Mean of what each point holds, 0 to 1. */
  made(): Float32Array;
}

/** Makes the envelope of a sound of so many seconds; `sampleRate` a multiple of `ENVELOPE_EACH`. */
export function envelopeMaker(seconds: number, sampleRate: number, channels: number): EnvelopeMaker {
  const each = sampleRate / ENVELOPE_EACH;
  const points = new Float32Array(Math.max(1, Math.ceil(seconds * ENVELOPE_EACH)));
  const share = 1 / (each * channels * 32_768);
  return {
    take(samples, at) {
      for (let i = 0; i < samples.length; i++) {
        const point = Math.floor((at + Math.floor(i / channels)) / each);
        if (point >= 0 && point < points.length) points[point] = (points[point] as number) + Math.abs(samples[i] as number) * share;
      }
    },
    made: () => points,
  };
}

/** An envelope with fewer points, each the mean of `by` of them. */
export function coarser(points: Float32Array, by: number): Float32Array {
  const fewer = new Float32Array(Math.floor(points.length / by));
  for (let i = 0; i < fewer.length; i++) {
    let sum = 0;
    for (let k = 0; k < by; k++) sum += points[i * by + k] as number;
    fewer[i] = sum / by;
  }
  return fewer;
}

/** An envelope as it is when its sound runs so many times as fast; between points it is mixed. */
export function faster(points: Float32Array, times: number): Float32Array {
  if (times === 1) return points;
  const made = new Float32Array(Math.floor(points.length / times));
  for (let i = 0; i < made.length; i++) {
    const at = i * times;
    const low = Math.floor(at);
    const [a, b] = [points[low] as number, points[low + 1] ?? (points[low] as number)];
    made[i] = a + (b - a) * (at - low);
  }
  return made;
}

/** What of a sound is silence, as its loudest is 1: 60 dB below. */
const SILENCE = 1e-3;

/** How a sound rises and falls: logarithms, so that a level set anew says nothing; silence is level. */
export function inDecibels(points: Float32Array): Float32Array {
  let top = 0;
  for (const p of points) top = Math.max(top, p);
  const floor = Math.max(top * SILENCE, 1e-6);
  return points.map((p) => Math.log10(Math.max(p, floor)));
}
