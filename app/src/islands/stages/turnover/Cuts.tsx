import { readMarks, USUAL_THRESHOLD } from '@gemello/core/cutting';
import { formatTimecode } from '@gemello/core/time';
import { plural } from '@gemello/core/words';
import { Cross2Icon } from '@radix-ui/react-icons';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useMemo, useRef, useState } from 'react';
import { toast } from 'sonner';
import type { CutsFound, CutsView, JobView, MarkView } from '../../../contract';
import { useCuts, useListFromMarks } from '../../data/cuts';
import { useStart } from '../../data/queries';
import { isOpen } from '../../data/tasks';
import { FileButton } from '../../parts/FileButton';
import { Picture } from '../../parts/Picture';
import { TaskLine, useOpenTasks } from '../../parts/TaskLine';
import { CutsChart } from './CutsChart';
import { CutsClose } from './CutsClose';

/** The reference cut up again: where it is cut, by a threshold and by hand, and a list out of that. */
export function Cuts({ job, view, onDone }: { job: string; view: JobView; onDone: () => void }) {
  const { data } = useCuts(job);
  const start = useStart(job);
  const running = useOpenTasks(view.tasks).find((t) => t.kind === 'cuts');
  if (!data?.movie) return null;
  return (
    <section aria-label="Cuts of the reference" className="grow min-h-0 flex flex-col">
      <div className="flex flex-wrap items-center gap-2 px-4 py-2 border-b border-base-300 text-xs">
        <h2 className="font-medium text-sm">Cuts of {data.movie.fileName}</h2>
        {running ? (
          <TaskLine job={job} task={running} />
        ) : (
          <button
            type="button"
            className={`btn btn-xs ${data.found ? '' : 'btn-primary'}`}
            disabled={start.isPending}
            onClick={() => start.mutate({ kind: 'cuts' })}
          >
            {data.found ? 'Look again' : 'Look for cuts'}
          </button>
        )}
        <button type="button" className="btn btn-xs btn-ghost ml-auto" onClick={onDone}>
          Close
        </button>
      </div>
      {data.found ? (
        <Marks key={data.found.madeFrom} job={job} view={view} movie={data.movie} found={data.found} />
      ) : (
        <p className="quiet text-xs p-4 max-w-prose">
          The reference is looked through once for cuts, dissolves and fades. What changes from frame to frame is then drawn along the
          movie, and the threshold, and each mark, can be set by hand before a list is made of them.
        </p>
      )}
    </section>
  );
}

type Movie = NonNullable<CutsView['movie']>;

/** What a person did to the marks that were found: those taken away, by frame, and those set. */
interface Edits {
  readonly removed: ReadonlySet<number>;
  readonly added: readonly MarkView[];
}

const byHand = (frame: number): MarkView => ({ kind: 'cut', frame, frames: 0, score: 1 });

function Marks({ job, view, movie, found }: { job: string; view: JobView; movie: Movie; found: CutsFound }) {
  const [threshold, setThreshold] = useState(USUAL_THRESHOLD);
  const [edits, setEdits] = useState<Edits>({ removed: new Set(), added: [] });
  const [chosen, setChosen] = useState<number | null>(null);
  const list = useListFromMarks(job);
  const start = useStart(job);
  const rebuilding = useOpenTasks(view.tasks).find((t) => t.kind === 'rebuild');
  const marks = useMemo(() => {
    const kept = found.marks.filter((m) => m.score >= threshold && !edits.removed.has(m.frame));
    const own = new Set(edits.added.map((m) => m.frame));
    return [...kept.filter((m) => !own.has(m.frame)), ...edits.added].sort((a, b) => a.frame - b.frame);
  }, [found, threshold, edits]);
  const remove = (mark: MarkView) =>
    setEdits({ removed: new Set([...edits.removed, mark.frame]), added: edits.added.filter((m) => m.frame !== mark.frame) });
  const add = (frame: number) => {
    if (frame <= 0 || frame >= movie.frames || marks.some((m) => m.frame === frame)) return;
    setEdits({ removed: new Set([...edits.removed].filter((f) => f !== frame)), added: [...edits.added, byHand(frame)] });
    setChosen(frame);
  };
  const nudge = (mark: MarkView, by: number) => {
    const frame = mark.frame + by;
    if (frame <= 0 || frame >= movie.frames || marks.some((m) => m.frame === frame)) return;
    setEdits({
      removed: new Set([...edits.removed, mark.frame]),
      added: [...edits.added.filter((m) => m.frame !== mark.frame), { ...mark, frame, score: 1 }],
    });
    setChosen(frame);
  };
  const importMarks = async ([file]: File[]) => {
    if (!file) return;
    const read = readMarks(await file.text(), movie);
    for (const p of read.problems.slice(0, 3)) toast.error(`${file.name}, line ${p.line}: ${p.message}`, { duration: 12_000 });
    if (read.marks.length === 0) return;
    setEdits({ removed: new Set(found.marks.map((m) => m.frame)), added: read.marks.map((m) => byHand(m.frame)) });
    toast(`${plural(read.marks.length, 'mark')} from ${file.name} in place of those that were found`);
  };
  const mark = marks.find((m) => m.frame === chosen) ?? marks[0] ?? null;
  return (
    <div className="grow min-h-0 grid min-[901px]:grid-cols-[1fr_21rem]">
      <div className="p-4 space-y-3 overflow-y-auto min-w-0">
        <CutsChart
          movie={movie}
          change={found.change}
          marks={marks}
          chosen={mark?.frame ?? null}
          threshold={threshold}
          onThreshold={setThreshold}
          onChoose={setChosen}
        />
        {mark && (
          <>
            <CutsClose movie={movie} change={found.change} marks={marks} at={mark.frame} onAdd={add} onChoose={setChosen} />
            <div className="grid grid-cols-2 gap-2 text-xs max-w-3xl">
              {[mark.frame - 1, mark.frame + mark.frames].map((n, side) => (
                <figure key={side === 0 ? 'before' : 'after'}>
                  <Picture
                    job={job}
                    side="reference"
                    frame={movie.record + n}
                    width={480}
                    look={view.id}
                    alt={side === 0 ? 'Before the mark' : 'After the mark'}
                    empty="no frame"
                    className="w-full aspect-video"
                  />
                  <figcaption className="quiet pt-1">
                    {side === 0 ? 'the last frame before' : mark.frames > 0 ? 'the first frame after' : 'its first frame'}{' '}
                    <span className="tc">{formatTimecode(movie.start + n, movie.rate)}</span>
                  </figcaption>
                </figure>
              ))}
            </div>
          </>
        )}
      </div>
      <aside className="border-l border-base-300 flex flex-col min-h-0 text-xs" aria-label="Marks">
        <div className="p-3 space-y-2 border-b border-base-300">
          <p className="font-medium">{`${plural(marks.length, 'mark')}, ${plural(marks.length + 1, 'shot')}`}</p>
          <div className="flex flex-wrap gap-1">
            <button type="button" className="btn btn-xs btn-primary" disabled={list.isPending} onClick={() => list.mutate(marks)}>
              Make a list of these shots
            </button>
            <FileButton label="Import marks" onFiles={importMarks}>
              Import marks
            </FileButton>
          </div>
          {rebuilding && isOpen(rebuilding) ? (
            <TaskLine job={job} task={rebuilding} />
          ) : (
            <div>
              <button
                type="button"
                className="btn btn-xs"
                disabled={start.isPending || view.originals === 0}
                onClick={() => start.mutate({ kind: 'rebuild', marks })}
              >
                Find these shots in the originals
              </button>
              <p className="quiet pt-1">
                {view.originals === 0
                  ? 'Add the volumes of the originals first.'
                  : 'Each shot is looked for by its picture; a list with its source, speed, size and dissolves arrives here.'}
              </p>
            </div>
          )}
        </div>
        <MarkList movie={movie} marks={marks} chosen={mark?.frame ?? null} onChoose={setChosen} onRemove={remove} onNudge={nudge} />
      </aside>
    </div>
  );
}

const WORDS: Record<MarkView['kind'], string> = {
  cut: 'cut',
  dissolve: 'dissolve',
  'fade-out': 'fade out',
  'fade-in': 'fade in',
};
const ROW = 30;

function MarkList({
  movie,
  marks,
  chosen,
  onChoose,
  onRemove,
  onNudge,
}: {
  movie: Movie;
  marks: readonly MarkView[];
  chosen: number | null;
  onChoose: (frame: number) => void;
  onRemove: (mark: MarkView) => void;
  onNudge: (mark: MarkView, by: number) => void;
}) {
  const scroller = useRef<HTMLDivElement>(null);
  const rows = useVirtualizer({ count: marks.length, getScrollElement: () => scroller.current, estimateSize: () => ROW, overscan: 12 });
  return (
    <div ref={scroller} className="grow overflow-y-auto" data-testid="marks">
      <ul className="relative" style={{ height: rows.getTotalSize() }}>
        {rows.getVirtualItems().map(({ index, start }) => {
          const mark = marks[index];
          if (!mark) return null;
          const timecode = formatTimecode(movie.start + mark.frame, movie.rate);
          return (
            <li
              key={mark.frame}
              className={`absolute inset-x-0 flex items-center gap-1 px-3 border-b border-base-300 ${mark.frame === chosen ? 'bg-base-300' : ''}`}
              style={{ top: start, height: ROW }}
            >
              <button type="button" className="grow text-left truncate" onClick={() => onChoose(mark.frame)}>
                <span className="tc">{timecode}</span> {WORDS[mark.kind]}
                {mark.frames > 0 && <span className="quiet tc" title="Length in frames">{` ${mark.frames}`}</span>}
              </button>
              <span className="tc quiet">{mark.score === 1 ? 'by hand' : mark.score.toFixed(2)}</span>
              <button
                type="button"
                className="btn btn-xs btn-ghost px-1"
                aria-label={`${timecode}: one frame earlier`}
                onClick={() => onNudge(mark, -1)}
              >
                −1
              </button>
              <button
                type="button"
                className="btn btn-xs btn-ghost px-1"
                aria-label={`${timecode}: one frame later`}
                onClick={() => onNudge(mark, 1)}
              >
                +1
              </button>
              <button type="button" className="btn btn-xs btn-ghost px-1" aria-label={`${timecode}: remove`} onClick={() => onRemove(mark)}>
                <Cross2Icon />
              </button>
            </li>
          );
        })}
      </ul>
    </div>
  );
}
