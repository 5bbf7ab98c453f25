import type { StandingEvent } from '@gemello/core/edit';
import { plural } from '@gemello/core/words';
import { ResetIcon } from '@radix-ui/react-icons';
import { useMemo, useState } from 'react';
import { toast } from 'sonner';
import type { LedgerRow, LedgerView } from '../../../../contract';
import type { ConformView, EventView } from '../../../../contract/ledger';
import { eventName } from '../../../data/events';
import { useConform, useDecide, useEvent } from '../../../data/queries';
import { useSelection } from '../../../data/selection';
import { emptiedOf } from '../../../data/sent';
import { dayAndTime } from '../../../parts/times';
import { ByHand } from '../ByHand';
import { Copying } from './Copying';
import { type Around, type Field, MIXED, reverted, SECTIONS, sharedValue, type Typed } from './fields';

interface Props {
  readonly job: string;
  readonly ledger: LedgerView;
  readonly row: LedgerRow;
  readonly at: number;
  /** Events whose values are meant beside the row's. */
  readonly also?: ReadonlySet<string>;
}

/** Everything that can be decided of an event, or of several, as numbers: what the list said, what stands now, and who decided it. */
export function Values({ job, ledger, row, at, also: given }: Props) {
  const { data: conform } = useConform(job);
  const selection = useSelection((s) => s.keys);
  const also = given ?? selection;
  const keys = useMemo(() => [...new Set([row.id, ...also])], [row.id, also]);
  const events = useMemo(() => (conform ? eventsOf(conform, ledger, keys) : []), [conform, ledger, keys]);
  const { data: known } = useEvent(job, row.id);
  const decide = useDecide(job);
  const one = events.length === 1 ? (events[0] ?? null) : null;
  const set = (field: Field, text: string) => {
    const typed = events.map(([event, around]): Typed => (field.read(event, around) === text ? null : field.decide(event, text, around)));
    const wrong = typed.find((t) => t !== null && 'problem' in t);
    if (wrong && 'problem' in wrong) {
      toast.error(`${field.says}: ${wrong.problem}`);
      return;
    }
    const decisions = typed.flatMap((t) => (t !== null && 'decision' in t ? [t.decision] : []));
    if (decisions.length > 0) decide.mutate({ decisions, done: `${whoOf(events.length, row)}: ${field.says.toLowerCase()} ${text}` });
  };
  return (
    <section className="text-xs p-2 space-y-2" aria-label="Values" data-testid="values">
      <h3 className="font-medium text-sm">
        {events.length > 1 ? (
          plural(events.length, 'event')
        ) : (
          <>
            <span className="tc">{row.number}</span> {eventName(row)}
          </>
        )}
      </h3>
      {SECTIONS.map(({ says, fields }) => (
        <fieldset key={says}>
          <legend className="quiet pb-0.5">{says}</legend>
          <div className="grid grid-cols-[6.5rem_1fr_auto] gap-x-2 gap-y-1 items-center">
            {fields.map((field) => (
              <Value
                key={`${field.name} ${row.id}`}
                field={field}
                value={sharedValue(field, events)}
                around={events[0]?.[1] ?? null}
                told={one && known ? toldOf(field, one[0], one[1], known) : null}
                onSet={(text) => set(field, text)}
                onRevert={(decision) =>
                  decide.mutate({ decisions: [decision], done: `Event ${row.number}: ${field.says.toLowerCase()} as the list has it` })
                }
              />
            ))}
          </div>
        </fieldset>
      ))}
      <Note key={row.id} job={job} row={row} keys={keys} event={known} />
      <Copying job={job} events={events.map(([event]) => event)} row={row} />
      {events.length === 1 && (
        <fieldset>
          <legend className="quiet pb-0.5">Replace by another original; its place on the record stays</legend>
          <ByHand job={job} row={row} at={at} />
        </fieldset>
      )}
    </section>
  );
}

const whoOf = (count: number, row: LedgerRow): string => (count > 1 ? plural(count, 'event') : `Event ${row.number}`);

/** Events as they stand, each with what its values are read by, in the order of the cut. */
function eventsOf({ list, originals }: ConformView, ledger: LedgerView, keys: readonly string[]): [StandingEvent, Around][] {
  const wanted = new Set(keys);
  const rows = new Map(ledger.rows.filter((r) => wanted.has(r.id)).map((r) => [r.id, r]));
  const pictures = list.tracks.filter((t) => t.kind === 'picture');
  const layers = pictures.map((t) => t.name);
  return pictures.flatMap(({ name, events }) =>
    events
      .filter((e) => rows.has(e.key))
      .map((event): [StandingEvent, Around] => [
        event,
        {
          rate: ledger.rate,
          layer: name,
          layers,
          original: originals.find((o) => o.path === event.pair?.original) ?? null,
          accepted: rows.get(event.key)?.accepted ?? false,
        },
      ]),
  );
}

/** What the list said of a value, who decided what stands now, and what gives it back. */
function toldOf(field: Field, event: StandingEvent, around: Around, { delivered, decided }: EventView) {
  const was = delivered && field.delivered(delivered, around);
  const now = field.read(event, around);
  const decision = decided.findLast((d) => d.fields.some((f) => field.of.includes(f))) ?? null;
  const differs = was !== null && was !== now;
  return { was: differs ? was : null, decision: differs ? decision : null, back: delivered && reverted(field, event, delivered, around) };
}

interface ValueProps {
  readonly field: Field;
  readonly value: string | typeof MIXED;
  readonly around: Around | null;
  readonly told: ReturnType<typeof toldOf> | null;
  readonly onSet: (text: string) => void;
  readonly onRevert: (decision: NonNullable<ReturnType<typeof reverted>>) => void;
}

function Value({ field, value, around, told, onSet, onRevert }: ValueProps) {
  const [typed, setTyped] = useState<string | null>(null);
  const { says, unit, choices } = field;
  const label = unit ? `${says} (${unit})` : says;
  const keep = () => {
    if (typed !== null && typed !== value) onSet(typed);
    setTyped(null);
  };
  return (
    <>
      <span className="truncate" title={label}>
        {says} {unit && <span className="quiet">{unit.length < 4 ? unit : ''}</span>}
      </span>
      <span className="min-w-0">
        {choices && around ? (
          <select className="select select-xs w-full" aria-label={label} value={value ?? ''} onChange={(e) => onSet(e.target.value)}>
            {value === MIXED && <option value="">differ</option>}
            {choices(around).map(([choice, words]) => (
              <option key={choice} value={choice}>
                {words}
              </option>
            ))}
          </select>
        ) : (
          <input
            className="input input-xs tc w-full"
            aria-label={label}
            title={label}
            placeholder={value === MIXED ? 'differ' : ''}
            value={typed ?? value ?? ''}
            onChange={(e) => setTyped(e.target.value)}
            onBlur={keep}
            onKeyDown={(e) => {
              if (e.key === 'Enter') keep();
              if (e.key === 'Escape') setTyped(null);
            }}
          />
        )}
      </span>
      <span>
        {told?.back && (
          <button
            type="button"
            className="btn btn-xs btn-ghost px-1 min-h-0 h-5"
            aria-label={`${says}: as the list has it`}
            title="As the list has it"
            onClick={() => told.back && onRevert(told.back)}
          >
            <ResetIcon />
          </button>
        )}
      </span>
      {told && told.was !== null && (
        <span className="col-start-2 col-span-2 quiet truncate -mt-1" title={told.decision ? decidedText(told.decision) : undefined}>
          {`list: ${told.was === '' ? 'none' : told.was}${told.decision ? `; ${decidedText(told.decision)}` : ''}`}
        </span>
      )}
    </>
  );
}

const decidedText = ({ who, when, why }: EventView['decided'][number]): string => `${who}, ${dayAndTime(when)}${why ? `: ${why}` : ''}`;

/** What people wrote about an event, and a line for more. */
function Note({ job, row, keys, event }: { job: string; row: LedgerRow; keys: readonly string[]; event: EventView | undefined }) {
  const [text, setText] = useState('');
  const decide = useDecide(job);
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        if (text.trim() === '') return;
        const decisions = keys.map((key) => ({ kind: 'note' as const, scope: { of: 'event' as const, event: key }, text: text.trim() }));
        decide.mutate({ decisions, done: `${whoOf(keys.length, row)}: noted` }, { onSuccess: () => setText(emptiedOf(text)) });
      }}
    >
      <p className="quiet pb-0.5">Notes</p>
      {event?.remarks.map((remark) => (
        <p key={remark}>{remark}</p>
      ))}
      <input
        className="input input-xs w-full"
        aria-label="Note"
        placeholder="write a note and press Enter"
        maxLength={10_000}
        value={text}
        onChange={(e) => setText(e.target.value)}
      />
    </form>
  );
}
