import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { type Cdl, gradePixels, LUT_BETWEEN, type LutBetween, lookUpPixels, NEUTRAL_CDL, readCube } from '@gemello/core';
import fc from 'fast-check';
import { AV_PIX_FMT_RGB48LE } from 'node-av/constants';
import { Frame } from 'node-av/lib';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { type GraderLut, openFilterGrader } from '../src/engine/grading';

const [WIDTH, HEIGHT] = [64, 36];
const PICTURE = Uint16Array.from(fc.sample(fc.integer({ min: 0, max: 65_535 }), { numRuns: WIDTH * HEIGHT * 3, seed: 4 }) as number[]);
const number = (min: number, max: number) => fc.double({ min, max, noNaN: true });
const three = (of: fc.Arbitrary<number>) => fc.tuple(of, of, of);

let folder: string;
beforeAll(() => {
  folder = mkdtempSync(path.join(tmpdir(), "gemello it's, a [grade]: "));
});
afterAll(() => rmSync(folder, { recursive: true }));

const lutOf = (name: string, text: string, between: LutBetween = 'tetrahedral'): GraderLut => {
  const file = path.join(folder, name);
  writeFileSync(file, text);
  const lut = readCube(text);
  if ('fault' in lut) throw new Error(lut.fault);
  return { file, lut, between };
};
const STEPS = [0, 0.25, 0.5, 0.75, 1];
const lattice = `LUT_3D_SIZE 5\n${STEPS.flatMap((b) => STEPS.flatMap((g) => STEPS.map((r) => `${r ** 0.6} ${g * b} ${1 - r * b ** 1.4}`))).join('\n')}\n`;
const curve = `LUT_1D_SIZE 5\n${STEPS.map((v) => `${v ** 0.5} ${v * v} ${1 - v}`).join('\n')}\n`;

/** The largest difference to what core/grade gives, in codes of 16 bits; null where the filters pass. Two pictures, of which the second counts. */
function apart(cdl: Cdl | null, lut: GraderLut | null): number | null {
  const grader = openFilterGrader({ raster: { width: WIDTH, height: HEIGHT }, alpha: false }, cdl, lut, 2);
  if (!grader) return null;
  const expected = PICTURE.slice();
  if (cdl) gradePixels(cdl, 65536)(expected, 3);
  if (lut) lookUpPixels(lut.lut, lut.between)(expected, 3);
  const frameOf = (values: Uint16Array) =>
    Frame.fromVideoBuffer(Buffer.from(values.buffer, values.byteOffset, values.byteLength), {
      width: WIDTH,
      height: HEIGHT,
      format: AV_PIX_FMT_RGB48LE,
    });
  const [first, second] = [frameOf(new Uint16Array(PICTURE.length)), frameOf(PICTURE)];
  grader.grade(first);
  const bytes = new Uint8Array(grader.grade(second).toBuffer());
  const found = new Uint16Array(bytes.buffer, bytes.byteOffset, bytes.byteLength / 2);
  // What is given stays as it was.
  expect(Buffer.compare(second.toBuffer(), Buffer.from(PICTURE.buffer))).toBe(0);
  for (const frame of [first, second]) frame.free();
  grader.free();
  return found.reduce((most, v, i) => Math.max(most, Math.abs(v - (expected[i] as number))), 0);
}

describe('pictures graded by filters', () => {
  it('come out as core/grade has them (ASC CDL 1.2), to three codes of 16 bits', () => {
    let most = 0;
    fc.assert(
      fc.property(
        fc.record({ slope: three(number(0, 3)), offset: three(number(-0.6, 0.6)), power: three(number(0.2, 4)), saturation: number(0, 2) }),
        (cdl) => {
          const found = apart(cdl, null);
          most = Math.max(most, found as number);
          expect(found).toBeLessThanOrEqual(3);
        },
      ),
      { numRuns: 40, seed: 9 },
    );
    console.log(`CDLs: at most ${most} codes of 65535 apart, 3 allowed`);
  });
  it.each(LUT_BETWEEN)('go through a lattice after it, %s', (between) => {
    const cdl: Cdl = { slope: [1.2, 1, 0.9], offset: [0, 0.02, 0], power: [1, 1.1, 0.9], saturation: 0.8 };
    expect(apart(null, lutOf('lattice.cube', lattice, between))).toBeLessThanOrEqual(2);
    // Where the lattice is steep, what the CDL left is apart by as many times.
    expect(apart(cdl, lutOf('lattice.cube', lattice, between))).toBeLessThanOrEqual(8);
  });
  it('go through a curve for each channel', () => {
    expect(apart(null, lutOf('curve.cube', curve))).toBeLessThanOrEqual(2);
  });
  it('are left to core where the filters cannot hold the numbers: much saturation, another domain', () => {
    expect(apart({ ...NEUTRAL_CDL, saturation: 2.5 }, null)).toBeNull();
    expect(apart(null, lutOf('wide.cube', lattice.replace('5\n', '5\nDOMAIN_MAX 2 2 2\n')))).toBeNull();
  });
});
