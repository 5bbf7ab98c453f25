import { type Claim, parseTimecode } from '@gemello/core';
import { formatRate } from '@gemello/core/time';
import { useState } from 'react';
import type { OriginalView } from '../../../contract';
import { useDecide, useOriginal, useRemark } from '../../data/queries';
import { useView } from '../../data/view';
import { ScrubStrip } from './ScrubStrip';
import { sizeText } from './Table';

const FIELD_NAMES: Record<Claim['field'], string> = {
  timecode: 'Timecode',
  rate: 'Rate',
  reel: 'Reel',
  clipName: 'Clip name',
  proxy: 'Light copy',
  proxyOf: 'Copy of',
};

/** One original: everything known of it and who says so, what uses it, its light copies, its checksums. */
export function Clip({
  job,
  path,
  onClose,
  onChoose,
}: {
  job: string;
  path: string;
  onClose: () => void;
  onChoose: (path: string) => void;
}) {
  const { data: clip, error } = useOriginal(job, path);
  if (error) return <p className="p-3 text-error text-xs">{error.message}</p>;
  if (!clip) return <p className="p-3 quiet text-xs">…</p>;
  return (
    <section aria-label="The chosen clip" className="overflow-y-auto px-3 py-2 text-xs flex flex-col gap-3">
      <div className="flex items-baseline gap-2">
        <h2 className="font-medium text-sm truncate" title={clip.clipName}>
          {clip.clipName}
        </h2>
        <button type="button" className="btn btn-xs btn-ghost ml-auto" onClick={onClose}>
          Close
        </button>
      </div>
      <ScrubStrip job={job} clip={clip} className="w-full" width={640} />
      <p className="font-mono break-all quiet">{clip.path}</p>
      {clip.warnings.map((w) => (
        <p key={w.message} className="text-warning">
          {w.message}
        </p>
      ))}
      <Facts clip={clip} />
      <Claims job={job} clip={clip} />
      <Uses clip={clip} />
      <Copies clip={clip} onChoose={onChoose} />
      {clip.checksums.length > 0 && (
        <div>
          <h3 className="quiet">Checksums in manifests</h3>
          {clip.checksums.map((c) => (
            <p key={c.manifest + c.algorithm} className="font-mono break-all">
              {c.algorithm} {c.value} <span className="quiet">{c.manifest}</span>
            </p>
          ))}
        </div>
      )}
      <Remarks job={job} clip={clip} />
    </section>
  );
}

function Facts({ clip }: { clip: OriginalView }) {
  const facts: [string, string][] = [
    ['Reel', clip.reel || 'none'],
    ['Timecode', clip.timecodeIn ? `${clip.timecodeIn} – ${clip.timecodeOut}` : 'none'],
    ['Length', clip.kind === 'still' ? 'still' : `${clip.frames} frames at ${formatRate(clip.rate)}`],
    ...(clip.kind === 'sound'
      ? []
      : ([
          [
            'Picture',
            `${clip.raster.width}×${clip.raster.height} ${clip.codec}${clip.pixelAspect && Math.abs(clip.pixelAspect - 1) > 0.001 ? `, pixels ${clip.pixelAspect.toFixed(3)}` : ''}`,
          ],
        ] as [string, string][])),
    ...(clip.sound ? ([['Sound', `${clip.sound.channels} channels, ${clip.sound.sampleRate / 1000} kHz`]] as [string, string][]) : []),
    ['On disk', `${sizeText(clip.bytes)}${clip.files > 1 ? ` in ${clip.files} files` : ''}${clip.here ? '' : ', away'}`],
    ...(clip.sidecars.length > 0 ? ([['Beside it', clip.sidecars.join(', ')]] as [string, string][]) : []),
  ];
  return (
    <dl className="grid grid-cols-[4.5rem_1fr] gap-y-0.5">
      {facts.map(([name, value]) => (
        <div key={name} className="contents">
          <dt className="quiet">{name}</dt>
          <dd className="font-mono break-words min-w-0">{value}</dd>
        </div>
      ))}
    </dl>
  );
}

/** A word that is not taken, and says something else than the one that is. */
const canTake = ({ claims }: OriginalView, c: Claim): boolean =>
  !c.taken && (c.field === 'reel' || c.field === 'timecode') && !claims.some((o) => o.taken && o.field === c.field && o.value === c.value);

/** Who says what; what is taken stands in full, another can be taken instead, or a word of one's own. */
function Claims({ job, clip }: { job: string; clip: OriginalView }) {
  const decide = useDecide(job);
  const [own, setOwn] = useState('');
  const correct = (field: Claim['field'], value: string) => {
    if (field === 'reel')
      decide.mutate({ decisions: [{ kind: 'correct', original: clip.path, reel: value }], done: `${clip.clipName}: reel ${value}` });
    const start = parseTimecode(value, clip.rate);
    if (field === 'timecode' && start !== null)
      decide.mutate({ decisions: [{ kind: 'correct', original: clip.path, start }], done: `${clip.clipName}: timecode from ${value}` });
  };
  const byHand = clip.claims.some((c) => c.origin === 'set by hand');
  const ownIsTimecode = parseTimecode(own, clip.rate) !== null;
  return (
    <div>
      <h3 className="quiet">Who says so</h3>
      {clip.claims.length === 0 && <p>Nothing but the file’s name speaks for it.</p>}
      {clip.claims.map((c) => (
        <div key={`${c.field} ${c.origin}`} className={`grid grid-cols-[4.5rem_1fr_auto] gap-x-2 items-baseline ${c.taken ? '' : 'quiet'}`}>
          <span className="quiet">{FIELD_NAMES[c.field]}</span>
          <span className="min-w-0">
            <span className="tc">{c.value}</span> {c.origin}
          </span>
          {canTake(clip, c) && (
            <button type="button" className="btn btn-xs h-4 min-h-0" onClick={() => correct(c.field, c.value)}>
              take it
            </button>
          )}
        </div>
      ))}
      <form
        className="flex gap-1 mt-1"
        onSubmit={(e) => {
          e.preventDefault();
          correct(ownIsTimecode ? 'timecode' : 'reel', own.trim());
          setOwn('');
        }}
      >
        <input
          className="input input-xs grow tc"
          aria-label="Another reel or start timecode"
          placeholder="another reel, or 01:00:00:00"
          value={own}
          onChange={(e) => setOwn(e.target.value)}
        />
        <button type="submit" className="btn btn-xs" disabled={own.trim() === ''}>
          {ownIsTimecode ? 'Set timecode' : 'Set reel'}
        </button>
        {byHand && (
          <button
            type="button"
            className="btn btn-xs btn-ghost"
            onClick={() =>
              decide.mutate({
                decisions: [{ kind: 'correct', original: clip.path, reel: null, start: null }],
                done: `${clip.clipName}: as the file says`,
              })
            }
          >
            As the file says
          </button>
        )}
      </form>
    </div>
  );
}

function Uses({ clip }: { clip: OriginalView }) {
  const { choose, go } = useView();
  return (
    <div>
      <h3 className="quiet">In the cut</h3>
      {clip.usedBy.length === 0 && <p>No event uses it.</p>}
      {clip.usedBy.map((u) => (
        <p key={u.id} className="flex gap-2 items-center py-px">
          <button
            type="button"
            className="btn btn-xs tc"
            onClick={() => {
              choose(u.id, useView.getState().frame ?? 0);
              go('pairing');
            }}
          >
            {u.number}
          </button>
          {u.to > u.from && (
            <span className="tc quiet">
              its frames {u.from} to {u.to - 1}
            </span>
          )}
        </p>
      ))}
    </div>
  );
}

function Copies({ clip, onChoose }: { clip: OriginalView; onChoose: (path: string) => void }) {
  const link = (path: string) => (
    <button key={path} type="button" className="block hover:underline break-all text-left font-mono" onClick={() => onChoose(path)}>
      {path}
    </button>
  );
  return (
    <>
      {clip.proxyOf && (
        <div>
          <h3 className="quiet">A light copy of</h3>
          {link(clip.proxyOf)}
        </div>
      )}
      {clip.proxies.length > 0 && (
        <div>
          <h3 className="quiet">Its light copies</h3>
          {clip.proxies.map(link)}
        </div>
      )}
    </>
  );
}

function Remarks({ job, clip }: { job: string; clip: OriginalView }) {
  const remark = useRemark(job);
  const [tag, setTag] = useState('');
  return (
    <div>
      <h3 className="quiet">Tags and note</h3>
      <div className="flex flex-wrap gap-1 my-1">
        {clip.tags.map((t) => (
          <button
            key={t}
            type="button"
            className="btn btn-xs"
            aria-label={`Take off the tag ${t}`}
            onClick={() => remark.mutate({ paths: [clip.path], remove: [t] })}
          >
            {t} ×
          </button>
        ))}
        <form
          onSubmit={(e) => {
            e.preventDefault();
            remark.mutate({ paths: [clip.path], add: [tag.trim()] }, { onSuccess: () => setTag('') });
          }}
        >
          <input
            className="input input-xs w-24"
            aria-label="New tag"
            placeholder="new tag"
            value={tag}
            onChange={(e) => setTag(e.target.value)}
          />
        </form>
      </div>
      <textarea
        key={clip.note}
        className="textarea textarea-xs w-full"
        aria-label="Note"
        placeholder="a note that follows the clip"
        defaultValue={clip.note}
        onBlur={(e) => e.target.value !== clip.note && remark.mutate({ paths: [clip.path], note: e.target.value })}
      />
    </div>
  );
}
