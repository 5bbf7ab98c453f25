import { describe, expect, it } from 'vitest';
import { ENVELOPE_EACH, envelopeMaker, judgeMix, layMix, type MixLay, SPEEDS } from '.';

/** Speech-like sound as an envelope: words of 80 to 400 ms with pauses between, by a generator of their own (Park and Miller, minimal standard). */
function chance(seed: number): () => number {
  let state = seed;
  return () => {
    state = (state * 48_271) % 2_147_483_647;
    return state / 2_147_483_647;
  };
}
function speech(seconds: number, seed: number): Float32Array {
  const next = chance(seed);
  const points = new Float32Array(seconds * ENVELOPE_EACH);
  for (let at = 0; at < points.length; ) {
    const [word, pause, loud] = [80 + next() * 320, next() < 0.15 ? 300 + next() * 1500 : 20 + next() * 120, 0.05 + next() * 0.4];
    for (let i = 0; i < word && at + i < points.length; i++)
      points[Math.floor(at + i)] = loud * Math.sin((Math.PI * (i + 0.5)) / word) * (0.7 + 0.6 * next());
    at += word + pause;
  }
  return points;
}
/** Music as an envelope: beats that die away. */
function music(seconds: number, seed: number, level: number): Float32Array {
  const next = chance(seed);
  const beat = 420 + Math.floor(next() * 200);
  return new Float32Array(seconds * ENVELOPE_EACH).map((_, i) => level * (0.5 + 0.5 * Math.exp(-(i % beat) / 120)) * (0.8 + 0.4 * next()));
}
/** A mix: what it has of the guide from `lead` seconds on, at another level, with music, run at a speed. */
function mixOf(guide: Float32Array, { lead = 0, speed = 1, level = 0.5, under = 0, length = guide.length }): Float32Array {
  const bed = music(Math.ceil(length / ENVELOPE_EACH) + 10, 99, under);
  return new Float32Array(Math.floor(length / speed + lead * ENVELOPE_EACH)).map((_, i) => {
    const at = (i - lead * ENVELOPE_EACH) * speed;
    const low = Math.floor(at);
    const said = at < 0 || low + 1 >= guide.length ? 0 : (guide[low] as number) * (1 - at + low) + (guide[low + 1] as number) * (at - low);
    return level * said + (bed[i] ?? 0);
  });
}
const laid = (found: ReturnType<typeof layMix>): MixLay => {
  if ('fault' in found) throw new Error(found.fault);
  return found;
};
const guide = speech(120, 7);

describe('a mix against the guide sound', () => {
  it('lies where it was laid, to the millisecond, at another level and under music', () => {
    for (const [lead, under] of [
      [0, 0],
      [2, 0.02],
      [10.123, 0.05],
      [58.5, 0.1],
    ] as const) {
      const found = laid(layMix(guide, mixOf(guide, { lead, under })));
      expect(Math.abs(found.offset + lead)).toBeLessThan(0.002);
      expect(Math.abs(found.drift)).toBeLessThan(20);
      expect(found.speed).toBe(1);
      console.log(
        `lead ${lead} s, music ${under}: ${found.agreeing} of ${found.places} places, strays ${(found.stray * 1000).toFixed(2)} ms`,
      );
    }
  });
  it('that begins after the guide does is laid later', () => {
    const late = laid(layMix(guide, guide.slice(3.25 * ENVELOPE_EACH)));
    expect(Math.abs(late.offset - 3.25)).toBeLessThan(0.002);
  });
  it('that runs off is told with how much: 40 parts of a million are 5 ms in two minutes', () => {
    const found = laid(layMix(guide, mixOf(guide, { lead: 2, speed: 1 / 1.00004 })));
    expect(found.drift).toBeGreaterThan(30);
    expect(found.drift).toBeLessThan(50);
  });
  it('that was made at another rate is told as that rate (common practice: pulled by 1000/1001, or transferred between 24 and 25)', () => {
    for (const speed of SPEEDS.slice(1)) expect(laid(layMix(guide, mixOf(guide, { lead: 2, speed, under: 0.02 }))).speed).toBe(speed);
  });
  it('of another cut, of a later version of it, and silence are no lay', () => {
    const others = [11, 12, 13, 14].map((seed) => layMix(guide, speech(120, seed)));
    expect(others).toMatchObject(others.map(() => ({ fault: 'other-sound' })));
    console.log(`other speech: at the most ${Math.max(...others.map((o) => o.agreeing))} of 15 places agree; ${15 * 0.25} are asked`);
    expect(layMix(guide, music(120, 5, 0.3))).toMatchObject({ fault: 'other-sound' });
    expect(layMix(guide, new Float32Array(120_000))).toMatchObject({ fault: 'silent' });
    // Ten seconds were taken out at 40, and others were put in at 80.
    const [a, b, c] = [guide.slice(0, 40_000), guide.slice(50_000, 80_000), guide.slice(80_000)];
    const recut = new Float32Array([...a, ...b, ...speech(7, 50), ...c]);
    expect(layMix(guide, recut)).toMatchObject({ fault: 'cut-otherwise' });
  });

  it('is found for a short cut, too', () => {
    const short = speech(15, 21);
    expect(Math.abs(laid(layMix(short, mixOf(short, { lead: 2, under: 0.03 }))).offset + 2)).toBeLessThan(0.002);
    expect(layMix(short, speech(20, 22))).toMatchObject({ fault: 'other-sound' });
  });
});

describe('a mix under a cut', () => {
  const lay: MixLay = { offset: -2, drift: 0, speed: 1, places: 22, agreeing: 20, stray: 0.001 };
  const cut = { span: 180, begins: 0, length: 182, frame: 1 / 24 };
  it('that covers it and keeps in step may lie there, and it is said how', () => {
    expect(judgeMix(lay, cut)).toMatchObject({
      fits: true,
      says: 'The mix begins 2.000 s before the cut and runs off by 0.0 parts of a million, told at 20 of 22 places.',
    });
  });
  it('that runs off by more than half a frame, was made at another rate, or is too short, may not', () => {
    // 20.8 ms are half a frame; 180 s by 120 parts of a million are 21.6.
    expect(judgeMix({ ...lay, drift: 120 }, cut)).toMatchObject({ fits: false, says: expect.stringContaining('runs off by 0.5 frames') });
    expect(judgeMix({ ...lay, drift: 110 }, cut).fits).toBe(true);
    expect(judgeMix({ ...lay, speed: 25 / 24 }, cut).says).toContain('takes 4.00 % less time');
    expect(judgeMix(lay, { ...cut, length: 180.5 }).says).toBe('The mix lacks 0.0 s at the head of the cut and 1.5 s at its tail.');
    expect(judgeMix({ ...lay, offset: 1.5 }, cut).fits).toBe(false);
    expect(judgeMix({ fault: 'other-sound', agreeing: 1 }, cut)).toMatchObject({ fits: false, lay: null });
  });
});

it('an envelope is the mean of what each millisecond holds, of all channels, wherever the pieces begin', () => {
  const maker = envelopeMaker(0.004, 48_000, 2);
  maker.take(new Int16Array(96).fill(16_384), 24);
  expect([...maker.made()].map((v) => Number(v.toFixed(4)))).toEqual([0.25, 0.25, 0, 0]);
});
