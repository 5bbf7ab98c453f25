import type { Cdl, Decision, Scope } from '@gemello/core';
import { NEUTRAL_CDL, sameCdl, sameThree } from '@gemello/core/grade';
import { spreadOf } from '@gemello/core/scopes';
import { plural } from '@gemello/core/words';
import { ResetIcon } from '@radix-ui/react-icons';
import { useEffect, useState } from 'react';
import type { LedgerRow, LedgerView } from '../../../contract';
import { pictureAddress } from '../../data/api';
import { useDrafts } from '../../data/drafts';
import { eventName } from '../../data/events';
import { useDecide } from '../../data/queries';
import { useSelection } from '../../data/selection';
import { frameIn, useView } from '../../data/view';
import { BringClose } from './BringClose';
import { type Channel, Graph } from './Graph';
import { NumberField } from './NumberField';
import { Shots } from './Shots';
import { Table } from './Table';
import { Versions } from './Versions';

const CHANNELS = ['Red', 'Green', 'Blue'] as const;
const FROM = { list: 'grade from the list', typed: 'grade made here', none: 'no grade' } as const;

interface Props {
  readonly job: string;
  readonly ledger: LedgerView;
  readonly row: LedgerRow;
  readonly without: boolean;
  readonly onWithout: (without: boolean) => void;
}

/** The grade of the chosen shot: drawn or typed, tried in the viewer at once, and decided when it is applied, to this shot or to more. */
export function Controls({ job, ledger, row, without, onWithout }: Props) {
  const decide = useDecide(job);
  const { grades, copied, copy, draw, drop, settle } = useDrafts();
  const selected = useSelection((s) => s.keys);
  const [channel, setChannel] = useState<Channel>('all');
  const stands = row.cdl ?? NEUTRAL_CDL;
  const cdl = grades[row.id] ?? stands;
  const changed = grades[row.id] !== undefined;
  const spread = useSpread(job, row);
  const set = (grade: Cdl) => draw(row.id, sameCdl(grade, stands) ? null : grade);
  const triedOf = (scopes: readonly Scope[]) => {
    const events = new Set(scopes.map((s) => (s.of === 'event' ? s.event : row.id)));
    return Object.fromEntries(Object.entries(grades).filter(([event]) => events.has(event)));
  };
  const keep = (scopes: readonly Scope[], grade: Cdl | null, done: string) =>
    decide.mutate(
      { decisions: scopes.map((scope): Decision => ({ kind: 'grade', scope, cdl: grade })), done },
      { onSuccess: () => settle(triedOf(scopes)) },
    );
  const own: Scope = { of: 'event', event: row.id };
  const drafts = Object.keys(grades).filter((event) => ledger.rows.some((r) => r.id === event));
  const shots = ledger.rows.filter((r) => r.state !== 'exempt');
  const next = shots[shots.findIndex((r) => r.id === row.id) + 1];
  const alike = shots.filter((r) => r.id !== row.id && r.chosen && r.chosen.path === row.chosen?.path);
  const triple = (field: 'slope' | 'offset' | 'power', says: string, min: number | undefined, step: number) => (
    <>
      <span className="flex items-center gap-0.5">
        <Reset says={says} off={sameThree(cdl[field], NEUTRAL_CDL[field])} onReset={() => set({ ...cdl, [field]: NEUTRAL_CDL[field] })} />
        {says}
      </span>
      {CHANNELS.map((name, i) => (
        <NumberField
          key={name}
          label={`${name} ${field}`}
          value={cdl[field][i] ?? 0}
          min={min}
          step={step}
          onChange={(n) => set({ ...cdl, [field]: cdl[field].map((v, k) => (k === i ? n : v)) as unknown as Cdl['slope'] })}
        />
      ))}
    </>
  );
  return (
    <section aria-label="Grade of the chosen shot" className="border-l border-base-300 p-2 overflow-y-auto space-y-2 text-xs">
      <p className="font-medium text-sm truncate">
        <span className="tc">{row.number}</span> {eventName(row)}
      </p>
      <p className="flex items-center">
        <span className="quiet">{changed ? 'Tried, not applied yet' : FROM[row.cdlFrom]}</span>
        <button
          type="button"
          className={`btn btn-xs ml-auto ${without ? 'btn-primary' : ''}`}
          aria-pressed={without}
          title="D"
          onClick={() => onWithout(!without)}
        >
          Show without grade
        </button>
      </p>
      <Graph cdl={cdl} channel={channel} spread={spread} onChannel={setChannel} onChange={set} />
      <div className="grid grid-cols-[5.75rem_1fr_1fr_1fr] gap-x-1 gap-y-1 items-center">
        {triple('offset', 'Foot', undefined, 0.005)}
        {triple('power', 'Bend', 0, 0.01)}
        {triple('slope', 'Reach', 0, 0.01)}
        <span className="flex items-center gap-0.5">
          <Reset says="Saturation" off={cdl.saturation === 1} onReset={() => set({ ...cdl, saturation: 1 })} />
          Saturation
        </span>
        <input
          type="range"
          className="range range-xs col-span-2"
          aria-label="Saturation, drawn"
          min={0}
          max={2}
          step={0.01}
          value={Math.min(2, cdl.saturation)}
          onChange={(e) => set({ ...cdl, saturation: Number(e.target.value) })}
        />
        <NumberField label="Saturation" value={cdl.saturation} min={0} step={0.01} onChange={(saturation) => set({ ...cdl, saturation })} />
      </div>
      <div className="flex flex-wrap gap-1">
        <button
          type="button"
          className="btn btn-xs btn-primary"
          disabled={!changed}
          onClick={() => keep([own], cdl, `Event ${row.number} graded`)}
        >
          Apply
        </button>
        <button type="button" className="btn btn-xs" disabled={!changed} onClick={() => drop([row.id])}>
          Drop what is tried
        </button>
        <button
          type="button"
          className="btn btn-xs"
          disabled={!row.cdl}
          onClick={() => keep([own], null, `Grade of event ${row.number} removed`)}
        >
          Remove grade
        </button>
        {drafts.length > 1 && (
          <button
            type="button"
            className="btn btn-xs"
            onClick={() =>
              decide.mutate(
                {
                  decisions: drafts.map(
                    (event): Decision => ({ kind: 'grade', scope: { of: 'event', event }, cdl: grades[event] ?? null }),
                  ),
                  done: `${plural(drafts.length, 'event')} graded`,
                },
                { onSuccess: () => settle(grades) },
              )
            }
          >
            {`Apply all ${drafts.length} that are tried`}
          </button>
        )}
      </div>
      <fieldset className="flex flex-wrap gap-1" aria-label="Give this grade to others">
        <button
          type="button"
          className="btn btn-xs btn-ghost px-1.5"
          onClick={() => copy({ from: row.number, cdl: changed ? cdl : row.cdl })}
        >
          Copy
        </button>
        {copied && (
          <button
            type="button"
            className="btn btn-xs btn-ghost px-1.5"
            onClick={() => keep([own], copied.cdl, `Event ${row.number} has the grade of ${copied.from}`)}
          >
            {`Paste grade of ${copied.from}`}
          </button>
        )}
        {next && (
          <button
            type="button"
            className="btn btn-xs btn-ghost px-1.5"
            onClick={() => keep([{ of: 'event', event: next.id }], cdl, `Event ${next.number} has the grade of ${row.number}`)}
          >
            {`Give to ${next.number}`}
          </button>
        )}
        {selected.size > 1 && (
          <button
            type="button"
            className="btn btn-xs btn-ghost px-1.5"
            onClick={() =>
              keep(
                [...selected].map((event) => ({ of: 'event', event })),
                cdl,
                `${plural(selected.size, 'event')} have the grade of ${row.number}`,
              )
            }
          >
            {`Give to ${selected.size} selected`}
          </button>
        )}
        {alike.length > 0 && row.chosen && (
          <button
            type="button"
            className="btn btn-xs btn-ghost px-1.5"
            title={row.chosen.fileName}
            onClick={() =>
              keep(
                [row, ...alike].map((r) => ({ of: 'event', event: r.id })),
                cdl,
                `All of ${row.chosen?.fileName} graded alike`,
              )
            }
          >
            {`Give to all ${alike.length + 1} of its original`}
          </button>
        )}
      </fieldset>
      <BringClose job={job} ledger={ledger} row={row} />
      <Shots job={job} ledger={ledger} row={row} onGive={(scopes, done) => keep(scopes, cdl, done)} />
      <Versions job={job} row={row} cdl={cdl} onTry={set} />
      <Table job={job} row={row} />
    </section>
  );
}

function Reset({ says, off, onReset }: { says: string; off: boolean; onReset: () => void }) {
  return (
    <button
      type="button"
      className="btn btn-xs btn-ghost px-0.5 min-h-0 h-5"
      aria-label={`Reset ${says.toLowerCase()}`}
      title={`Reset ${says.toLowerCase()}`}
      disabled={off}
      onClick={onReset}
    >
      <ResetIcon />
    </button>
  );
}

/** How the values of a shot's picture at the playhead are spread before it is graded. */
function useSpread(job: string, row: LedgerRow) {
  const at = frameIn(
    row,
    useView((s) => s.frame),
  );
  const address = pictureAddress(job, {
    side: 'event',
    event: row.id,
    frame: at,
    width: 256,
    look: row.look,
    cdl: JSON.stringify(NEUTRAL_CDL),
  });
  const [spread, setSpread] = useState<ReturnType<typeof spreadOf> | null>(null);
  useEffect(() => {
    let current = true;
    const image = new Image();
    image.onload = () => {
      const context = new OffscreenCanvas(image.naturalWidth, image.naturalHeight).getContext('2d');
      context?.drawImage(image, 0, 0);
      const data = context?.getImageData(0, 0, image.naturalWidth, image.naturalHeight).data;
      if (current && data) setSpread(spreadOf(data));
    };
    image.onerror = () => current && setSpread(null);
    image.src = address;
    return () => {
      current = false;
    };
  }, [address]);
  return spread;
}
