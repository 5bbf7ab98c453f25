import { type EventProof, FILLING, type Original, type Placement, type Transition } from '@gemello/core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { movies, type Placed, placed, taken } from './movies';

/** Layers, mixes and moving pictures, composed by the ffmpeg program and not by our compositor, and proved against that. */
const made = movies();
afterAll(made.close);
let zoom: Original;
let clock: Original;
let life: Original;
beforeAll(() => {
  [zoom, clock, life] = [made.drawn('zoom'), made.drawn('clock'), made.drawn('life')];
});

const proved = async (
  layers: readonly (readonly Placed[])[],
  filter: string,
  inputs: readonly Original[],
): Promise<Map<string, EventProof>> => (await made.proved(layers, made.filtered(inputs, filter), [zoom, clock, life])).proofs;

/** A picture at two fifths of its size, its middle a fifth of the frame right of and above the frame's. */
const INSET: Placement = { ...FILLING, scaleX: 0.4, scaleY: 0.4, x: 0.2, y: -0.2 };
const OVER = 'overlay=x=160:y=18';

describe('an inset of the list', () => {
  const under = () => placed('under', zoom, 10, 0, 60);
  const inset = () => placed('inset', clock, 20, 0, 60, { placement: INSET });
  it('and what lies below it are proved where each is seen', async () => {
    const as = `${taken(0, 10, 60, 'a')};${taken(1, 20, 60, 'b', ',scale=128:72')};[a][b]${OVER}`;
    const proofs = await proved([[under()], [inset()]], as, [zoom, clock]);
    expect([...proofs.values()].map((p) => p.verdict)).toEqual(['same', 'same']);
  });
  it('that slipped in the reference is told to the frame, and what lies below it is still the same', async () => {
    const slipped = `${taken(0, 10, 60, 'a')};${taken(1, 27, 60, 'b', ',scale=128:72')};[a][b]${OVER}`;
    const proofs = await proved([[under()], [inset()]], slipped, [zoom, clock]);
    expect(proofs.get('inset')?.findings).toMatchObject([{ kind: 'slipped', frames: 7 }]);
    expect(proofs.get('under')?.verdict).toBe('same');
  });
  it('that is not in the reference is told with where it ought to be', async () => {
    const proofs = await proved([[under()], [inset()]], `${taken(0, 10, 60, 'a')};[a]null`, [zoom, clock]);
    const [missing] = proofs.get('inset')?.findings ?? [];
    expect(missing).toMatchObject({ kind: 'layer-missing', side: 'reference' });
    if (missing?.kind !== 'layer-missing') return;
    // From 160 to 288 of 320 across, and from 18 to 90 of 180 down.
    expect(Math.abs(missing.area.x - 0.5)).toBeLessThan(0.03);
    expect(Math.abs(missing.area.y - 0.1)).toBeLessThan(0.05);
    expect(Math.abs(missing.area.width - 0.4)).toBeLessThan(0.05);
    expect(proofs.get('under')?.verdict).toBe('same');
  });
});

describe('a picture that moves in the frame', () => {
  // A push-in over 48 frames, from the whole picture to a half more, as the ffmpeg program zooms, which counts in whole pixels: of a larger picture they are finer.
  const key = (record: number, scale: number) => ({ ...FILLING, record, scaleX: scale, scaleY: scale });
  const pushed = () => placed('push', clock, 20, 0, 49, { placement: { ...FILLING, keys: [key(0, 1), key(48, 1.5)] } });
  const pushIn = (from: number) =>
    `${taken(0, from, 49, 'a')};[a]scale=1280:720,zoompan=z='1+0.5*on/48':x='iw/2-iw/zoom/2':y='ih/2-ih/zoom/2':d=1:s=320x180:fps=24`;
  it('is compared as it is laid in each frame', async () => {
    const proof = (await proved([[pushed()]], pushIn(20), [clock])).get('push');
    expect(proof?.verdict).toBe('same');
    expect(Math.min(...(proof?.trace.flatMap((t) => (t === null ? [] : [t])) ?? [0]))).toBeGreaterThan(0.8);
  });
  it('and slipped, is told to the frame', async () => {
    const proof = (await proved([[pushed()]], pushIn(26), [clock])).get('push');
    expect(proof?.findings).toMatchObject([{ kind: 'slipped', frames: 6 }]);
  });
});

describe('a shot that is never seen by itself', () => {
  const dissolve = (duration: number): Transition => ({ type: 'dissolve', duration, before: 0, from: 'previous', wipeCode: null });
  // The middle shot comes in over 20 frames, and the next begins to come in where that ends.
  const cut = () => [
    placed('a', zoom, 10, 0, 40),
    placed('b', life, 30, 40, 20, { transitionIn: dissolve(20) }),
    placed('c', clock, 40, 60, 40, { transitionIn: dissolve(20) }),
  ];
  const mixed = (from: number) =>
    [
      taken(0, 10, 60, 'a'),
      taken(1, from, 40, 'b', ',tpad=start=40:start_mode=clone:stop=40:stop_mode=clone'),
      taken(2, 40, 40, 'c', ',tpad=start=60:start_mode=clone'),
      '[a]tpad=stop=40:stop_mode=clone[aa]',
      "[aa][b]blend=all_expr='A+(B-A)*clip((N-39)/21,0,1)'[ab]",
      "[ab][c]blend=all_expr='A+(B-A)*clip((N-59)/21,0,1)',trim=end_frame=100",
    ].join(';');
  it('is proved through what the cut shows, both sides laid together', async () => {
    const proofs = await proved([cut()], mixed(30), [zoom, life, clock]);
    expect([...proofs.values()].map((p) => p.verdict)).toEqual(['same', 'same', 'same']);
    expect(proofs.get('b')?.framesCompared).toBeGreaterThan(20);
  });
  it('and slipped under its transitions, is told to the frame', async () => {
    const proofs = await proved([cut()], mixed(35), [zoom, life, clock]);
    expect(proofs.get('b')).toMatchObject({ verdict: 'differs', findings: [{ kind: 'slipped', frames: 5 }] });
  });
});

describe('an event beside which nothing stands', () => {
  const cut = () => [placed('a', zoom, 10, 0, 40), placed('b', clock, 40, 60, 40)];
  const shown = (aUntil: number, bFrom: number) =>
    [
      taken(0, 10, aUntil, 'a'),
      `color=black:s=320x180:r=24,trim=end_frame=${bFrom - aUntil},format=yuv420p[dark]`,
      taken(1, bFrom - 20, 100 - bFrom, 'b'),
      '[a][dark][b]concat=n=3:v=1',
    ].join(';');
  it('is the same where its edges lie where the list has them', async () => {
    const proofs = await proved([cut()], shown(40, 60), [zoom, clock]);
    expect([...proofs.values()].map((p) => [p.verdict, p.findings])).toEqual([
      ['same', []],
      ['same', []],
    ]);
  });
  it('is told with which edge lies elsewhere, to the frame: out only where nothing follows', async () => {
    const proofs = await proved([cut()], shown(46, 55), [zoom, clock]);
    expect(proofs.get('a')?.findings).toMatchObject([{ kind: 'cut-moved', edge: 'out', frames: 6 }]);
    expect(proofs.get('b')?.findings).toMatchObject([{ kind: 'cut-moved', edge: 'in', frames: -5 }]);
  });
});
