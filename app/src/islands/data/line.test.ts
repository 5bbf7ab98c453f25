import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { holdLine, restUnseen, type Source } from './line';

const [CONNECTING, CLOSED] = [0, 2];

/** Lines that were asked for, and what was told of them. */
function begin() {
  const lines: (Source & { open: boolean; readyState: number })[] = [];
  const told: string[] = [];
  const line = holdLine(
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
      opened: () => told.push('open'),
      heard: (said) => told.push(said),
      broke: () => told.push('broke'),
    },
  );
  const last = () => lines.at(-1) as (typeof lines)[0];
  // What handlers are called on, which none of them looks at.
  const target = {} as EventSource;
  return {
    ...{ lines, told, line, last },
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

it('a line that broke is taken up by the browser', () => {
  const { lines, told, open, say, fail } = begin();
  open();
  say('a');
  fail(CONNECTING);
  open();
  expect(told).toEqual(['open', 'a', 'broke', 'open']);
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
  expect(told).toEqual(['open', 'broke', 'open']);
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
  const { lines, line } = begin();
  vi.advanceTimersByTime(60_000);
  expect(lines.map((l) => l.open)).toEqual([false, true]);
  line.end();
  vi.advanceTimersByTime(600_000);
  expect(lines.map((l) => l.open)).toEqual([false, false]);
});

it('a page that is not seen for a while takes up no connection until it is seen again', () => {
  const page = Object.assign(new EventTarget(), { hidden: false });
  const see = (seen: boolean) => {
    page.hidden = !seen;
    page.dispatchEvent(new Event('visibilitychange'));
  };
  const { lines, told, line, open } = begin();
  const letGo = restUnseen(line, page as unknown as Document);
  const isHeld = () => lines.map((l) => l.open);
  open();
  see(false);
  vi.advanceTimersByTime(4_000);
  see(true);
  vi.advanceTimersByTime(10_000);
  expect(isHeld()).toEqual([true]);
  see(false);
  vi.advanceTimersByTime(600_000);
  expect(isHeld()).toEqual([false]);
  see(true);
  expect(isHeld()).toEqual([false, true]);
  open();
  expect(told).toEqual(['open', 'open']);
  see(false);
  letGo();
  vi.advanceTimersByTime(10_000);
  expect(isHeld()).toEqual([false, true]);
});
