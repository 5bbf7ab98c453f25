import { describe, expect, it } from 'vitest';
import { commonMove, movedBy, planRelink } from '.';

describe('a folder that moved (TRADE.md, typical failures)', () => {
  it('is told from where one of its files lies now', () => {
    const move = commonMove('/Volumes/SALT_01/DAY_1/A011/A011C001.mov', '/mnt/store/salt/DAY_1/A011/A011C001.mov');
    expect(move).toEqual({ from: '/Volumes/SALT_01', to: '/mnt/store/salt' });
    expect(move && movedBy(move, '/Volumes/SALT_01/DAY_2/B004/x.mov')).toBe('/mnt/store/salt/DAY_2/B004/x.mov');
  });
  it('concerns nothing that merely begins alike', () => {
    expect(movedBy({ from: '/v/SALT', to: '/w' }, '/v/SALT_2/x.mov')).toBeNull();
  });
  it('of a file that was renamed is a move of that file alone', () => {
    expect(commonMove('/v/A/x.mov', '/v/A/y.mov')).toEqual({ from: '/v/A/x.mov', to: '/v/A/y.mov' });
    expect(commonMove('/v/A/x.mov', '/v/A/x.mov')).toBeNull();
  });
  it('brings back what is there, and names what is not', () => {
    const there = new Set(['/w/A/1.mov', '/w/B/2.mov']);
    const plan = planRelink({ from: '/v', to: '/w' }, ['/v/A/1.mov', '/v/B/2.mov', '/v/C/3.mov', '/u/4.mov'], (p) => there.has(p));
    expect(plan.found.map((f) => f.to)).toEqual(['/w/A/1.mov', '/w/B/2.mov']);
    expect(plan.exceptions).toEqual(['/v/C/3.mov']);
  });
});
