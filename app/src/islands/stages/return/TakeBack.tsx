import { form, plural } from '@gemello/core/words';
import { useState } from 'react';
import type { HomecomingView, LedgerRow } from '../../../contract';
import { eventName } from '../../data/events';
import { useDecide, useHomecoming, useStart, useTakeBack } from '../../data/queries';
import { emptiedOf } from '../../data/sent';
import { useView } from '../../data/view';
import { TableHead } from '../../parts/TableHead';
import { Tabs } from '../../parts/Tabs';

type Back = HomecomingView['back'][number];
type Offer = Back['offers'][number];

const WHY: Record<HomecomingView['strangers'][number]['why'], string> = {
  'no-event': 'no event has its timecode and reel, its name or its number',
  'too-short': 'it lacks frames that the cut shows',
  'speed-baked': 'the speed of its event seems to be in its pictures; send the clip as its source runs',
  'other-rate': 'it runs at another rate than the source of its event',
};

/** The newest is shown, an older one, or none of what came back. */
const isNewest = ({ shown, offers }: Back): boolean => shown === offers[0]?.path;

const bakeOf = (event: string, { path, sourceStartFrame, pairedAt }: Offer) =>
  ({
    kind: 'bake',
    event,
    bake: { original: path, sourceStartFrame, ...(pairedAt === null ? {} : { pairedAt }), graded: true },
  }) as const;

/** Clips that were graded or made elsewhere: imported, matched to their events and shown in their place; what is still out. */
export function TakeBack({ job, rows }: { job: string; rows: readonly LedgerRow[] }) {
  const { data } = useHomecoming(job);
  const decide = useDecide(job);
  const start = useStart(job);
  const [tab, setTab] = useState<'back' | 'out' | 'strangers'>('back');
  if (!data) return null;
  const { folders, back, out, strangers } = data;
  const newer = back.filter((b) => !isNewest(b));
  return (
    <div className="h-full flex flex-col min-h-0">
      <div className="px-4 py-3 border-b border-base-300 space-y-2 text-xs">
        <TakeIn job={job} />
        {folders.map((folder) => (
          <p key={folder} className="flex gap-2 items-baseline">
            <span className="quiet">Made elsewhere:</span>
            <span className="font-mono wrap-anywhere">{folder}</span>
            <button
              type="button"
              className="btn btn-xs btn-ghost"
              title="They were not made elsewhere: they may become pairs"
              onClick={() =>
                decide.mutate({ decisions: [{ kind: 'made-elsewhere', folder, is: false }], done: 'Its clips count as originals again' })
              }
            >
              Count as originals
            </button>
          </p>
        ))}
      </div>
      {folders.length > 0 && (
        <>
          <div className="flex items-center border-b border-base-300 pr-4">
            <Tabs
              label="What came back"
              tabs={[
                ['back', `Back (${back.length})`],
                ['out', `Still out (${out.length})`],
                ['strangers', `For no event (${strangers.length})`],
              ]}
              chosen={tab}
              onChoose={setTab}
            />
            <button
              type="button"
              className="btn btn-xs btn-primary ml-auto"
              disabled={newer.length === 0 || decide.isPending}
              onClick={() =>
                decide.mutate({
                  decisions: newer.flatMap((b) => (b.offers[0] ? [bakeOf(b.event, b.offers[0])] : [])),
                  done: `${plural(newer.length, 'event')} shown as what came back`,
                })
              }
            >
              {`Show the newest of ${plural(newer.length, 'event')}`}
            </button>
          </div>
          <div className="grow overflow-auto min-h-0 text-xs" data-testid="homecoming">
            {tab === 'back' && <BackTable job={job} back={back} rows={rows} />}
            {tab === 'out' && <Out out={out} rows={rows} />}
            {tab === 'strangers' && strangers.some((s) => s.why === 'no-event') && (
              <p className="px-4 py-2 flex gap-2 items-baseline">
                <button type="button" className="btn btn-xs" disabled={start.isPending} onClick={() => start.mutate({ kind: 'recognise' })}>
                  Look for their pictures
                </button>
                <span className="quiet">in the originals of the cut. What is found is offered to the events that show it.</span>
              </p>
            )}
            {tab === 'strangers' &&
              strangers.map((s) => (
                <p key={s.path} className="px-4 py-0.5">
                  <span className="font-medium">{s.fileName}</span> <span className="quiet">{WHY[s.why]}</span>
                </p>
              ))}
            {tab === 'back' && back.length === 0 && (
              <p className="px-4 py-2 quiet">Nothing in these folders is for an event of this cut, or they are still being scanned.</p>
            )}
          </div>
        </>
      )}
    </div>
  );
}

/** A folder is added as a volume whose clips never become pairs. */
function TakeIn({ job }: { job: string }) {
  const take = useTakeBack(job);
  const [path, setPath] = useState('');
  return (
    <form
      className="flex gap-2 items-end"
      onSubmit={(e) => {
        e.preventDefault();
        take.mutate(path.trim(), { onSuccess: () => setPath(emptiedOf(path)) });
      }}
    >
      <label className="grow max-w-2xl">
        <span className="quiet block mb-1">Folder of graded clips, effects or titles that came back</span>
        <input
          className="input input-sm w-full tc"
          placeholder="path of the folder on this machine"
          value={path}
          onChange={(e) => setPath(e.target.value)}
        />
      </label>
      <button type="submit" className="btn btn-sm" disabled={path.trim() === '' || take.isPending}>
        Import
      </button>
    </form>
  );
}

function BackTable({ job, back, rows }: { job: string; back: readonly Back[]; rows: readonly LedgerRow[] }) {
  const decide = useDecide(job);
  const byId = new Map(rows.map((r) => [r.id, r]));
  return (
    <table className="w-full">
      <TableHead headings={['Event', 'What came back', 'Told by', 'Shown now', '']} />
      <tbody>
        {back.map((b) => {
          const row = byId.get(b.event);
          const shown = b.offers.find((o) => o.path === b.shown) ?? null;
          return (
            <tr key={b.event} className="hover:bg-base-200" data-event={b.number}>
              <td className="px-2 pl-4 py-0.5">
                <EventLink event={b.event} number={b.number} row={row} />
              </td>
              <td className="px-2">
                <select
                  className="select select-xs w-96"
                  aria-label={`What is shown for event ${b.number}`}
                  value={shown?.path ?? ''}
                  onChange={(e) => {
                    const offer = b.offers.find((o) => o.path === e.target.value);
                    decide.mutate(
                      offer
                        ? { decisions: [bakeOf(b.event, offer)], done: `Event ${b.number} shown as ${offer.fileName}` }
                        : { decisions: [{ kind: 'bake', event: b.event, bake: null }], done: `Event ${b.number} shown from its original` },
                    );
                  }}
                >
                  <option value="">{`not shown: ${b.offers[0]?.fileName ?? ''}`}</option>
                  {b.offers.map((o) => (
                    <option key={o.path} value={o.path}>
                      {o.fileName}
                    </option>
                  ))}
                </select>
              </td>
              <td className="px-2">{b.offers[0]?.by.join(', ')}</td>
              <td className={`px-2 ${shown && !isNewest(b) ? 'text-warning' : ''}`}>
                {!shown ? 'its original' : isNewest(b) ? versionText(shown) : `${versionText(shown)}; there is a newer one`}
              </td>
              <td className="px-2 quiet">{b.offers.length > 1 && `${b.offers.length} versions`}</td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}

const versionText = ({ version }: Offer): string => (version === null ? 'what came back' : `version ${version}`);

function Out({ out, rows }: { out: HomecomingView['out']; rows: readonly LedgerRow[] }) {
  const byId = new Map(rows.map((r) => [r.id, r]));
  return (
    <>
      <p className="px-4 py-1 quiet">
        {out.length === 0
          ? 'Something came back for every event.'
          : `Nothing came back for ${form(out.length, 'this event', 'these events')} yet.`}
      </p>
      {out.map((o) => (
        <p key={o.event} className="px-4 py-0.5">
          <EventLink event={o.event} number={o.number} row={byId.get(o.event)} />
        </p>
      ))}
    </>
  );
}

function EventLink({ event, number, row }: { event: string; number: string; row: LedgerRow | undefined }) {
  const { choose, go } = useView();
  return (
    <button
      type="button"
      className="link link-hover"
      title="Look at it under Proof"
      onClick={() => {
        choose(event, row?.recordFrames.in ?? 0);
        go('proof');
      }}
    >
      <span className="tc">{number}</span> {row && <span className="quiet">{eventName(row)}</span>}
    </button>
  );
}
