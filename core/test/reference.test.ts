import { execFileSync } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import {
  type EditList,
  formatTimecode,
  RATES,
  readEdl,
  readOtio,
  readXmeml,
  recordSpan,
  speedOf,
  withoutExtension,
  writeEdl,
  writeOtio,
  writeXmeml,
} from '../src';
import { listOf, type Piece, piece } from './lists';

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

const samples = (change: (p: Piece) => object, before: 0 | 1 = 0) =>
  Array.from({ length: 12 }, (_, i) =>
    listOf(
      fc.sample(piece, { numRuns: 8, seed: 1000 + i }).map((p) => ({ ...p, ...change(p) })),
      before,
    ),
  );
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
      retime: p.retime.kind === 'constant' && p.retime.speed.num > 0 ? p.retime : { kind: 'natural' },
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

describe('as xmeml, with transitions', () => {
  it('the library finds the same clips in the same places of the record', () => {
    // It takes the whole transition off the incoming clip's source, where the alignment says that half of it lies before the cut; sources are not compared here.
    const lists = samples((p) => ({ marked: false, retime: { kind: 'natural' }, length: p.length + 8 }), 1);
    const read = reference(...lists.map((l, i) => put(`t${i}.xml`, writeXmeml(l))));
    const places = (found: Found[][]) => found.filter((t) => t.length > 0).map((t) => t.map(({ start: _, ...e }) => e));
    for (const [i, l] of lists.entries()) expect(places(read[i] ?? [])).toEqual(places(ours(l)));
  });
});

describe('another parser of edit lists (PyPI pycmx) reads what we write, and we read alike', () => {
  const other = (...files: string[]) =>
    JSON.parse(execFileSync(python, [path.join(here, 'edl_reference.py'), ...files], { encoding: 'utf8', maxBuffer: 1 << 28 }));
  const letter = { dissolve: 'D', wipe: 'W', key: 'K' } as const;
  const told = (list: EditList) =>
    (list.tracks.find((t) => t.name === 'V1')?.events ?? []).map((e) => ({
      number: Number(e.number),
      line: (e.line ?? 0) - 1,
      reel: e.reel,
      clipName: e.clipName,
      fileName: e.fileName,
      timecodes: [
        formatTimecode(e.source.in, e.sourceRate),
        formatTimecode(e.source.out, e.sourceRate),
        formatTimecode(e.record.in, list.rate),
        formatTimecode(e.record.out, list.rate),
      ],
      transition: e.transitionIn ? letter[e.transitionIn.type] : 'C',
      frames: e.transitionIn?.duration ?? 0,
      cdl: e.cdl && [e.cdl.slope, e.cdl.offset, e.cdl.power],
      saturation: e.cdl?.saturation ?? null,
      picture: true,
      black: e.kind === 'black',
    }));
  it('generated lists: numbers, lines, reels, names, timecodes, transitions and grades', () => {
    const texts = samples(() => ({})).map(writeEdl);
    const read = other(...texts.map((text, i) => put(`p${i}.edl`, text)));
    for (const [i, text] of texts.entries()) {
      const list = readEdl(text, { rate: RATES['24'] });
      expect({ title: read[i].title, events: read[i].events }).toEqual({ title: list.title, events: told(list) });
    }
  });
  it('lists as they come: drop-frame, a fade from black, a wipe, sound beside picture, CRLF', () => {
    const text = [
      'TITLE: AS THEY COME',
      'FCM: DROP FRAME',
      '001  A010     V     C        00:00:00;00 00:00:01;00 01:00:00;00 01:00:01;00',
      '* FROM CLIP NAME: SLATE',
      '002  BL       V     C        00:00:00;00 00:00:00;00 01:00:01;00 01:00:01;00',
      '002  A011     V     D    024 05:41:13;19 05:41:17;19 01:00:01;00 01:00:05;00',
      '* FROM CLIP NAME: BLACK',
      '* TO CLIP NAME: PANS AT DAWN',
      '003  A011     B     C        05:41:17;19 05:41:18;19 01:00:05;00 01:00:06;00',
      '* FROM CLIP NAME: PANS AT DAWN',
      '* SOURCE FILE: A011C001.MOV',
      '004  A011     V     C        05:41:18;19 05:41:18;19 01:00:06;00 01:00:06;00',
      '004  B004     V     W017 015 06:44:20;00 06:44:22;00 01:00:06;00 01:00:08;00',
      '* FROM CLIP NAME: PANS AT DAWN',
      '* TO CLIP NAME: GULLS',
      '005  D002     V     C        13:20:44;04 13:20:45;04 01:00:08;00 01:00:09;00',
      '* FROM CLIP NAME: FROM THE AIR',
      '* ASC_SOP (1.08 1.01 0.94)(0.01 0 -0.015)(1.05 1 0.98)',
      '* ASC_SAT 1.1',
    ].join('\r\n');
    const list = readEdl(text, { rate: RATES['29.97'] });
    const [read] = other(put('come.edl', text));
    expect(read.events).toEqual(told(list));
    expect(told(list).map((e) => e.transition)).toEqual(['C', 'D', 'C', 'W', 'C']);
  });
});

describe('we read what the reference library writes', () => {
  it('as an edit list, from our OpenTimelineIO: cuts and speeds above zero', () => {
    const lists = samples((p) => ({
      join: 0,
      marked: false,
      reel: p.reel.replace('_', 'X').slice(0, 8),
      retime: p.retime.kind === 'constant' && p.retime.speed.num > 0 ? p.retime : { kind: 'natural' },
    }));
    lists.forEach((l, i) => {
      const out = path.join(folder, `library-${i}.edl`);
      reference(put(`e${i}.otio`, writeOtio(l)), '--rewrite', out);
      expect(close(ours(readEdl(readFileSync(out, 'utf8'), { rate: RATES['24'] })))).toEqual(close(ours(l)));
    });
  });
  it('as xmeml, from our xmeml: cuts', () => {
    const lists = samples(() => ({ join: 0, marked: false, retime: { kind: 'natural' } }));
    lists.forEach((l, i) => {
      const out = path.join(folder, `library-${i}.xml`);
      reference(put(`x${i}.xml`, writeXmeml(l)), '--rewrite', out);
      expect(ours(readXmeml(readFileSync(out, 'utf8'))).filter((t) => t.length > 0)).toEqual(ours(l));
    });
  });
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
  for (const l of samples((p) => ({ retime: p.retime.kind === 'constant' && p.retime.speed.num < 0 ? { kind: 'natural' } : p.retime }))) {
    const edl = close(ours(readEdl(writeEdl(l), { rate: RATES['24'] })));
    expect(close(ours(readOtio(writeOtio(l))))).toEqual(edl);
    expect(close(ours(readXmeml(writeXmeml(l))))).toEqual(edl);
  }
});

it("names lose their extension as Python's pathlib takes it off, where it has at most five letters or digits", () => {
  const made = fc.sample(
    fc.tuple(fc.stringMatching(/^[A-Za-z0-9_ -]{1,12}$/), fc.stringMatching(/^[A-Za-z0-9]{1,5}$/)).map(([name, end]) => `x${name}.${end}`),
    { numRuns: 400, seed: 13 },
  );
  const script = 'import json,pathlib,sys;print(json.dumps([pathlib.PurePosixPath(n).stem for n in json.load(sys.stdin)]))';
  const stems = JSON.parse(execFileSync(python, ['-c', script], { encoding: 'utf8', input: JSON.stringify(made) }));
  expect(made.map(withoutExtension)).toEqual(stems);
});
