import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useMemo, useRef, useState } from 'react';
import type { TurnoverView } from '../../../contract';

/** The list as it came, file by file, with the lines of the chosen event marked. */
export function RawText({ turnover, event, onChoose }: { turnover: TurnoverView; event: string | null; onChoose: (id: string) => void }) {
  const { files, lines } = turnover;
  const at = event ? (lines[event] ?? null) : null;
  const [picked, setPicked] = useState(0);
  useEffect(() => {
    if (at) setPicked(at.part);
  }, [at]);
  const part = Math.min(picked, files.length - 1);
  const events = useMemo(
    () =>
      Object.entries(lines)
        .filter(([, l]) => l.part === part)
        .map(([id, l]) => [id, l.line] as const)
        .sort((a, b) => a[1] - b[1]),
    [lines, part],
  );
  return (
    <div className="h-full flex flex-col bg-base-200">
      {files.length > 1 && (
        <div className="flex gap-1 px-2 py-1 border-b border-base-300" role="tablist" aria-label="Files of the list">
          {files.map((f, i) => (
            <button
              key={f.fileName}
              type="button"
              role="tab"
              aria-selected={i === part}
              className={`btn btn-xs ${i === part ? 'btn-primary' : 'btn-ghost'}`}
              onClick={() => setPicked(i)}
            >
              {f.fileName}
            </button>
          ))}
        </div>
      )}
      <Lines key={part} text={files[part]?.text ?? ''} line={at?.part === part ? at.line : null} events={events} onChoose={onChoose} />
    </div>
  );
}

interface LinesProps {
  readonly text: string;
  readonly line: number | null;
  /** Event ids with the line each begins on, in line order. */
  readonly events: readonly (readonly [string, number])[];
  readonly onChoose: (id: string) => void;
}

function Lines({ text, line, events, onChoose }: LinesProps) {
  const scroller = useRef<HTMLElement>(null);
  const rows = useMemo(() => text.split(/\r\n|\r|\n/), [text]);
  const virtual = useVirtualizer({ count: rows.length, getScrollElement: () => scroller.current, estimateSize: () => 18, overscan: 20 });
  useEffect(() => {
    if (line !== null) virtual.scrollToIndex(line - 1, { align: 'center' });
  }, [line, virtual]);
  const eventAt = (n: number) => lastAtOrBefore(events, n);
  const marked = line === null ? null : eventAt(line);
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: a scrolling region must be reachable by keyboard
    <section ref={scroller} className="grow min-h-0 overflow-auto" aria-label="The list as it came" tabIndex={0}>
      <div style={{ height: virtual.getTotalSize(), position: 'relative' }}>
        {virtual.getVirtualItems().map(({ index, start }) => {
          const id = eventAt(index + 1);
          return (
            <button
              type="button"
              tabIndex={-1}
              key={index}
              style={{ position: 'absolute', top: start, height: 18 }}
              onClick={() => id && onChoose(id)}
              className={`tc text-xs leading-[18px] text-left w-full pr-2 whitespace-pre ${marked !== null && id === marked ? 'bg-base-300' : ''}`}
            >
              <span className="quiet inline-block w-10 text-right mr-3">{index + 1}</span>
              {rows[index]?.slice(0, 2000)}
            </button>
          );
        })}
      </div>
    </section>
  );
}

/** The event that begins on a line or last before it, by halving. */
function lastAtOrBefore(events: LinesProps['events'], line: number): string | null {
  let [low, high] = [0, events.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if ((events[middle]?.[1] ?? 0) <= line) low = middle + 1;
    else high = middle;
  }
  return events[low - 1]?.[0] ?? null;
}
