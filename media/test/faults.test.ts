import { expect, it } from 'vitest';
import { DiskRefuses, isFaultOfFile, MediaError, mustHaveRoom, refusalOf } from '../src';

const ofSystem = (code: string, syscall: string) => Object.assign(new Error(`${code}: it says so, ${syscall} 'a.mov'`), { code, syscall });

it('a disk takes nothing where it is full, a share of it is used up, or it can only be read (errno: ENOSPC, EDQUOT, EROFS)', () => {
  expect(['ENOSPC', 'EDQUOT', 'EROFS'].map((code) => refusalOf(ofSystem(code, 'write')))).toEqual(['full', 'full', 'read-only']);
  expect(refusalOf(new DiskRefuses('read-only'))).toBe('read-only');
  for (const other of [ofSystem('ENOENT', 'open'), ofSystem('EIO', 'read'), new MediaError('cut off'), new Error('x'), 'ENOSPC', null])
    expect(refusalOf(other)).toBeNull();
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
  expect(() => mustHaveRoom('The clips', 12.34e9, 2e9, 'choose another kind of clip')).toThrow(
    'The clips will take about 12.3 GB, and the disk has 2.0 GB left. Make room on it, or choose another kind of clip.',
  );
  expect(() => mustHaveRoom('The movie', 40e6, 12e6, 'make it smaller')).toThrow('about 0.04 GB, and the disk has 0.01 GB left');
  expect(() => mustHaveRoom('The movie', 40e6, 40e6, 'make it smaller')).not.toThrow();
});
