import type { LogField, LogMapping } from '@gemello/core';
import { plural } from '@gemello/core/words';
import { useState } from 'react';
import type { LogRequest, LogView } from '../../../contract';
import { shown } from '../../data/api';
import { useLog, useLogs, useTakeLog } from '../../data/queries';
import { ColumnNames } from '../../parts/ColumnNames';

const FIELDS: Record<LogField, string> = {
  clip: 'Clip or file',
  timecode: 'Start timecode',
  rate: 'Rate',
  reel: 'Reel',
  scene: 'Scene',
  take: 'Take',
  notes: 'Notes',
};
/** Changes shown before the rest is counted. */
const SHOWN = 40;

type Chosen = Pick<LogRequest, 'name' | 'path' | 'text'>;

/** Clip logs: those that lie on the volumes, or one brought along; its columns are named, what it would set is shown, and it is taken in. */
export function Logs({ job, onDone }: { job: string; onDone: () => void }) {
  const { data: logs = [] } = useLogs(job);
  const [chosen, setChosen] = useState<Chosen | null>(null);
  const bring = async (file: File | undefined) => file && setChosen({ name: file.name, path: null, text: await file.text() });
  return (
    <section
      aria-label="Clip logs"
      className="border-b border-base-300 bg-base-200 px-3 py-2 text-xs max-h-[26rem] overflow-y-auto shrink-0"
      onDragOver={(e) => e.preventDefault()}
      onDrop={(e) => {
        e.preventDefault();
        bring(e.dataTransfer.files[0]);
      }}
    >
      <div className="flex flex-wrap gap-2 items-center">
        <h2 className="font-medium">Clip logs</h2>
        {logs.map((l) => (
          <button
            key={l.path}
            type="button"
            aria-pressed={chosen?.path === l.path}
            className={`btn btn-xs ${chosen?.path === l.path ? 'btn-primary' : ''}`}
            title={l.path}
            onClick={() => setChosen({ name: l.name, path: l.path, text: null })}
          >
            {l.name} <span className="opacity-70">{l.understood ? `on ${l.volume}` : `on ${l.volume}, columns unknown`}</span>
          </button>
        ))}
        <label className="btn btn-xs">
          Upload a clip log
          <input
            type="file"
            className="hidden"
            accept=".csv,.tsv,.txt"
            aria-label="A clip log from this computer"
            onChange={(e) => {
              bring(e.target.files?.[0]);
              e.target.value = '';
            }}
          />
        </label>
        {logs.length === 0 && !chosen && (
          <span className="quiet">No clip log was found on the volumes. Drop a table of clips with timecode, reel or notes here.</span>
        )}
        <button type="button" className="btn btn-xs btn-ghost ml-auto" onClick={onDone}>
          Close
        </button>
      </div>
      {chosen && <Log key={`${chosen.path} ${chosen.name}`} job={job} log={chosen} onDone={() => setChosen(null)} />}
    </section>
  );
}

function Log({ job, log, onDone }: { job: string; log: Chosen; onDone: () => void }) {
  const [mapping, setMapping] = useState<LogMapping | null>(null);
  const { data: view, error } = shown(useLog(job, { ...log, mapping }));
  const take = useTakeLog(job);
  if (error) return <p className="text-error py-2">{error.message}</p>;
  if (!view) return <p className="quiet py-2">…</p>;
  const columns = mapping ?? view.mapping;
  const nothing = view.changes.length + view.notes === 0;
  return (
    <div className="grid grid-cols-[minmax(0,1.2fr)_minmax(20rem,1fr)] gap-4 pt-2">
      <div className="overflow-x-auto">
        <ColumnNames
          label="Columns of the clip log"
          headings={view.headings}
          sample={view.sample.map((row) => view.headings.map((h) => row[h]))}
          fields={FIELDS}
          otherwise="nothing of use"
          mapping={columns}
          onMap={setMapping}
        />
        {view.rows > view.sample.length && <p className="quiet pt-1">and {view.rows - view.sample.length} more rows</p>}
      </div>
      <div>
        <p className="pb-1">{columns.clip ? summaryOf(view) : 'First choose the column that names the clip.'}</p>
        {view.changes.length > 0 && (
          <div className="max-h-40 overflow-y-auto mb-2">
            {view.changes.slice(0, SHOWN).map((c) => (
              <p key={c.path} className="grid grid-cols-[8rem_1fr_1fr] gap-2 py-px">
                <span className="truncate">{c.clipName}</span>
                <span className="tc quiet">{c.now}</span>
                <span className="tc">{c.says}</span>
              </p>
            ))}
            {view.changes.length > SHOWN && <p className="quiet">and {view.changes.length - SHOWN} more</p>}
          </div>
        )}
        <button
          type="button"
          className="btn btn-xs btn-primary"
          disabled={nothing || take.isPending}
          onClick={() => take.mutate({ ...log, mapping: columns }, { onSuccess: onDone })}
        >
          Import
        </button>
      </div>
    </div>
  );
}

/** What the log comes to, in one line. */
function summaryOf({ changes, notes, agreeing, unmatched, ambiguous }: LogView): string {
  const some = (names: readonly string[]) => `${names.slice(0, 3).join(', ')}${names.length > 3 ? ', …' : ''}`;
  const count = plural;
  const parts = [
    `${count(changes.length, 'clip', 'clips')} would be set, ${count(agreeing, 'agrees', 'agree')} already`,
    notes > 0 ? count(notes, 'gets a note', 'get a note') : '',
    unmatched.length > 0 ? `${count(unmatched.length, 'is', 'are')} on no volume (${some(unmatched)})` : '',
    ambiguous.length > 0 ? `${count(ambiguous.length, 'has', 'have')} namesakes, and no reel tells which (${some(ambiguous)})` : '',
  ];
  return `${parts.filter(Boolean).join('; ')}.`;
}
