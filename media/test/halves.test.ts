import { existsSync, mkdirSync, readdirSync, readFileSync, utimesSync } from 'node:fs';
import { afterAll, describe, expect, it } from 'vitest';
import { clearHalves, HALF, whole, writtenOf } from '../src/plain';
import { scratch } from './scratch';

const { folder, at, put, end } = scratch();
afterAll(end);

describe('what is written', () => {
  it('has its name once it is whole, and not before', () => {
    put('list.edl', 'as before');
    whole(at('list.edl'), (half) => {
      put(half.slice(folder.length + 1), 'as it is now');
      expect(readFileSync(at('list.edl'), 'utf8')).toBe('as before');
    });
    expect(readFileSync(at('list.edl'), 'utf8')).toBe('as it is now');
    expect(readdirSync(folder)).toEqual(['list.edl']);
  });
  it('leaves what had its name where writing it fails, and no half', () => {
    const write = (half: string) => {
      put(half.slice(folder.length + 1), 'to here and no furth');
      throw new Error('The disk is gone.');
    };
    expect(() => whole(at('list.edl'), write)).toThrow('The disk is gone.');
    expect(readFileSync(at('list.edl'), 'utf8')).toBe('as it is now');
    expect(readdirSync(folder)).toEqual(['list.edl']);
  });
  it('may be a folder of frames, of which none of an earlier try is left', () => {
    put(`${HALF}SHOT/0001.dpx`, 'earlier');
    put('SHOT/0009.dpx', 'of another length');
    whole(at('SHOT'), (half) => {
      mkdirSync(half);
      put(`${HALF}SHOT/0002.dpx`, 'now');
    });
    expect(readdirSync(at('SHOT'))).toEqual(['0002.dpx']);
  });
});

it('what is half written counts as written, up to what is reckoned for the whole', () => {
  for (const name of ['reckoned.mov', 'frames/1.dpx', 'frames/2.dpx']) put(`RECKONED/${HALF}${name}`, new Uint8Array(300));
  put('RECKONED/done.mov', 'short');
  const written = (name: string, reckoned: number) => writtenOf(at(`RECKONED/${name}`), reckoned);
  expect([written('reckoned.mov', 1000), written('reckoned.mov', 200)]).toEqual([300, 200]);
  expect([written('frames', 1000), written('done.mov', 1000), written('none.mov', 1000)]).toEqual([600, 1000, 0]);
});

describe('halves that were left', () => {
  it('are removed wherever they lie, and nothing else is, whatever it is called', async () => {
    put(`RETURN/${HALF}A001C001.mov`, 'half');
    put(`RETURN/A001/${HALF}frames/0001.dpx`, 'half');
    put('RETURN/A001.part.mov', 'a clip whose original is called so');
    put('RETURN/.note', 'of a person');
    await clearHalves(at('RETURN'));
    expect(readdirSync(at('RETURN')).sort()).toEqual(['.note', 'A001', 'A001.part.mov']);
    expect(readdirSync(at('RETURN/A001'))).toEqual([]);
  });
  it('stay where they are still being written', async () => {
    put(`RETURN/${HALF}old.mov`, 'half');
    put(`RETURN/${HALF}new.mov`, 'half');
    utimesSync(at(`RETURN/${HALF}old.mov`), 1000, 1000);
    await clearHalves(at('RETURN'), 2_000_000);
    expect(existsSync(at(`RETURN/${HALF}old.mov`))).toBe(false);
    expect(existsSync(at(`RETURN/${HALF}new.mov`))).toBe(true);
  });
  it('are none in a folder that is not there', async () => {
    await expect(clearHalves(at('nowhere'))).resolves.toBeUndefined();
  });
});
