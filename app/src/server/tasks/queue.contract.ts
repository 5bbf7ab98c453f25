import type { Lane } from '@gemello/media';
import { describe, expect, it } from 'vitest';
import type { Queue, TakenOut, Work } from './queue';

/** A piece of work that is held until the test lets it end; what happens to it is written down. */
function workbench() {
  const told: string[] = [];
  const open = new Map<string, () => void>();
  const work: Work = (id, signal) =>
    new Promise((resolve) => {
      told.push(`${id} begins`);
      const end = (how: string) => () => {
        told.push(`${id} ${how}`);
        open.delete(id);
        resolve();
      };
      open.set(id, end('ends'));
      signal.addEventListener('abort', () => end(`is taken out: ${signal.reason as TakenOut}`)());
    });
  return { told, work, end: (id: string) => open.get(id)?.() };
}

const settled = () => new Promise((resolve) => setTimeout(resolve, 20));

/**
 * What every queue keeps to, wherever it is kept: run this with yours. It must be empty, and have two places for background
 * work and one for what is waited for.
 */
export function queueContract(name: string, open: (work: Work, slots: Record<Lane, number>) => Queue): void {
  const bench = () => {
    const made = workbench();
    return { ...made, queue: open(made.work, { background: 2, waited: 1 }) };
  };
  const entry = (id: string, lane: Lane = 'background', alone = id) => ({ id, lane, alone });

  describe(`${name} as a queue`, () => {
    it('begins what comes in its order, as many at once as the lane has places', async () => {
      const { queue, told, end } = bench();
      for (const id of ['a', 'b', 'c']) queue.add(entry(id));
      await settled();
      expect(told).toEqual(['a begins', 'b begins']);
      end('b');
      await settled();
      expect(told).toEqual(['a begins', 'b begins', 'b ends', 'c begins']);
      end('a');
      end('c');
      await queue.idle();
    });
    it('lets what a person waits for begin at once, however full the other lane is', async () => {
      const { queue, told, end } = bench();
      for (const id of ['a', 'b', 'c']) queue.add(entry(id));
      queue.add(entry('picture', 'waited'));
      await settled();
      expect(told).toContain('picture begins');
      for (const id of ['a', 'b', 'picture']) end(id);
      await settled();
      end('c');
      await queue.idle();
    });
    it('never runs two at once that write to the same place, and lets others pass them', async () => {
      const { queue, told, end } = bench();
      queue.add(entry('first', 'background', 'job 1'));
      queue.add(entry('second', 'background', 'job 1'));
      queue.add(entry('other', 'background', 'job 2'));
      await settled();
      expect(told).toEqual(['first begins', 'other begins']);
      end('first');
      await settled();
      expect(told.at(-1)).toBe('second begins');
      end('other');
      end('second');
      await queue.idle();
    });
    it('never begins what was taken out while it waited', async () => {
      const { queue, told, end } = bench();
      for (const id of ['a', 'b', 'c', 'd']) queue.add(entry(id));
      await settled();
      expect(await queue.take('c', 'stop')).toBe('waited');
      end('a');
      end('b');
      await settled();
      expect(told).not.toContain('c begins');
      expect(told).toContain('d begins');
      end('d');
      await queue.idle();
    });
    it.each(['stop', 'pause'] as const)('tells what runs why it is taken out: %s', async (why) => {
      const { queue, told } = bench();
      queue.add(entry('a'));
      await settled();
      expect(await queue.take('a', why)).toBe('running');
      await queue.idle();
      expect(told).toEqual(['a begins', `a is taken out: ${why}`]);
      expect(await queue.take('a', why)).toBe('unknown');
    });
    it('takes in again what was taken out', async () => {
      const { queue, told, end } = bench();
      queue.add(entry('a'));
      await settled();
      await queue.take('a', 'pause');
      await queue.idle();
      queue.add(entry('a'));
      await settled();
      end('a');
      await queue.idle();
      expect(told).toEqual(['a begins', 'a is taken out: pause', 'a begins', 'a ends']);
    });
    it('does what is added twice once', async () => {
      const { queue, told, end } = bench();
      queue.add(entry('a'));
      queue.add(entry('a'));
      await settled();
      queue.add(entry('a'));
      await settled();
      end('a');
      await queue.idle();
      expect(told).toEqual(['a begins', 'a ends']);
    });
  });
}
