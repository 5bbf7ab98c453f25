import type { Cdl } from '@gemello/core';
import { NEUTRAL_CDL } from '@gemello/core/grade';
import { useEffect, useState } from 'react';
import type { LedgerRow } from '../../contract';
import { pictureAddress } from '../data/api';
import { useDrafts } from '../data/drafts';
import { eventName } from '../data/events';
import { useDecide } from '../data/queries';
import { chosenRow, frameIn, useView } from '../data/view';
import { Empty } from '../parts/Empty';
import { Histogram } from '../parts/Histogram';
import { ShotPicture } from '../parts/Picture';
import { Transport } from '../parts/Transport';
import type { StageProps } from './stage';

const CHANNELS = ['Red', 'Green', 'Blue'] as const;

/** Shots as a contact sheet in cut order, and the CDL numbers of the chosen one. */
export function Grade({ job, ledger }: StageProps) {
  const { event, choose } = useView();
  const drafts = useDrafts((s) => s.grades);
  const [copied, setCopied] = useState<{ from: string; cdl: Cdl | null } | null>(null);
  const shots = ledger.rows.filter((r) => r.state !== 'exempt');
  const row = shots.find((r) => r.id === chosenRow(ledger, event)?.id) ?? shots[0];
  if (!row)
    return (
      <Empty title="No shots yet" goTo="turnover" action="Go to Turnover">
        Shots are graded once an edit list is imported and its events are paired.
      </Empty>
    );
  return (
    <div className="h-full grid min-[901px]:grid-cols-[1fr_minmax(26rem,0.8fr)] max-[900px]:auto-rows-max max-[900px]:overflow-y-auto min-h-0">
      <div className="overflow-y-auto p-3 min-w-0">
        <ul className="grid grid-cols-[repeat(auto-fill,minmax(150px,1fr))] gap-2" aria-label="Contact sheet">
          {shots.map((r) => {
            const middle = Math.floor((r.recordFrames.in + r.recordFrames.out) / 2);
            return (
              <li key={r.id}>
                <button
                  type="button"
                  aria-pressed={r.id === row.id}
                  data-event={r.id}
                  data-number={r.number}
                  className={`block w-full text-left outline-offset-2 ${r.id === row.id ? 'outline-2 outline-accent' : ''}`}
                  onClick={() => choose(r.id, middle)}
                >
                  <ShotPicture job={job} row={r} frame={middle} width={320} alt={`Shot ${r.number}`} />
                  <span className="flex gap-2 text-xs mt-1">
                    <span className="tc">{r.number}</span>
                    <span className="quiet truncate">{r.clipName}</span>
                    {drafts[r.id] ? (
                      <span className="ml-auto text-warning">not applied</span>
                    ) : (
                      r.cdl && <span className="ml-auto">CDL</span>
                    )}
                  </span>
                </button>
              </li>
            );
          })}
        </ul>
      </div>
      <Controls key={`${row.id} ${JSON.stringify(row.cdl)}`} job={job} row={row} rate={ledger.rate} copied={copied} onCopy={setCopied} />
    </div>
  );
}

interface ControlsProps {
  readonly job: string;
  readonly row: LedgerRow;
  readonly rate: StageProps['ledger']['rate'];
  readonly copied: { from: string; cdl: Cdl | null } | null;
  readonly onCopy: (grade: { from: string; cdl: Cdl | null }) => void;
}

/** ASC CDL numbers are tried on in the picture as they are typed, and kept when asked. */
function Controls({ job, row, rate, copied, onCopy }: ControlsProps) {
  const decide = useDecide(job);
  const at = frameIn(
    row,
    useView((s) => s.frame),
  );
  const stands = row.cdl ?? NEUTRAL_CDL;
  const cdl = useDrafts((s) => s.grades[row.id]) ?? stands;
  const setCdl = (grade: Cdl) => useDrafts.getState().draw(row.id, JSON.stringify(grade) === JSON.stringify(stands) ? null : grade);
  const tried = useSettled(cdl, 120);
  const changed = JSON.stringify(cdl) !== JSON.stringify(row.cdl ?? NEUTRAL_CDL);
  const trial = JSON.stringify(tried);
  const address = pictureAddress(job, { side: 'event', event: row.id, frame: at, width: 640, look: row.look, cdl: trial });
  const keep = (grade: Cdl | null, done: string) =>
    decide.mutate(
      { decisions: [{ kind: 'grade', scope: { of: 'event', event: row.id }, cdl: grade }], done },
      { onSuccess: () => useDrafts.getState().draw(row.id, null) },
    );
  const triple = (field: 'slope' | 'offset' | 'power', min: number | undefined, step: number) =>
    CHANNELS.map((channel, i) => (
      <NumberField
        key={channel}
        label={`${channel} ${field}`}
        value={cdl[field][i] ?? 0}
        min={min}
        step={step}
        onChange={(n) => setCdl({ ...cdl, [field]: cdl[field].map((v, k) => (k === i ? n : v)) as unknown as Cdl['slope'] })}
      />
    ));
  return (
    <section aria-label="Grade of the chosen shot" className="border-l border-base-300 p-3 overflow-y-auto space-y-3">
      <p className="font-medium truncate">
        <span className="tc">{row.number}</span> {eventName(row)}
        <span className="quiet font-normal text-xs ml-2">
          {{ list: 'grade from the list', typed: 'grade typed here', none: 'no grade' }[row.cdlFrom]}
        </span>
      </p>
      <div className="grid grid-cols-2 gap-2">
        <figure>
          <ShotPicture job={job} row={row} frame={at} width={640} cdl={JSON.stringify(NEUTRAL_CDL)} alt="Ungraded" />
          <figcaption className="text-xs quiet mt-1">Ungraded</figcaption>
        </figure>
        <figure>
          <ShotPicture job={job} row={row} frame={at} width={640} cdl={trial} alt="Graded" />
          <figcaption className="text-xs quiet mt-1">{changed ? 'Preview, not applied yet' : 'Graded'}</figcaption>
        </figure>
      </div>
      <Transport row={row} rate={rate} />
      <Histogram address={address} />
      <div className="grid grid-cols-[5rem_1fr_1fr_1fr] gap-x-2 gap-y-1 items-center text-xs">
        <span />
        {CHANNELS.map((c) => (
          <span key={c} className="quiet">
            {c}
          </span>
        ))}
        <span>Slope</span>
        {triple('slope', 0, 0.01)}
        <span>Offset</span>
        {triple('offset', undefined, 0.005)}
        <span>Power</span>
        {triple('power', 0, 0.01)}
        <span>Saturation</span>
        <NumberField
          label="Saturation"
          value={cdl.saturation}
          min={0}
          step={0.01}
          onChange={(saturation) => setCdl({ ...cdl, saturation })}
        />
      </div>
      <div className="flex flex-wrap gap-1">
        <button
          type="button"
          className="btn btn-sm btn-primary"
          disabled={!changed}
          onClick={() => keep(cdl, `Event ${row.number} graded`)}
        >
          Apply
        </button>
        <button type="button" className="btn btn-sm" disabled={!row.cdl} onClick={() => keep(null, `Grade of event ${row.number} removed`)}>
          Remove grade
        </button>
        <button type="button" className="btn btn-sm btn-ghost" onClick={() => onCopy({ from: row.number, cdl: changed ? cdl : row.cdl })}>
          Copy
        </button>
        {copied && (
          <button
            type="button"
            className="btn btn-sm btn-ghost"
            onClick={() => keep(copied.cdl, `Event ${row.number} has the grade of ${copied.from}`)}
          >
            {`Paste grade of ${copied.from}`}
          </button>
        )}
      </div>
    </section>
  );
}

function NumberField({
  label,
  value,
  min,
  step,
  onChange,
}: {
  label: string;
  value: number;
  min: number | undefined;
  step: number;
  onChange: (n: number) => void;
}) {
  const [text, setText] = useState(String(value));
  useEffect(() => setText((t) => (Number(t) === value ? t : String(value))), [value]);
  return (
    <input
      type="number"
      className="input input-xs tc w-full"
      aria-label={label}
      value={text}
      min={min}
      step={step}
      onChange={(e) => {
        setText(e.target.value);
        const n = Number(e.target.value);
        if (e.target.value !== '' && Number.isFinite(n) && (min === undefined || n >= min)) onChange(n);
      }}
    />
  );
}

/** A value once it has stood for a while, in milliseconds; keeps typing from asking for every picture between. */
function useSettled<T>(value: T, delay: number): T {
  const [settled, setSettled] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(value), delay);
    return () => clearTimeout(timer);
  }, [value, delay]);
  return settled;
}
