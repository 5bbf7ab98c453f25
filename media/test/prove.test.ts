import { execFileSync } from 'node:child_process';
import {
  applyDecisions,
  type Decision,
  EMPTY_LIST,
  type EventProof,
  type ListEvent,
  newEvent,
  type Original,
  RATES,
  stepsText,
} from '@gemello/core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { openThreads, probeMovie, proofSteps, proveAbreast, type ReferenceLaid } from '../src';
import { scratch } from './scratch';

/** Cuts of movies that the ffmpeg program makes of its own test pictures, proved on threads as the command line does. */
const { at, end } = scratch();
const threads = openThreads();
afterAll(async () => {
  await threads.close();
  end();
});
const ffmpeg = (...args: string[]) => execFileSync('ffmpeg', ['-v', 'error', '-y', ...args]);
const CODING = ['-c:v', 'libx264', '-crf', '20', '-pix_fmt', 'yuv420p'];
let zoom: Original;
let clock: Original;
let laid: ReferenceLaid | null = null;
beforeAll(() => {
  ffmpeg('-f', 'lavfi', '-i', 'mandelbrot=s=320x180:r=24:start_scale=0.8', '-frames:v', '120', ...CODING, at('zoom.mov'));
  ffmpeg('-f', 'lavfi', '-i', 'testsrc2=s=320x180:r=24', '-frames:v', '120', ...CODING, at('clock.mov'));
  [zoom, clock] = [probeMovie(at('zoom.mov')), probeMovie(at('clock.mov'))];
});

const START = 86_400;
const event = (key: string, original: Original, from: number, record: number, frames: number): ListEvent =>
  newEvent({
    key,
    number: key,
    clipName: original.clipName,
    sourceRate: RATES['24'],
    source: { in: from, out: from + frames },
    record: { in: START + record, out: START + record + frames },
  });

type Layers = readonly (readonly { event: ListEvent; original: Original }[])[];
function listOf(layers: Layers) {
  const tracks = layers.map((events, i) => ({ name: `V${i + 1}`, kind: 'picture' as const, events: events.map((e) => e.event) }));
  const pairs = layers
    .flat()
    .map(({ event: e, original }): Decision => ({ kind: 'pair', event: e.key, original: original.path, sourceStartFrame: e.source.in }));
  return applyDecisions({ ...EMPTY_LIST, format: 'test', rate: RATES['24'], tracks }, pairs).list;
}

async function proved(layers: Layers, reference: string, originals = [zoom, clock]) {
  const list = listOf(layers);
  const proofs = new Map<string, EventProof>();
  const basis = { list, originals, reference: probeMovie(reference), cache: at('cache') };
  ({ laid } = await proveAbreast(
    threads,
    basis,
    layers.flat().map((e) => e.event.key),
    (made) => {
      for (const p of made) proofs.set(p.event, p);
    },
  ));
  return proofs;
}
/** A reference of stretches of the two: which, from which frame on, how many. */
function referenceOf(name: string, parts: readonly (readonly [Original, number, number])[]): string {
  const inputs = parts.flatMap(([original]) => ['-i', original.path]);
  const trims = parts.map(([, from, frames], i) => `[${i}]trim=start_frame=${from}:end_frame=${from + frames},setpts=PTS-STARTPTS[p${i}]`);
  ffmpeg(
    ...inputs,
    '-filter_complex',
    `${trims.join(';')};${parts.map((_, i) => `[p${i}]`).join('')}concat=n=${parts.length}:v=1`,
    ...CODING,
    at(name),
  );
  return at(name);
}

describe('a proof', () => {
  it('of an upper layer that the reference has not says so, and not that it shows another picture', async () => {
    const under = { event: event('a', zoom, 10, 0, 72), original: zoom };
    const over = { event: event('b', clock, 20, 24, 24), original: clock };
    const with_ = await proved(
      [[under], [over]],
      referenceOf('with.mov', [
        [zoom, 10, 24],
        [clock, 20, 24],
        [zoom, 58, 24],
      ]),
    );
    expect([with_.get('a')?.verdict, with_.get('b')?.verdict]).toEqual(['same', 'same']);
    const without = await proved([[under], [over]], referenceOf('without.mov', [[zoom, 10, 72]]));
    expect(without.get('a')?.verdict).toBe('same');
    expect(without.get('b')).toMatchObject({
      verdict: 'differs',
      findings: [{ kind: 'layer-missing', side: 'reference', area: { x: 0, width: 1 } }],
    });
  });
  it('follows a reference that lost a frame, and says where', async () => {
    const cut = Array.from({ length: 8 }, (_, i) => {
      const original = i % 2 === 0 ? zoom : clock;
      return { event: event(`e${i}`, original, 10 + 8 * i, 30 * i, 30), original };
    });
    const whole = referenceOf(
      'whole.mov',
      cut.map(({ original, event: e }) => [original, e.source.in, 30]),
    );
    ffmpeg('-i', whole, '-vf', "select='not(eq(n,100))',setpts=N/24/TB", ...CODING, at('lost.mov'));
    const proofs = await proved([cut], at('lost.mov'));
    const said = cut.map(({ event: e }) => proofs.get(e.key)?.verdict);
    // Event 3 has lost one of its frames; all others are as they were.
    expect(said.filter((v, i) => i !== 3 && v !== 'same')).toEqual([]);
    expect(laid?.steps).toMatchObject([{ by: -1 }]);
    expect(Math.abs((laid?.steps[0]?.from ?? 0) - START - 100)).toBeLessThanOrEqual(2);
    expect(stepsText(laid?.steps ?? [], RATES['24'])[0]).toMatch(
      /^The reference lost 1 frame at 01:00:04:0\d; it is followed from there on\.$/,
    );
  });
  it('tells how far it is without going past its end, whatever it reads meanwhile', async () => {
    const one = { event: event('a', zoom, 10, 0, 48), original: zoom };
    const other = { event: event('b', clock, 60, 48, 48), original: clock };
    const told: number[] = [];
    const basis = { list: listOf([[one, other]]), originals: [zoom, clock], reference: probeMovie(at('with.mov')), cache: at('anew') };
    await proveAbreast(threads, basis, ['a', 'b'], () => {}, { report: ({ done, total }) => told.push(done / total) });
    expect(told.length).toBeGreaterThan(2);
    expect(Math.max(...told)).toBeLessThanOrEqual(1);
  });
  it('finds another picture among all originals by their prints, to the frame', async () => {
    const [one, two] = [
      { event: event('a', zoom, 10, 0, 48), original: zoom },
      { event: event('b', zoom, 60, 48, 48), original: zoom },
    ];
    const proofs = await proved(
      [[one, two]],
      referenceOf('other.mov', [
        [zoom, 10, 48],
        [clock, 37, 48],
      ]),
    );
    expect(proofs.get('b')).toMatchObject({
      verdict: 'differs',
      findings: [{ kind: 'wrong-picture', path: clock.path, sourceStartFrame: 37 }],
    });
  });
  it('names the takes that would fit as well, where the picture cannot tell', async () => {
    // Two takes of one picture that stands still, each coded for itself.
    for (const [name, crf] of [
      ['still one', '18'],
      ['still two', '21'],
    ] as const)
      ffmpeg(
        '-i',
        zoom.path,
        '-vf',
        "select='eq(n,60)',loop=99:1,setpts=N/24/TB",
        '-c:v',
        'libx264',
        '-crf',
        crf,
        '-pix_fmt',
        'yuv420p',
        at(`${name}.mov`),
      );
    const [one, two] = [probeMovie(at('still one.mov')), probeMovie(at('still two.mov'))];
    const cut = [
      { event: event('a', clock, 10, 0, 48), original: clock },
      { event: event('b', one, 20, 48, 48), original: one },
      { event: event('c', clock, 60, 96, 48), original: clock },
    ];
    const shown = referenceOf('stills.mov', [
      [clock, 10, 48],
      [one, 20, 48],
      [two, 30, 48],
    ]);
    const proofs = await proved([cut], shown, [zoom, clock, one, two]);
    expect(proofs.get('b')?.findings).toMatchObject([{ kind: 'cannot-tell', why: 'still', others: [{ path: two.path }] }]);
    const [wrong] = proofs.get('c')?.findings ?? [];
    expect(wrong).toMatchObject({ kind: 'wrong-picture' });
    if (wrong?.kind !== 'wrong-picture') return;
    expect([wrong.path, ...(wrong.others ?? []).map((o: { path: string }) => o.path)].sort()).toEqual([one.path, two.path].sort());
  });
  it('looks first at what agrees least', async () => {
    const cut = Array.from({ length: 4 }, (_, i) => ({ event: event(`e${i}`, zoom, 10 + i * 20, i * 20, 20), original: zoom }));
    const shown = referenceOf(
      'worst.mov',
      cut.map(({ event: e }, i) => [i === 2 ? clock : zoom, e.source.in, 20]),
    );
    const order: string[] = [];
    const basis = { list: listOf([cut]), originals: [zoom, clock], reference: probeMovie(shown), cache: at('cache') };
    for (const proof of proofSteps({ ...basis, only: null }, () => {}, { aborted: false })) order.push(proof.event);
    expect(order[0]).toBe('e2');
  });
});
