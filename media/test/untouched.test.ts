import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { lstatSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import {
  acceptPairs,
  applyDecisions,
  type EditList,
  formatTimecode,
  type Original,
  pair,
  RATES,
  readEdl,
  standingList,
  USUAL_RETURN,
} from '@gemello/core';
import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import {
  closePictures,
  fingerprints,
  grabPicture,
  makeProxies,
  measureChecksums,
  probeMovie,
  render,
  scan,
  writeReturn,
  writeStills,
} from '../src';
import { writeClip, writeFrames } from './footage';
import { prove } from './proving';

const silent = () => {};
const going = { aborted: false };
const folder = mkdtempSync(path.join(tmpdir(), 'gemello-untouched-'));
const out = path.join(folder, 'job');
const scanned = (at: string) => scan({ folders: [at] }, silent, going);
afterAll(() => {
  closePictures();
  rmSync(folder, { recursive: true });
});

/** All that can be told of a tree: names, kinds, sizes, times of change, content. */
function stateOf(root: string): string[] {
  return readdirSync(root, { recursive: true, withFileTypes: true })
    .map((entry) => {
      const file = path.join(entry.parentPath, entry.name);
      const { mode, size, mtimeMs, ctimeMs, ino } = lstatSync(file);
      const content = entry.isFile() ? createHash('sha256').update(readFileSync(file)).digest('hex') : '';
      return [path.relative(root, file), mode, size, mtimeMs, ctimeMs, ino, content].join(' ');
    })
    .sort();
}

const accepted = (list: EditList, originals: readonly Original[]) =>
  applyDecisions(list, acceptPairs(pair(standingList(list), originals), 'best')).list;

describe('originals are only read', () => {
  const cards = path.join(folder, 'cards');
  beforeAll(() => {
    const base = { writer: 'intra-8bit', rate: RATES['24'], reel: 'A001' } as const;
    writeClip(path.join(cards, 'A001', 'A001C001.mov'), { ...base, start: '01:00:00:00', frames: 48 });
    writeFrames(path.join(cards, 'S004'), 12);
    writeClip(path.join(folder, 'reference.mov'), { ...base, reel: '', start: '10:00:00:00', frames: 24 }, 12);
    mkdirSync(out);
  });
  it('whatever is done with them: size, time of change, inode and every byte stay', async () => {
    const before = stateOf(cards);
    const { originals } = scanned(cards);
    expect(originals).toHaveLength(2);
    const tc = (n: number) => formatTimecode(n, RATES['24']);
    const read = readEdl(`TITLE: A\n001  A001  V  C  ${tc(86_412)} ${tc(86_436)} 10:00:00:00 10:00:01:00`, { rate: RATES['24'] });
    const list = accepted(read, originals);
    const reference = probeMovie(path.join(folder, 'reference.mov'));
    const proof = prove({ list, originals, reference, cache: path.join(out, 'cache'), only: null }, silent, going);
    expect(proof.events[0]?.verdict).toBe('same');
    for (const original of originals) expect(grabPicture(original, 3, 64, 36)).not.toBeNull();
    fingerprints(originals);
    const measured = { path: path.join(cards, 'A001', 'A001C001.mov'), algorithms: ['md5', 'xxh64'] as const };
    expect(await measureChecksums({ files: [measured] }, silent, going)).toHaveLength(2);
    const copies = { clips: originals.map((original) => ({ original, into: 'x' })), folder: path.join(out, 'light') };
    expect(makeProxies({ ...copies, codec: 'proxy-small', size: 'half', burnIn: true }, silent, going).problems).toEqual([]);
    writeReturn(
      { list, originals, folder: path.join(out, 'back'), asked: { ...USUAL_RETURN, handles: 6 }, title: 'A', render: true },
      silent,
      going,
    );
    const file = path.join(out, 'whole.mov');
    render({ list, originals, file, codec: 'intra-light', size: null, burnIn: false, sound: null }, silent, going);
    const lay = { start: 864_000, fit: null };
    const stills = {
      list,
      originals,
      reference: { movie: reference, lay },
      at: [864_003],
      folder: path.join(out, 'stills'),
      show: 'facing' as const,
      size: null,
    };
    expect((await writeStills(stills, silent, going)).stills).toHaveLength(1);
    expect(stateOf(cards)).toEqual(before);
  });
  it('and a return is refused where it would stand among them', () => {
    const { originals } = scanned(cards);
    const read = readEdl('TITLE: A\n001  A001  V  C  01:00:00:12 01:00:01:12 10:00:00:00 10:00:01:00', { rate: RATES['24'] });
    const list = accepted(read, originals);
    const before = stateOf(cards);
    const beside = { list, originals, asked: { ...USUAL_RETURN, handles: 0 }, title: 'A', render: true };
    expect(() => writeReturn({ ...beside, folder: path.join(cards, 'A001') }, silent, going)).toThrow();
    expect(stateOf(cards)).toEqual(before);
  });
});

describe('a volume that holds all sorts of things', () => {
  const odd = path.join(folder, 'odd');
  const frame = () => readFileSync(path.join(folder, 'cards', 'S004', 'S004.0001001.dpx'));
  beforeAll(() => {
    mkdirSync(path.join(odd, 'deep', 'deeper'), { recursive: true });
    writeFileSync(path.join(odd, 'z_last.dpx'), frame());
    for (const bare of ['mov', 'dpx', 'xml', 'README']) writeFileSync(path.join(odd, bare), 'no extension, no clip');
  });
  it('does not keep a scan from what can be read beside broken links, loops and pipes', () => {
    symlinkSync(path.join(odd, 'nowhere'), path.join(odd, 'broken.mov'));
    symlinkSync(odd, path.join(odd, 'deep', 'loop'));
    symlinkSync('self', path.join(odd, 'self'));
    execFileSync('mkfifo', [path.join(odd, 'pipe.mov')]);
    const { originals, problems } = scanned(odd);
    expect(originals.map((o) => o.fileName)).toEqual(['z_last.dpx']);
    expect(problems.map((p) => path.basename(p.path)).sort()).toEqual(['broken.mov', 'self']);
    expect(problems[0]?.message).toContain('leads nowhere. Is what it leads to mounted?');
  });
  it('has names in every script, and some that are hardly names', () => {
    for (const name of [
      'ünï çödé.dpx',
      '盐田.dpx',
      'with\nline.dpx',
      'quote\'".dpx',
      ' .dpx',
      '-rf.dpx',
      '%00.dpx',
      `${'l'.repeat(240)}.dpx`,
    ])
      writeFileSync(path.join(odd, 'deep', name), frame());
    // Bytes that are no UTF-8, as old cards have them.
    writeFileSync(Buffer.concat([Buffer.from(`${path.join(odd, 'deep')}/`), Buffer.from([0xff, 0xfe]), Buffer.from('.dpx')]), frame());
    const { originals, problems } = scanned(odd);
    expect(originals.filter((o) => o.path.includes('/deep/'))).toHaveLength(8);
    expect(originals.every((o) => o.raster.width > 0)).toBe(true);
    // It cannot be asked for by a name that is not its own; it is named and not passed over.
    expect(problems.filter((p) => p.path.includes('\ufffd'))).toHaveLength(1);
  });
  it('of one byte over and over is no movie, whatever FFmpeg takes it for', () => {
    for (let byte = 0; byte < 256; byte++) {
      const file = path.join(folder, 'same.mxf');
      writeFileSync(file, Buffer.alloc(3000, byte));
      expect(() => probeMovie(file)).toThrow(/^Cannot (open|read) same\.mxf/);
    }
  });
  it('of any bytes under any extension is read or named, and never ends the scan', () => {
    const extensions = ['mov', 'mxf', 'mp4', 'avi', 'mkv', 'dpx', 'exr', 'tif', 'png', 'jpg', 'wav', 'xml', 'mhl', 'cdl', 'cube', 'csv'];
    const heads = [
      [],
      [...Buffer.from('SDPX')],
      [0x76, 0x2f, 0x31, 0x01],
      [...Buffer.from('RIFF\x10\x00\x00\x00WAVE')],
      [0x06, 0x0e, 0x2b, 0x34],
      [0, 0, 0, 20, ...Buffer.from('ftypqt  ')],
    ];
    const file = fc.tuple(fc.constantFrom(...extensions), fc.constantFrom(...heads), fc.uint8Array({ maxLength: 400 }));
    let run = 0;
    fc.assert(
      fc.property(fc.array(file, { minLength: 1, maxLength: 8 }), (files) => {
        const at = path.join(folder, 'noise', String(run++));
        mkdirSync(at, { recursive: true });
        files.forEach(([extension, head, rest], i) => {
          writeFileSync(path.join(at, `n${'abcdefgh'[i]}.${extension}`), Buffer.concat([Buffer.from(head), rest]));
        });
        writeFileSync(path.join(at, 'z.dpx'), frame());
        const { originals, problems, logs } = scanned(at);
        const papers = files.filter(([e]) => ['xml', 'mhl', 'cdl', 'cube', 'csv'].includes(e)).length;
        expect(originals.some((o) => o.fileName === 'z.dpx')).toBe(true);
        expect(originals.length + problems.length).toBe(files.length - papers + 1);
        expect(originals.every((o) => o.kind === 'sound' || (o.raster.width > 0 && o.raster.height > 0))).toBe(true);
        expect(logs.length).toBe(files.filter(([e]) => e === 'csv').length);
      }),
      { numRuns: 60 },
    );
  });
});
