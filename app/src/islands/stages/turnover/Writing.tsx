import { LIST_KINDS } from '@gemello/core/lists';
import { useState } from 'react';
import type { Writing as WritingOptions } from '../../../contract';
import { useWritten, writtenAddress } from '../../data/queries';

const FORMATS = Object.values(LIST_KINDS)
  .flatMap((f) => f.extensions.map((extension) => ({ extension, title: f.title, flat: f.flat })))
  .filter((f) => f.extension !== 'xmeml');

/** Writes the cut as it stands in any format, and tells before what that cannot carry. */
export function Writing({ job, title, onDone }: { job: string; title: string; onDone: () => void }) {
  const [writing, setWriting] = useState<WritingOptions>({ format: 'edl', title });
  const { data: view, error } = useWritten(job, writing);
  const set = (part: Partial<WritingOptions>) => setWriting({ ...writing, ...part });
  const flat = FORMATS.find((f) => f.extension === writing.format)?.flat ?? false;
  return (
    <section aria-label="Export the cut" className="grow min-h-0 grid grid-cols-[minmax(26rem,1fr)_minmax(24rem,1.3fr)]">
      <div className="overflow-y-auto px-4 py-3 border-r border-base-300">
        <h2 className="font-medium mb-1">Export the cut</h2>
        <p className="quiet text-xs mb-3">As it is now, with what was copied from other lists. The delivered list is not changed.</p>
        <div className="grid grid-cols-[7.5rem_1fr] gap-x-3 gap-y-2 items-center text-xs">
          <label htmlFor="write-format">Format</label>
          <select
            id="write-format"
            className="select select-xs w-64"
            value={writing.format}
            onChange={(e) => set({ format: e.target.value })}
          >
            {FORMATS.map((f) => (
              <option key={f.extension} value={f.extension}>{`${f.title} .${f.extension}`}</option>
            ))}
          </select>
          <label htmlFor="write-title">Title</label>
          <input
            id="write-title"
            className="input input-xs w-64"
            value={writing.title ?? ''}
            onChange={(e) => set({ title: e.target.value })}
          />
          <label htmlFor="write-numbers">Event numbers</label>
          <select
            id="write-numbers"
            className="select select-xs w-64"
            value={writing.numbering ?? 'keep'}
            onChange={(e) => set({ numbering: e.target.value as 'keep' | 'anew' })}
          >
            <option value="keep">as in the cut</option>
            <option value="anew">anew, in record order</option>
          </select>
          <label htmlFor="write-reels">Reels</label>
          <select
            id="write-reels"
            className="select select-xs w-64"
            value={writing.reelLength ?? ''}
            onChange={(e) => set({ reelLength: e.target.value ? Number(e.target.value) : undefined })}
          >
            <option value="">in full</option>
            <option value="8">8 characters at most</option>
            <option value="32">32 characters at most</option>
            <option value="128">128 characters at most</option>
          </select>
          <label htmlFor="write-counting">Record timecode</label>
          <select
            id="write-counting"
            className="select select-xs w-64"
            value={writing.counting ?? ''}
            onChange={(e) => set({ counting: (e.target.value || undefined) as WritingOptions['counting'] })}
          >
            <option value="">counted as in the cut</option>
            <option value="drop">drop-frame</option>
            <option value="non-drop">non-drop</option>
          </select>
          {flat && (
            <>
              <label htmlFor="write-layers">Layers</label>
              <select
                id="write-layers"
                className="select select-xs w-64"
                value={writing.layers ?? 'together'}
                onChange={(e) => set({ layers: e.target.value as 'together' | 'apart' })}
              >
                <option value="together">in one file</option>
                <option value="apart">one file each</option>
              </select>
            </>
          )}
        </div>
        <button type="button" className="btn btn-sm btn-ghost mt-4" onClick={onDone}>
          Back to the reading
        </button>
      </div>
      <div className="overflow-y-auto px-4 py-3 text-xs">
        {error && <p className="text-error">{error.message}</p>}
        {view && (
          <>
            {view.notices.length > 0 && <h3 className="font-medium mb-1">What {view.format} would not carry</h3>}
            {view.notices.length === 0 && <p>Written as {view.format} and read again, it is the same cut.</p>}
            <ul>
              {view.notices.map((n) => (
                <li key={n.message} className="py-1 border-t border-base-300 flex gap-3">
                  <span className={`w-16 shrink-0 ${n.severity === 'lost' ? 'text-warning' : 'quiet'}`}>{n.severity}</span>
                  {n.message}
                </li>
              ))}
            </ul>
            {view.reels.length > 0 && (
              <table className="mt-3" aria-label="Shortened reels">
                <thead>
                  <tr className="quiet text-left">
                    <th className="font-normal pr-4">Reel</th>
                    <th className="font-normal">Written as</th>
                  </tr>
                </thead>
                <tbody>
                  {view.reels.slice(0, 40).map((r) => (
                    <tr key={r.original} className="tc">
                      <td className="pr-4 quiet">{r.original}</td>
                      <td>{r.written}</td>
                    </tr>
                  ))}
                </tbody>
              </table>
            )}
            <p className="mt-4 flex flex-wrap gap-2">
              {view.files.map((f) => (
                <a key={f} className="btn btn-sm btn-primary" href={writtenAddress(job, writing, f)} download={f}>
                  {f}
                </a>
              ))}
            </p>
          </>
        )}
      </div>
    </section>
  );
}
