import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';

/** A page has a store of its own that outlives its being loaded again. */
const kept = new Map<string, string>();
vi.stubGlobal('sessionStorage', {
  getItem: (name: string) => kept.get(name) ?? null,
  setItem: (name: string, value: string) => kept.set(name, value),
  removeItem: (name: string) => kept.delete(name),
});
let own: typeof import('./own');
const load = async () => {
  vi.resetModules();
  own = await import('./own');
};
beforeEach(load);
afterEach(() => kept.clear());

const log = (...batches: string[]) => batches.map((b) => ({ batch: b.replace('-', ''), withdrawn: b.startsWith('-') }));

describe('what is undone by a key', () => {
  it('is the last that was decided on this page, not what others decided after it', () => {
    own.decidedHere({ batch: 'a' });
    own.decidedHere({ batch: 'b' });
    expect(own.nextOf(log('theirs', 'b', 'a')).undo?.batch).toBe('b');
    expect(own.nextOf(log('theirs', '-b', 'a')).undo?.batch).toBe('a');
    expect(own.nextOf(log('theirs', '-b', '-a')).undo).toBeUndefined();
    expect(own.nextOf(log('theirs')).undo).toBeUndefined();
  });
  it('is done again in the order it was undone in, the last undone first', () => {
    for (const batch of ['a', 'b', 'c']) own.decidedHere({ batch });
    expect(own.nextOf(log('-c', 'theirs', '-b', 'a')).redo?.batch).toBe('b');
    expect(own.nextOf(log('-c', 'b', 'a')).redo?.batch).toBe('c');
    expect(own.nextOf(log('-c', '-b', '-a')).redo?.batch).toBe('a');
    expect(own.nextOf(log('c', 'b', '-theirs', 'a')).redo).toBeUndefined();
  });
  it('is still known when the page is loaded again', async () => {
    own.decidedHere({ batch: 'a' });
    await load();
    expect(own.nextOf(log('a')).undo?.batch).toBe('a');
  });
  it('of an answer that decided nothing is nothing', () => {
    own.decidedHere({ batch: null });
    expect(own.nextOf(log('a'))).toEqual({ undo: undefined, redo: undefined });
  });
});
