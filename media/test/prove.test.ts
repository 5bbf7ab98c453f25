import { type EventProof, type Original, RATES, stepsText } from '@gemello/core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { proofSteps, proveAbreast, type ReferenceLaid } from '../src';
import { cutOf, movies, placed, START } from './movies';

/** Cuts of movies that the ffmpeg program makes of its own test pictures, proved on threads as the command line does. */
const made = movies();
afterAll(made.close);
let zoom: Original;
let clock: Original;
beforeAll(() => {
  [zoom, clock] = [made.drawn('zoom'), made.drawn('clock')];
});

describe('a proof', () => {
  it('of an upper layer that the reference has not says so, and not that it shows another picture', async () => {
    const under = placed('a', zoom, 10, 0, 72);
    const over = placed('b', clock, 20, 24, 24);
    const { proofs: with_ } = await made.proved(
      [[under], [over]],
      made.joined([
        [zoom, 10, 24],
        [clock, 20, 24],
        [zoom, 58, 24],
      ]),
      [zoom, clock],
    );
    expect([with_.get('a')?.verdict, with_.get('b')?.verdict]).toEqual(['same', 'same']);
    const { proofs: without } = await made.proved([[under], [over]], made.joined([[zoom, 10, 72]]), [zoom, clock]);
    expect(without.get('a')?.verdict).toBe('same');
    expect(without.get('b')).toMatchObject({
      verdict: 'differs',
      findings: [{ kind: 'layer-missing', side: 'reference', area: { x: 0, width: 1 } }],
    });
  });
  it('follows a reference that lost a frame, and says where', async () => {
    const cut = Array.from({ length: 8 }, (_, i) => {
      const original = i % 2 === 0 ? zoom : clock;
      return placed(`e${i}`, original, 10 + 8 * i, 30 * i, 30);
    });
    const whole = made.joined(cut.map(({ original, event: e }) => [original, e.source.in, 30]));
    const lost = made.filtered([whole], "select='not(eq(n,100))',setpts=N/24/TB");
    const { proofs, laid } = await made.proved([cut], lost, [zoom, clock]);
    const said = cut.map(({ event: e }) => proofs.get(e.key)?.verdict);
    // Event 3 has lost one of its frames; all others are as they were.
    expect(said.filter((v, i) => i !== 3 && v !== 'same')).toEqual([]);
    expect(laid.steps).toMatchObject([{ by: -1 }]);
    expect(Math.abs((laid.steps[0]?.from ?? 0) - START - 100)).toBeLessThanOrEqual(2);
    expect(stepsText(laid.steps, RATES['24'])[0]).toMatch(/^The reference lost 1 frame at 01:00:04:0\d; it is followed from there on\.$/);
  });
  it('tells how far it is without going past its end, whatever it reads meanwhile', async () => {
    const one = placed('a', zoom, 10, 0, 48);
    const other = placed('b', clock, 60, 48, 48);
    const told: number[] = [];
    const reference = made.joined([
      [zoom, 10, 48],
      [clock, 60, 48],
    ]);
    const basis = { list: cutOf([[one, other]]), originals: [zoom, clock], reference, cache: made.at('anew') };
    await proveAbreast(made.threads, basis, ['a', 'b'], () => {}, { report: ({ done, total }) => told.push(done / total) });
    expect(told.length).toBeGreaterThan(2);
    expect(Math.max(...told)).toBeLessThanOrEqual(1);
  });
  it('of some events that lies as that of the whole cut did says the same of them', async () => {
    const cut = [placed('a', zoom, 10, 0, 48), placed('b', clock, 57, 48, 48)];
    const reference = made.joined([
      [clock, 0, 12],
      [zoom, 10, 48],
      [clock, 60, 48],
    ]);
    const basis = { list: cutOf([cut]), originals: [zoom, clock], reference, cache: made.at('standing') };
    const proved = async (events: string[], laid?: ReferenceLaid) => {
      const proofs = new Map<string, EventProof>();
      const take = (all: readonly EventProof[]) => all.forEach((p) => void proofs.set(p.event, p));
      return { proofs, ...(await proveAbreast(made.threads, basis, events, take, laid && { laid })) };
    };
    const whole = await proved(['a', 'b']);
    expect(whole.laid.start).toBe(START - 12);
    expect(whole.proofs.get('b')?.findings).toMatchObject([{ kind: 'slipped', frames: 3 }]);
    const again = await proved(['b'], whole.laid);
    expect(again.laid).toBe(whole.laid);
    expect(again.proofs.get('b')).toEqual(whole.proofs.get('b'));
  });
  it('finds another picture among all originals by their prints, to the frame', async () => {
    const [one, two] = [placed('a', zoom, 10, 0, 48), placed('b', zoom, 60, 48, 48)];
    const shown = made.joined([
      [zoom, 10, 48],
      [clock, 37, 48],
    ]);
    const { proofs } = await made.proved([[one, two]], shown, [zoom, clock]);
    expect(proofs.get('b')).toMatchObject({
      verdict: 'differs',
      findings: [{ kind: 'wrong-picture', path: clock.path, sourceStartFrame: 37 }],
    });
  });
  it('names the takes that would fit as well, where the picture cannot tell', async () => {
    // Two takes of one picture that stands still, each coded for itself.
    const take = (name: string, crf: number) =>
      made.ffmpeg(['-i', zoom.path, '-vf', "select='eq(n,60)',loop=99:1,setpts=N/24/TB"], `${name}.mov`, crf);
    const [one, two] = [take('still one', 18), take('still two', 21)];
    const cut = [placed('a', clock, 10, 0, 48), placed('b', one, 20, 48, 48), placed('c', clock, 60, 96, 48)];
    const shown = made.joined([
      [clock, 10, 48],
      [one, 20, 48],
      [two, 30, 48],
    ]);
    const { proofs } = await made.proved([cut], shown, [zoom, clock, one, two]);
    expect(proofs.get('b')?.findings).toMatchObject([{ kind: 'cannot-tell', why: 'still', others: [{ path: two.path }] }]);
    const [wrong] = proofs.get('c')?.findings ?? [];
    expect(wrong).toMatchObject({ kind: 'wrong-picture' });
    if (wrong?.kind !== 'wrong-picture') return;
    expect([wrong.path, ...(wrong.others ?? []).map((o: { path: string }) => o.path)].sort()).toEqual([one.path, two.path].sort());
  });
  it('looks first at what agrees least', async () => {
    const cut = Array.from({ length: 4 }, (_, i) => placed(`e${i}`, zoom, 10 + i * 20, i * 20, 20));
    const shown = made.joined(cut.map(({ event: e }, i) => [i === 2 ? clock : zoom, e.source.in, 20]));
    const order: string[] = [];
    const basis = { list: cutOf([cut]), originals: [zoom, clock], reference: shown, cache: made.at('cache') };
    for (const proof of proofSteps({ ...basis, only: null }, () => {}, { aborted: false })) order.push(proof.event);
    expect(order[0]).toBe('e2');
  });
});
