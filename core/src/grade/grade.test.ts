import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Cdl, LutBetween } from '../edit';
import { applyCdl, formatSop, gradePixels, isNeutral, LUMA_709, lookUpPixels, NEUTRAL_CDL, readCdlFile, readCube, writeCdlFile } from '.';

const cdl = (change: Partial<Cdl>): Cdl => ({ ...NEUTRAL_CDL, ...change });

describe('ASC CDL 1.2: out = clamp(in x slope + offset) ^ power, then saturation about Rec. 709 luma', () => {
  it('slope multiplies, offset adds, power bends', () => {
    expect(applyCdl([0.5, 0.5, 0.5], cdl({ slope: [1.2, 1, 0.8] }))).toEqual([0.6, 0.5, 0.4]);
    expect(applyCdl([0.5, 0.5, 0.5], cdl({ offset: [0.1, 0, -0.1] }))).toEqual([0.6, 0.5, 0.4]);
    expect(applyCdl([0.5, 0.25, 1], cdl({ power: [2, 0.5, 3] }))).toEqual([0.25, 0.5, 1]);
  });
  it('clamps before the power, so that no negative number is raised to one', () => {
    expect(applyCdl([0.1, 0.9, 0.5], cdl({ offset: [-0.5, 0.5, 0], power: [0.5, 0.5, 1] }))).toEqual([0, 1, 0.5]);
  });
  it('saturation 0 leaves luma, with the weights 0.2126 0.7152 0.0722', () => {
    const [r, g, b] = applyCdl([1, 0, 0], cdl({ saturation: 0 }));
    expect([r, g, b]).toEqual([LUMA_709[0], LUMA_709[0], LUMA_709[0]]);
    expect(LUMA_709.reduce<number>((a, v) => a + v, 0)).toBeCloseTo(1, 12);
  });
  it('saturation leaves grey alone', () => {
    fc.assert(
      fc.property(fc.double({ min: 0, max: 1, noNaN: true }), fc.double({ min: 0, max: 4, noNaN: true }), (grey, saturation) => {
        for (const v of applyCdl([grey, grey, grey], cdl({ saturation }))) expect(v).toBeCloseTo(grey, 9);
      }),
    );
  });
  it('a worked example, by hand: slope 1.1, offset -0.02, power 1.2 of 0.4 is 0.42 ^ 1.2 = 0.353121', () => {
    const same = [0.4, 0.4, 0.4] as const;
    const [r] = applyCdl([...same], { slope: [1.1, 1.1, 1.1], offset: [-0.02, -0.02, -0.02], power: [1.2, 1.2, 1.2], saturation: 1 });
    expect(r).toBeCloseTo(0.3531, 4);
  });
  it('the neutral grade changes nothing', () => {
    expect(applyCdl([0.2, 0.4, 0.6], NEUTRAL_CDL)).toEqual([0.2, 0.4, 0.6]);
    expect(isNeutral(NEUTRAL_CDL)).toBe(true);
    expect(isNeutral(cdl({ saturation: 0.99 }))).toBe(false);
  });
});

const unit = fc.double({ min: 0, max: 2, noNaN: true }).map((n) => n || 0);
const anyCdl = fc.record({
  slope: fc.tuple(unit, unit, unit),
  offset: fc.tuple(unit, unit, unit).map(([r, g, b]) => [r - 1, g - 1, b - 1] as [number, number, number]),
  power: fc.tuple(unit, unit, unit),
  saturation: unit,
});

it('whole pictures are graded to within half a code of the formula, at 8 and 16 bits', () => {
  fc.assert(
    fc.property(anyCdl, fc.array(fc.integer({ min: 0, max: 255 }), { minLength: 12, maxLength: 12 }), (grade, codes) => {
      for (const levels of [256, 65536] as const) {
        const scale = levels === 256 ? 1 : 257;
        const pixels = levels === 256 ? Uint8Array.from(codes) : Uint16Array.from(codes.map((c) => c * scale));
        const top = levels - 1;
        const expected = [0, 3, 6, 9].flatMap((i) =>
          applyCdl([pixels[i], pixels[i + 1], pixels[i + 2]].map((v) => (v ?? 0) / top) as [number, number, number], grade).map(
            (v) => v * top,
          ),
        );
        gradePixels(grade, levels)(pixels, 3);
        pixels.forEach((v, i) => {
          expect(Math.abs(v - (expected[i] ?? 0))).toBeLessThanOrEqual(levels === 256 ? 0.51 : 0.6);
        });
      }
    }),
  );
});

it('alpha is left alone', () => {
  const pixels = Uint8Array.from([10, 20, 30, 77]);
  gradePixels(cdl({ slope: [2, 2, 2] }), 256)(pixels, 4);
  expect([...pixels]).toEqual([20, 40, 60, 77]);
});

describe('files', () => {
  const example = `<?xml version="1.0" encoding="UTF-8"?>
<ColorCorrectionCollection xmlns="urn:ASC:CDL:v1.2">
  <ColorCorrection id="001">
    <SOPNode><Description>warm</Description><Slope>1.2 1.0 0.9</Slope><Offset>0.01 0 -0.01</Offset><Power>1 1 1.1</Power></SOPNode>
    <SatNode><Saturation>0.8</Saturation></SatNode>
  </ColorCorrection>
  <ColorCorrection id="002"><SatNode><Saturation>1.5</Saturation></SatNode></ColorCorrection>
</ColorCorrectionCollection>`;
  it('of several corrections are read (ASC CDL 1.2 XML)', () => {
    const { grades, problems } = readCdlFile(example);
    expect(problems).toEqual([]);
    expect(grades).toEqual([
      { id: '001', cdl: { slope: [1.2, 1, 0.9], offset: [0.01, 0, -0.01], power: [1, 1, 1.1], saturation: 0.8 } },
      { id: '002', cdl: cdl({ saturation: 1.5 }) },
    ]);
  });
  it('with numbers out of range are named and left out', () => {
    expect(readCdlFile(example.replace('1.2 1.0 0.9', '-1 1 1'))).toMatchObject({
      grades: [{ id: '002' }],
      problems: [expect.stringContaining('001')],
    });
    expect(readCdlFile('<html/>').problems).toHaveLength(1);
  });
  it('with a prefix of their namespace, and ids that hold characters of XML, are the same', () => {
    const prefixed = example.replace(/<(\/?)(?=[A-Z])/g, '<$1cdl:').replace('id="001"', 'id="A &amp; B"');
    expect(readCdlFile(prefixed).grades.map((g) => g.id)).toEqual(['A & B', '002']);
    expect(readCdlFile(prefixed).grades.map((g) => g.cdl)).toEqual(readCdlFile(example).grades.map((g) => g.cdl));
  });
  it('that are not well-formed are told with the line, and numbers that are too few with theirs', () => {
    expect(readCdlFile(example.replace('</SOPNode>', '')).problems[0]).toMatch(/^It is not well-formed XML: .* \(line \d\)\.$/);
    expect(readCdlFile(example.replace('1.2 1.0 0.9', '1.2 1.0')).problems).toEqual([expect.stringContaining('"001" (line 3)')]);
  });
  it('read back what was written', () => {
    fc.assert(
      fc.property(anyCdl, (grade) => {
        for (const kind of ['ccc', 'cdl', 'cc'] as const)
          expect(readCdlFile(writeCdlFile([{ id: 'a & b', cdl: grade }], kind)).grades).toEqual([{ id: 'a & b', cdl: grade }]);
      }),
    );
  });
});

it('the numbers are written as lists carry them', () => {
  expect(formatSop(cdl({ slope: [1.08, 1.01, 0.94] }))).toBe('(1.0800 1.0100 0.9400)(0.0000 0.0000 0.0000)(1.0000 1.0000 1.0000)');
});

describe('a .cube look-up table (Cube LUT specification 1.0)', () => {
  const corners = [0, 1].flatMap((b) => [0, 1].flatMap((g) => [0, 1].map((r) => `${r} ${g} ${b}`)));
  it('gives its lattice with red running fastest', () => {
    const lut = readCube(`# made up\nTITLE "Salt, warm"\nLUT_3D_SIZE 2\nDOMAIN_MIN 0 0 0\nDOMAIN_MAX 1 1 1\n${corners.join('\n')}\n`);
    expect(lut).toMatchObject({ title: 'Salt, warm', dimensions: 3, size: 2, domainMax: [1, 1, 1] });
    expect('table' in lut && [...lut.table.slice(3, 6)]).toEqual([1, 0, 0]);
  });
  it('may be a curve for each channel', () => {
    expect(readCube('LUT_1D_SIZE 3\n0 0 0\n.5 .5 .5\n1 1 1')).toMatchObject({ dimensions: 1, size: 3 });
  });
  it('that is wrong says where', () => {
    const fault = (text: string) => (readCube(text) as { fault?: string }).fault;
    expect(fault('')).toMatch(/no size/);
    expect(fault('0 0 0\nLUT_3D_SIZE 2')).toMatch(/Line 1 .*no size came before/);
    expect(fault('LUT_3D_SIZE 900')).toMatch(/Line 1: a size of 2 to 256/);
    expect(fault(`LUT_3D_SIZE 2\n${corners.slice(1).join('\n')}`)).toMatch(/7 of 8 entries/);
    expect(fault(`LUT_3D_SIZE 2\n${corners.join('\n')}\n0 0 0`)).toMatch(/Line 10 is one entry more/);
    expect(fault('LUT_1D_SIZE 2\n0 0\n1 1 1')).toMatch(/Line 2: an entry is three numbers/);
    expect(fault('LUT_1D_SIZE 2\nDOMAIN_MIN 1 1 1\n0 0 0\n1 1 1')).toMatch(/domain/);
  });
});

describe('a look-up of whole pictures', () => {
  const lookedUp = (between: LutBetween, text: string, rgb: readonly number[]) => {
    const lut = readCube(text);
    if ('fault' in lut) throw new Error(lut.fault);
    const pixels = Uint16Array.from([...rgb.map((v) => v * 65535), 12345]);
    lookUpPixels(lut, between)(pixels, 4);
    expect(pixels[3]).toBe(12345);
    return [...pixels.subarray(0, 3)].map((v) => Math.round((v / 65535) * 1e4) / 1e4);
  };
  const through = (text: string, ...rgb: number[]) => lookedUp('tetrahedral', text, rgb);
  const lattice = (size: number, f: (r: number, g: number, b: number) => number[]) => {
    const at = Array.from({ length: size }, (_, i) => i / (size - 1));
    return `LUT_3D_SIZE ${size}\n${at.flatMap((b) => at.flatMap((g) => at.map((r) => f(r, g, b).join(' ')))).join('\n')}\n`;
  };
  it('leaves colours where its lattice does, and turns channels round where it says so', () => {
    fc.assert(
      fc.property(
        fc.float({ min: 0, max: 1, noNaN: true }),
        fc.float({ min: 0, max: 1, noNaN: true }),
        fc.float({ min: 0, max: 1, noNaN: true }),
        (r, g, b) => {
          const [x, y, z] = through(
            lattice(3, (p, q, s) => [s, p, q]),
            r,
            g,
            b,
          ) as [number, number, number];
          expect([x - b, y - r, z - g].every((d) => Math.abs(d) < 2e-4)).toBe(true);
        },
      ),
    );
  });
  it('mixes over the tetrahedron around a colour: halfway to white along one axis, and along the diagonal', () => {
    // Only white is white: along an edge nothing of it is seen, along the diagonal its share (tetrahedral interpolation).
    const white = lattice(2, (r, g, b) => (r * g * b === 1 ? [1, 1, 1] : [0, 0, 0]));
    expect(through(white, 0.5, 0, 0)).toEqual([0, 0, 0]);
    expect(through(white, 0.5, 0.5, 0.5)).toEqual([0.5, 0.5, 0.5]);
    expect(through(white, 0.75, 0.5, 0.25)).toEqual([0.25, 0.25, 0.25]);
  });
  it('mixes among all eight corners around a colour where it is asked to: the share of each is a product of three', () => {
    const white = lattice(2, (r, g, b) => (r * g * b === 1 ? [1, 1, 1] : [0, 0, 0]));
    expect(lookedUp('trilinear', white, [0.5, 0, 0])).toEqual([0, 0, 0]);
    expect(lookedUp('trilinear', white, [0.5, 0.5, 0.5])).toEqual([0.125, 0.125, 0.125]);
    expect(lookedUp('trilinear', white, [0.8, 0.5, 0.25])).toEqual([0.1, 0.1, 0.1]);
  });
  it('of one dimension is a curve for each channel, over its domain and held outside it', () => {
    const curve = 'DOMAIN_MIN 0 0 0\nDOMAIN_MAX 0.5 0.5 0.5\nLUT_1D_SIZE 3\n0 1 0\n0.5 0.5 0\n1 0 0\n';
    expect(through(curve, 0.25, 0.125, 0.3)).toEqual([0.5, 0.75, 0]);
    expect(through(curve, 0.9, 0.9, 0.9)).toEqual([1, 0, 0]);
  });
});
