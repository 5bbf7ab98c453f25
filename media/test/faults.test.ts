import { tmpdir } from 'node:os';
import { expect, it } from 'vitest';
import { DiskRefuses, isFaultOfFile, MediaError, mustHaveRoom, refused, withRoom } from '../src';

const clips = { what: 'The clips', instead: 'choose another kind of clip' };
const ofSystem = (code: string, syscall: string) => Object.assign(new Error(`${code}: it says so, ${syscall} 'a.mov'`), { code, syscall });

it('a disk takes nothing where it is full, a share of it is used up, or it can only be read (errno: ENOSPC, EDQUOT, EROFS)', () => {
  expect(['ENOSPC', 'EDQUOT', 'EROFS'].map((code) => refused(ofSystem(code, 'write'))?.why)).toEqual(['full', 'full', 'read-only']);
  expect(refused(new DiskRefuses('read-only'))?.why).toBe('read-only');
  for (const other of [ofSystem('ENOENT', 'open'), ofSystem('EIO', 'read'), new MediaError('cut off'), new Error('x'), 'ENOSPC', null])
    expect(refused(other)).toBeNull();
});

it('what one file lacks leaves the others to be done, what the disk does not take leaves none', () => {
  expect([ofSystem('ENOENT', 'open'), ofSystem('EIO', 'read'), new MediaError('cut off')].map(isFaultOfFile)).toEqual([true, true, true]);
  expect([ofSystem('EROFS', 'open'), ofSystem('ENOSPC', 'write'), new DiskRefuses('full')].map(isFaultOfFile)).toEqual([
    false,
    false,
    false,
  ]);
  expect(isFaultOfFile(new TypeError('ours'))).toBe(false);
});

it('work that a disk has no room for is refused before it begins, with both figures', () => {
  expect(() => mustHaveRoom(clips, 12.34e9, 2e9)).toThrow(
    'The clips will take about 12.3 GB, and the disk has 2.0 GB left. Make room on it, or choose another kind of clip.',
  );
  expect(() => mustHaveRoom(clips, 40e6, 1.24e6)).toThrow('about 40 MB, and the disk has 1.2 MB left');
  expect(() => mustHaveRoom(clips, 40e6, 40e6)).not.toThrow();
  expect(() => withRoom(tmpdir(), clips, () => 1e18, expect.unreachable)).toThrow(/^The clips will take about 1000000000\.0 GB/);
});

it('a disk that is full before the work ends is told with what is left to write, and no other fault is', () => {
  let left = 3e6;
  const fails = (fault: Error) => () => {
    left = 2e6;
    throw fault;
  };
  expect(() => withRoom(tmpdir(), clips, () => left, fails(ofSystem('ENOSPC', 'write')))).toThrow(
    'The disk that is written to is full. Make room on it, about 2.0 MB for what is left, then go on; what was finished is kept.',
  );
  const other = ofSystem('EROFS', 'open');
  expect(() => withRoom(tmpdir(), clips, () => left, fails(other))).toThrow(other);
  expect(
    withRoom(
      tmpdir(),
      clips,
      () => left,
      () => 'done',
    ),
  ).toBe('done');
});
