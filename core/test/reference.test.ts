import { execFileSync } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { type EditList, RATES, readEdl, readOtio, readXmeml, recordSpan, speedOf, writeEdl, writeOtio, writeXmeml } from '../src';
import { listOf, piece } from './lists';

/**
 * Lists of our own, read by the Python reference library of the open timeline format (PyPI
 * opentimelineio with its edit-list and xmeml adapters) and by us: same events, same frames, same
 * speeds, same names. `npm test` installs the library into .venv.
 */
const here = path.dirname(fileURLToPath(import.meta.url));
const python = path.join(here, '..', '..', '.venv', 'bin', 'python');
let folder: string;
beforeAll(() => {
  folder = mkdtempSync(path.join(tmpdir(), 'gemello-'));
  if (!existsSync(python)) throw new Error('The reference library is not installed; npm test sees to it.');
});
afterAll(() => rmSync(folder, { recursive: true }));

interface Found {
  name: string;
  start: number;
  duration: number;
  record: number;
  speed: number;
}
function reference(...args: string[]): Found[][][] {
  return JSON.parse(execFileSync(python, [path.join(here, 'otio_reference.py'), '24', ...args], { encoding: 'utf8', maxBuffer: 1 << 28 }));
}

/** Ours, in the reference's terms: record frames from the start of the cut. */
function ours(list: EditList): Found[][] {
  const start = recordSpan(list).in;
  return list.tracks.map((t) =>
    t.events.map((e) => ({
      name: e.clipName,
      start: e.source.in,
      duration: e.record.out - e.record.in,
      record: e.record.in - start,
      speed: speedOf(e.retime),
    })),
  );
}

const samples = (change: (p: ReturnType<typeof fc.sample<any>>[number]) => object) =>
  Array.from({ length: 12 }, (_, i) => listOf(fc.sample(piece, { numRuns: 8, seed: 1000 + i }).map((p) => ({ ...p, ...change(p) }))));
const put = (name: string, text: string) => {
  const file = path.join(folder, name);
  writeFileSync(file, text);
  return file;
};
const close = (found: Found[][]) => found.map((t) => t.map((e) => ({ ...e, speed: Number(e.speed.toFixed(6)) })));

describe('the reference library reads what we write', () => {
  it('as OpenTimelineIO: transitions, reverses and freezes included', () => {
    const lists = samples(() => ({}));
    const read = reference(...lists.map((l, i) => put(`a${i}.otio`, writeOtio(l))));
    for (const [i, l] of lists.entries()) expect(close(read[i] ?? [])).toEqual(close(ours(l)));
  });
  it('as an edit list: cuts and constant speeds', () => {
    // Its edit-list reader takes a reverse and a freeze for other spans than it writes itself, and dissolves are spread over the cut.
    const lists = samples((p) => ({
      join: 0,
      retime: p.retime.kind === 'constant' && p.retime.speed > 0 ? p.retime : { kind: 'natural' },
      marked: false,
    }));
    const read = reference(...lists.map((l, i) => put(`b${i}.edl`, writeEdl(l))));
    for (const [i, l] of lists.entries()) expect(close(read[i] ?? [])).toEqual(close(ours(l)));
  });
  it('as xmeml: cuts', () => {
    const lists = samples(() => ({ join: 0, retime: { kind: 'natural' }, marked: false }));
    const read = reference(...lists.map((l, i) => put(`c${i}.xml`, writeXmeml(l))));
    for (const [i, l] of lists.entries()) expect(close((read[i] ?? []).filter((t) => t.length > 0))).toEqual(close(ours(l)));
  });
});

describe('we read what the reference library writes', () => {
  it('from our OpenTimelineIO, edit list and xmeml, written again by it as OpenTimelineIO', () => {
    const lists = samples(() => ({ join: 0, retime: { kind: 'natural' }, marked: false }));
    lists.forEach((l, i) => {
      const [otio, edl, xml] = [put(`d${i}.otio`, writeOtio(l)), put(`d${i}.edl`, writeEdl(l)), put(`d${i}.xml`, writeXmeml(l))];
      const out = ['otio', 'edl', 'xml'].map((from) => path.join(folder, `again-${from}-${i}.otio`));
      reference(otio, '--rewrite', out[0] ?? '', edl, '--rewrite', out[1] ?? '', xml, '--rewrite', out[2] ?? '');
      for (const file of out) {
        const back = readOtio(readFileSync(file, 'utf8'), { rate: RATES['24'] });
        expect({ file: path.basename(file), found: ours(back).filter((t) => t.length > 0) }).toEqual({
          file: path.basename(file),
          found: ours(l),
        });
      }
    });
  });
});

it('the three formats say the same of one cut when we read them', () => {
  for (const l of samples((p) => ({ retime: p.retime.kind === 'constant' && p.retime.speed < 0 ? { kind: 'natural' } : p.retime }))) {
    const edl = close(ours(readEdl(writeEdl(l), { rate: RATES['24'] })));
    expect(close(ours(readOtio(writeOtio(l))))).toEqual(edl);
    expect(close(ours(readXmeml(writeXmeml(l))))).toEqual(edl);
  }
});
