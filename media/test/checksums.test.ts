import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import path from 'node:path';
import { ALGORITHMS, checkChecksums, type MeasuredChecksum, takenAs } from '@gemello/core';
import { afterAll, describe, expect, it } from 'vitest';
import { c4Of, fingerprinted, measureChecksums, scan } from '../src';
import { exr } from './headers';
import { scratch } from './scratch';

const going = { aborted: false };
const { folder, put, end } = scratch();
afterAll(end);

const measured = (file: string) => measureChecksums({ files: [{ path: file, algorithms: ALGORITHMS }] }, () => {}, going);
const by = (sums: readonly MeasuredChecksum[]) => Object.fromEntries(sums.map((s) => [s.algorithm, s.value]));

describe('a checksum', () => {
  it('agrees with the programs md5sum, sha1sum and xxhsum of Debian, over more than one reading', async () => {
    const file = put('large.bin', Buffer.alloc(9_000_001, 'pans filling '));
    const ours = by(await measured(file));
    const theirs = (program: string, ...args: string[]) =>
      execFileSync(program, [...args, file])
        .toString()
        .split(/\s/)[0]
        ?.replace(/^XXH3_/, '');
    expect(ours.md5).toBe(theirs('md5sum'));
    expect(ours.sha1).toBe(theirs('sha1sum'));
    expect([ours.xxh64, ours.xxh128]).toEqual([theirs('xxhsum', '-H64'), theirs('xxhsum', '-H128')]);
  });
  it('of nothing is as published (RFC 1321; XXH64 and XXH3 with seed 0, xxHash specification; C4: from memory)', async () => {
    const ours = by(await measured(put('nothing.bin', '')));
    expect(ours.md5).toBe('d41d8cd98f00b204e9800998ecf8427e');
    expect([ours.xxh64, ours.xxh3]).toEqual(['ef46db3751d8e999', '2d06800538d394c2']);
    expect(ours.c4).toBe('c459dsjfscH38cYeXXYogktxf4Cd9ibshE3BHUo6a58hBXmRQdZrAkZzsWcbWtDg5oQstpDuni4Hirj75GEmTc1sFT');
    expect(c4Of(new Uint8Array(64))).toBe(`c4${'1'.repeat(88)}`);
  });
  it('can be stopped, and says which file cannot be read', async () => {
    await expect(
      measureChecksums({ files: [{ path: path.join(folder, 'gone.mov'), algorithms: ['md5'] }] }, () => {}, going),
    ).rejects.toThrow(/gone\.mov/);
    const stop = { aborted: false };
    const stopping = measureChecksums(
      { files: [{ path: put('stop.bin', Buffer.alloc(20_000_000)), algorithms: ['xxh64'] }] },
      () => {
        stop.aborted = true;
      },
      stop,
    );
    await expect(stopping).rejects.toThrow('Stopped');
  });
});

describe('a hash manifest', () => {
  const bytes = exr(8, 8, { fps: [24, 1] });
  const md5 = createHash('md5').update(bytes).digest('hex');
  const hash = (file: string, sum: string) => `<hash><path>${file}</path><md5>${sum}</md5></hash>`;
  it('speaks of every frame of a run, and is held against what was measured', async () => {
    for (const n of [1, 2, 3]) put(`card/S001/f.000${n}.exr`, n === 3 ? Buffer.concat([bytes, Buffer.from([1])]) : bytes);
    put(
      'card/ascmhl/0001_card.mhl',
      `<hashlist version="2.0"><hashes>${[1, 2, 3, 4].map((n) => hash(`S001/f.000${n}.exr`, md5)).join('')}</hashes></hashlist>`,
    );
    const found = scan({ folders: [path.join(folder, 'card')] }, () => {}, going);
    const [clip] = found.originals;
    if (!clip) throw new Error('no clip');
    expect(checkChecksums(clip).map((c) => [c.file, c.result])).toEqual(['1', '2', '3'].map((n) => [`f.000${n}.exr`, 'unchecked']));
    // The fourth frame was named and never copied.
    expect(found.missing).toEqual([
      { manifest: path.join(folder, 'card', 'ascmhl', '0001_card.mhl'), files: [path.join(folder, 'card', 'S001', 'f.0004.exr')] },
    ]);
    const files = clip.files.map((f) => ({ path: path.join(path.dirname(clip.path), f), algorithms: ['md5', 'xxh64'] as const }));
    const checked = { ...clip, measured: await measureChecksums({ files }, () => {}, going) };
    expect(checkChecksums(checked).map((c) => c.result)).toEqual(['agrees', 'agrees', 'differs']);
    expect(takenAs([checked]).originals[0]?.warnings).toContainEqual({
      code: 'checksum-differs',
      message: expect.stringContaining('0001_card.mhl states: f.0003.exr differs'),
    });
  });
  it('tells copies from namesakes that only look alike at head and tail', async () => {
    const body = (middle: number) => Buffer.concat([exr(8, 8, { fps: [24, 1] }), Buffer.alloc(20_000, middle), Buffer.alloc(5000, 7)]);
    for (const [place, middle] of [
      ['a', 1],
      ['b', 1],
      ['c', 2],
    ] as const) {
      const whole = body(9);
      whole.set(body(middle).subarray(8000, 12_000), 8000);
      put(`names/${place}/clip_x.exr`, whole);
    }
    const bare = scan({ folders: [path.join(folder, 'names')] }, () => {}, going).originals;
    expect(bare.map((o) => o.print)).toEqual(['', '', '']);
    const found = fingerprinted(bare);
    const codes = (originals: typeof found) => takenAs(originals).originals.map((o) => o.warnings.map((w) => w.code).join(' '));
    expect(codes(found)).toEqual(['same-content', 'same-content', 'same-content']);
    const sure = await Promise.all(
      found.map(async (o) => ({
        ...o,
        measured: await measureChecksums({ files: [{ path: o.path, algorithms: ['xxh64'] }] }, () => {}, going),
      })),
    );
    expect(codes(sure)).toEqual(['same-content same-name', 'same-content same-name', 'same-name']);
    expect(takenAs(sure).originals[0]?.warnings[0]?.message).toContain('to the last byte');
  });
});
