import { useState } from 'react';
import type { TurnoverView } from '../../../contract';
import { useDeliver, useGuideUpload, useLists, useReferenceUpload, useTurnover } from '../../data/queries';
import { useView } from '../../data/view';
import { FileButton } from '../../parts/FileButton';
import type { StageProps } from '../stage';
import { Arrival } from './Arrival';
import { Beside } from './Beside';
import { Cuts } from './Cuts';
import { Deliveries, isMovie, isSound } from './Deliveries';
import type { Look } from './look';
import { Reading } from './Reading';
import { Writing } from './Writing';

/** Lists and reference as delivered, what was asked of them, and what the reading says. */
export function Turnover({ job, view }: StageProps) {
  const { data } = useTurnover(job);
  const { data: lists = [] } = useLists(job);
  const beside = useView((v) => v.beside);
  const [look, setLook] = useState<Look>(beside ? { kind: 'beside', list: beside } : { kind: 'reading' });
  const turnover = data?.list ? (data as TurnoverView) : null;
  const waiting = lists.find((l) => l.state === 'arrived');
  const shown: Look = waiting ? { kind: 'arrival', list: waiting.id } : look;
  const back = () => setLook({ kind: 'reading' });
  return (
    <DropHere job={job}>
      <div className="h-full flex flex-col min-h-0">
        <Deliveries job={job} view={view} lists={lists} onLook={setLook} />
        {shown.kind === 'arrival' && (
          <Arrival
            key={shown.list}
            job={job}
            list={shown.list}
            stands={lists.find((l) => l.id === shown.list)?.reading ?? {}}
            hasCut={view.list !== null}
            onDone={back}
          />
        )}
        {shown.kind === 'beside' && <Beside key={shown.list} job={job} list={shown.list} onDone={back} />}
        {shown.kind === 'writing' && view.list && <Writing job={job} title={view.list.title} onDone={back} />}
        {shown.kind === 'cuts' && <Cuts job={job} view={view} onDone={back} />}
        {shown.kind === 'reading' && turnover && <Reading turnover={turnover} />}
        {shown.kind === 'reading' && data && !turnover && <FirstList job={job} />}
      </div>
    </DropHere>
  );
}

/** What stands where no list was imported yet. */
function FirstList({ job }: { job: string }) {
  const deliver = useDeliver(job);
  return (
    <div className="grow grid place-items-center">
      <div className="max-w-md text-center">
        <p className="text-base font-medium mb-2">No edit list yet</p>
        <p className="quiet text-sm mb-3">
          Import the editor's list first; everything else follows from it. Files can also be dropped here.
        </p>
        <FileButton multiple disabled={deliver.isPending} className="btn btn-sm btn-primary" onFiles={(files) => deliver.mutate(files)}>
          {deliver.isPending ? 'Reading…' : 'Import an edit list'}
        </FileButton>
      </div>
    </div>
  );
}

/** Files may be dropped anywhere on the stage: movies become the reference, sound the guide, everything else is read as lists or grades. */
function DropHere({ job, children }: { job: string; children: React.ReactNode }) {
  const deliver = useDeliver(job);
  const reference = useReferenceUpload(job);
  const guide = useGuideUpload(job);
  const [over, setOver] = useState(false);
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: the buttons inside do the same by keyboard
    <div
      className={`h-full ${over ? 'outline outline-2 outline-accent -outline-offset-4' : ''}`}
      onDragOver={(e) => {
        e.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(e) => {
        e.preventDefault();
        setOver(false);
        const files = [...e.dataTransfer.files];
        for (const movie of files.filter(isMovie).slice(0, 1)) reference.mutate(movie);
        for (const sound of files.filter(isSound).slice(0, 1)) guide.mutate(sound);
        const others = files.filter((f) => !isMovie(f) && !isSound(f));
        if (others.length > 0) deliver.mutate(others);
      }}
    >
      {children}
    </div>
  );
}
