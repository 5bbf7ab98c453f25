import { expect, it } from 'vitest';
import { timeLeft } from './tasks';

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
