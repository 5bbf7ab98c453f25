import { applyDecisions, EMPTY_LIST, type Finding, mendFor, type Original, type Standing } from '@gemello/core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { cutOf, movies, placed, taken } from './movies';

/**
 * Fades that the list has not, made by the ffmpeg program's own `fade`: twelve frames of which the first is still whole, so that
 * eleven are between the picture and black.
 */
const made = movies();
afterAll(made.close);
let zoom: Original;
let clock: Original;
beforeAll(() => {
  [zoom, clock] = [made.drawn('zoom'), made.drawn('clock')];
});
const cut = () => [placed('a', zoom, 10, 0, 60), placed('b', clock, 20, 60, 60)];
const [OUT, IN] = [',fade=out:48:12', ',fade=in:0:12'];
const shown = (out: string, comes: string, end = '') =>
  made.filtered([zoom, clock], `${taken(0, 10, 60, 'a', out)};${taken(1, 20, 60, 'b', comes)};[a][b]concat=n=2:v=1${end}`);
const fade = (offsetFrames: number, black: object) => [
  { kind: 'transition-differs', expected: null, measured: { type: 'dissolve', durationFrames: 11, offsetFrames, ...black } },
];
const outOf = fade(-11, { to: 'black' });

describe('a fade that the list has not', () => {
  it('is told of the picture that fades out, and of none where it does not', async () => {
    const { proofs } = await made.proved([cut()], shown(OUT, ''), [zoom, clock]);
    expect(proofs.get('a')?.findings).toMatchObject(outOf);
    expect(proofs.get('b')).toMatchObject({ verdict: 'same', findings: [] });
  });
  it('is told of both sides of a dip to black', async () => {
    const { proofs } = await made.proved([cut()], shown(OUT, IN), [zoom, clock]);
    expect(proofs.get('a')?.findings).toMatchObject(outOf);
    expect(proofs.get('b')?.findings).toMatchObject(fade(1, { from: 'black' }));
  });
  it('is told at the end of the cut, and mended by opacity that goes down, after which nothing is left to tell', async () => {
    const reference = shown('', OUT, ',tpad=stop=10:stop_mode=add:color=black');
    const { proofs } = await made.proved([cut()], reference, [zoom, clock]);
    const [found] = proofs.get('b')?.findings ?? [];
    expect(found).toMatchObject(outOf[0] as object);
    const of = { event: 'b', original: clock.path, sourceStart: 20, placement: null, shape: 16 / 9, length: 60 };
    const mend = mendFor(found as Finding, of);
    expect(mend?.label).toBe('Fade it out over 11 frames');
    const mended = applyDecisions({ ...EMPTY_LIST, ...cutOf([cut()], false) }, mend?.decisions ?? []).list;
    const [a, b] = (mended as Standing).tracks[0]?.events ?? [];
    const again = await made.proved(
      [
        [
          { ...placed('a', zoom, 10, 0, 60), event: a as NonNullable<typeof a> },
          { ...placed('b', clock, 20, 60, 60), event: b as NonNullable<typeof b> },
        ],
      ],
      reference,
      [zoom, clock],
    );
    expect([...again.proofs.values()].map((p) => [p.verdict, p.findings])).toEqual([
      ['same', []],
      ['same', []],
    ]);
  });
});
