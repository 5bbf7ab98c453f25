import { execFileSync } from 'node:child_process';
import { existsSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { applyCdl, type Cdl, lookUpPixels, readCube } from '../src';

/** Grades and look-up tables, held against the open colour library (PyPI opencolorio), which `npm test` installs into .venv. */
const here = path.dirname(fileURLToPath(import.meta.url));
const python = path.join(here, '..', '..', '.venv', 'bin', 'python');
type Rgb = [number, number, number];

const number = (min: number, max: number) => fc.double({ min, max, noNaN: true });
const three = (of: fc.Arbitrary<number>) => fc.tuple(of, of, of);
/** Colours that 16 bits can hold. */
const COLOURS = fc
  .sample(three(fc.integer({ min: 0, max: 65_535 })), { numRuns: 400, seed: 16 })
  .map((c) => c.map((v) => v / 65_535) as Rgb);
const CDLS = fc.sample(
  fc.record({ slope: three(number(0, 3)), offset: three(number(-0.6, 0.6)), power: three(number(0.2, 4)), saturation: number(0, 3) }),
  { numRuns: 60, seed: 12 },
) as Cdl[];

/** Tables that turn colours about so that no axis is like another; one of them reaches beyond 0 to 1. */
function cubes(folder: string) {
  const write = (name: string, lines: readonly string[]) => {
    const file = path.join(folder, name);
    writeFileSync(file, `${lines.join('\n')}\n`);
    return file;
  };
  const steps = (n: number) => Array.from({ length: n }, (_, i) => i / (n - 1));
  const row = (v: readonly number[]) => v.map((n) => n.toFixed(7)).join(' ');
  const lattice = (n: number) =>
    steps(n).flatMap((b) =>
      steps(n).flatMap((g) => steps(n).map((r) => row([r ** 0.6 * 0.9 + 0.1 * b, (g + r * b) / 2, 1 - b ** 1.4 * (1 - g / 3)]))),
    );
  const curve = steps(1024).map((v) => row([v ** 0.45, v * v, Math.sin((v * Math.PI) / 2)]));
  return [
    { file: write('curve.cube', ['TITLE "curve"', 'LUT_1D_SIZE 1024', ...curve]), interpolation: 'linear' },
    { file: write('lattice.cube', ['LUT_3D_SIZE 17', ...lattice(17)]), interpolation: 'tetrahedral' },
    { file: path.join(folder, 'lattice.cube'), interpolation: 'trilinear' },
    {
      file: write('wide.cube', ['LUT_3D_SIZE 9', 'DOMAIN_MIN -0.2 0 0', 'DOMAIN_MAX 1 1.5 1', ...lattice(9)]),
      interpolation: 'tetrahedral',
    },
  ] as const;
}

describe('colours', () => {
  let folder: string;
  let tables: ReturnType<typeof cubes>;
  let reference: { cdls: Rgb[][]; tables: Rgb[][] };
  beforeAll(() => {
    if (!existsSync(python)) throw new Error('The reference library is not installed; npm test sees to it.');
    folder = mkdtempSync(path.join(tmpdir(), 'gemello-'));
    tables = cubes(folder);
    const input = JSON.stringify({ colours: COLOURS, cdls: CDLS, tables });
    reference = JSON.parse(
      execFileSync(python, [path.join(here, 'colour_reference.py')], {
        input,
        encoding: 'utf8',
        maxBuffer: 1e8,
        stdio: ['pipe', 'pipe', 'ignore'],
      }),
    );
  });
  afterAll(() => rmSync(folder, { recursive: true }));

  it(`through ${CDLS.length} CDLs come out as there, to a twentieth of a code of 10 bits`, () => {
    CDLS.forEach((cdl, i) => {
      COLOURS.forEach((colour, k) => {
        const ours = applyCdl(colour, cdl);
        for (const c of [0, 1, 2] as const)
          expect(Math.abs(ours[c] - (reference.cdls[i]?.[k]?.[c] ?? Number.NaN))).toBeLessThan(1 / 1023 / 20);
      });
    });
  });
  it('through curves and lattices come out as there, to a code of 16 bits', () => {
    for (const [i, { file, interpolation }] of tables.entries()) {
      const lut = readCube(execFileSync('cat', [file], { encoding: 'utf8' }));
      if ('fault' in lut) throw new Error(lut.fault);
      const codes = Uint16Array.from(COLOURS.flat(), (v) => Math.round(v * 65_535));
      lookUpPixels(lut, interpolation === 'trilinear' ? 'trilinear' : 'tetrahedral')(codes, 3);
      COLOURS.forEach((_, k) => {
        for (const c of [0, 1, 2] as const) {
          const theirs = Math.min(1, Math.max(0, reference.tables[i]?.[k]?.[c] ?? Number.NaN)) * 65_535;
          expect(Math.abs((codes[3 * k + c] as number) - theirs), `${path.basename(file)} ${interpolation} ${k} ${c}`).toBeLessThanOrEqual(
            1,
          );
        }
      });
    }
  });
});
