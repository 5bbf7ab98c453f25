import { expect, it } from 'vitest';
import { timeLeft, useTasks } from './tasks';

const task = { id: 't', kind: 'return', state: 'running', what: '', message: '', createdAt: 0, endedAt: null, total: 1000 } as const;
const left = (done: number, seconds: number, from = 0) => timeLeft({ ...task, done }, { at: 0, done: from }, seconds * 1000);

it('a task says how long it will take at the pace it had since it was heard of', () => {
  expect(left(100, 60)).toBe('about 9 min left');
  // Half was done before: 50 in a minute leave 450.
  expect(left(550, 60, 500)).toBe('about 9 min left');
  expect(left(900, 60)).toBe('less than a minute left');
  expect(left(30, 600)).toBe('about 5 h left');
});
it('it says nothing before it has gone for a while, when it waits, and at its end', () => {
  expect(left(100, 2)).toBe('');
  expect(left(10, 60)).toBe('');
  expect(left(1000, 60)).toBe('');
  expect(timeLeft({ ...task, done: 100, state: 'paused' }, { at: 0, done: 0 }, 60_000)).toBe('');
  expect(timeLeft({ ...task, done: 100 }, undefined, 60_000)).toBe('');
});
it('of a task that ended while nothing was heard its end is told, and one that nobody knows any more is gone', () => {
  const { hear, catchUp } = useTasks.getState();
  const [proof, scan, gone] = (['proof', 'scan', 'copies'] as const).map((kind) => ({ ...task, id: kind, kind, done: 100 }));
  for (const one of [proof, scan, gone]) if (one) hear(one);
  catchUp([
    { ...task, id: 'proof', kind: 'proof', state: 'failed', done: 100, message: 'The disk is full.' },
    { ...task, id: 'scan', kind: 'scan', done: 700 },
  ]);
  const { byId } = useTasks.getState();
  expect(Object.values(byId).map((t) => [t.id, t.state, t.done])).toEqual([
    ['proof', 'failed', 100],
    ['scan', 'running', 700],
  ]);
});
