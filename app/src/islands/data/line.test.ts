import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { holdLine, type Source } from './line';

const [CONNECTING, CLOSED] = [0, 2];

/** Lines that were asked for, and what was told of them. */
function begin() {
  const lines: (Source & { open: boolean; readyState: number })[] = [];
  const told: string[] = [];
  const letGo = holdLine(
    () => {
      const line = {
        readyState: CONNECTING,
        onopen: null,
        onerror: null,
        onmessage: null,
        open: true,
        close: () => {},
      } as (typeof lines)[0];
      line.close = () => {
        line.open = false;
      };
      lines.push(line);
      return line;
    },
    {
      opened: (again) => told.push(again ? 'open again' : 'open'),
      heard: (said) => told.push(said),
      broke: () => told.push('broke'),
    },
  );
  const last = () => lines.at(-1) as (typeof lines)[0];
  // What handlers are called on, which none of them looks at.
  const target = {} as EventSource;
  return {
    ...{ lines, told, letGo, last },
    open: () => last().onopen?.call(target, new Event('open')),
    say: (data: string) => last().onmessage?.call(target, new MessageEvent('message', { data })),
    fail: (readyState: number) => {
      last().readyState = readyState;
      last().onerror?.call(target, new Event('error'));
    },
  };
}

beforeEach(() => void vi.useFakeTimers());
afterEach(() => void vi.useRealTimers());

it('a line that broke is taken up by the browser; what changed meanwhile is known to be unknown', () => {
  const { lines, told, open, say, fail } = begin();
  open();
  say('a');
  fail(CONNECTING);
  open();
  expect(told).toEqual(['open', 'a', 'broke', 'open again']);
  expect(lines).toHaveLength(1);
});
// HTML Standard, 9.2.3: a status other than 200 fails the connection, and once failed it is not taken up again.
it('a line that was refused is asked for again', () => {
  const { lines, told, open, fail } = begin();
  open();
  fail(CLOSED);
  expect(lines).toHaveLength(1);
  vi.advanceTimersByTime(3_000);
  expect(lines).toHaveLength(2);
  open();
  expect(told).toEqual(['open', 'broke', 'open again']);
});
it('a line that nothing comes over is taken for broken, one that says each 20 s that the server is there is not', () => {
  const { lines, told, open, say } = begin();
  open();
  for (let i = 0; i < 10; i++) {
    vi.advanceTimersByTime(20_000);
    say('here');
  }
  expect([lines.length, told.includes('broke')]).toEqual([1, false]);
  vi.advanceTimersByTime(60_000);
  expect(told.at(-1)).toBe('broke');
  expect(lines.map((l) => l.open)).toEqual([false, true]);
});
it('a line that does not even come about is asked for again as well, and none after it was let go of', () => {
  const { lines, letGo } = begin();
  vi.advanceTimersByTime(60_000);
  expect(lines.map((l) => l.open)).toEqual([false, true]);
  letGo();
  vi.advanceTimersByTime(600_000);
  expect(lines.map((l) => l.open)).toEqual([false, false]);
});
