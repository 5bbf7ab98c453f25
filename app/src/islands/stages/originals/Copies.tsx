import { useState } from 'react';
import type { OriginalPage } from '../../../contract';
import { useDecide, useOriginals } from '../../data/queries';
import { PathText } from '../../parts/PathText';

interface Props {
  readonly job: string;
  readonly clip: OriginalPage;
  readonly onChoose: (path: string) => void;
}

/** What a clip is a proxy of, and its own proxies; either can be corrected. */
export function Copies({ job, clip, onChoose }: Props) {
  const decide = useDecide(job);
  const [asking, setAsking] = useState(false);
  const link = (path: string) => (
    <button type="button" className="hover:underline text-left grow" onClick={() => onChoose(path)}>
      <PathText path={path.split('/').slice(-3).join('/')} />
    </button>
  );
  const unlink = (copy: string) => (
    <button
      type="button"
      className="btn btn-xs h-5 min-h-0"
      aria-label={`${copy.split('/').pop()} is not a proxy`}
      onClick={() =>
        decide.mutate({ decisions: [{ kind: 'proxy', original: copy, of: null }], done: `${copy.split('/').pop()}: not a proxy` })
      }
    >
      Not a proxy
    </button>
  );
  if (clip.kind === 'sound') return null;
  return (
    <div>
      <h3 className="quiet">{clip.proxyOf ? 'Proxy of' : 'Proxies'}</h3>
      {clip.proxyOf && (
        <p className="flex gap-2 items-start py-px">
          {link(clip.proxyOf)}
          {unlink(clip.path)}
        </p>
      )}
      {clip.proxies.map((copy) => (
        <p key={copy} className="flex gap-2 items-start py-px">
          {link(copy)}
          {unlink(copy)}
        </p>
      ))}
      {!clip.proxyOf && clip.proxies.length === 0 && <p>No proxy is known. Select the clip to make one.</p>}
      {!clip.proxyOf && !asking && (
        <button type="button" className="btn btn-xs mt-1" onClick={() => setAsking(true)}>
          It is a proxy of…
        </button>
      )}
      {asking && <Choice job={job} clip={clip} onDone={() => setAsking(false)} />}
    </div>
  );
}

/** How many clips are offered at once. */
const OFFERED = 8;

function Choice({ job, clip, onDone }: Pick<Props, 'job' | 'clip'> & { onDone: () => void }) {
  const { data: originals = [] } = useOriginals(job);
  const decide = useDecide(job);
  const [words, setWords] = useState('');
  const wanted = words.toLowerCase();
  // The likeliest first: the same timecode, then the same length.
  const likeness = (o: (typeof originals)[number]) =>
    o.timecodeIn !== null && o.timecodeIn === clip.timecodeIn ? 0 : o.frames === clip.frames ? 1 : 2;
  const offered = originals
    .filter(
      (o) => o.path !== clip.path && o.kind !== 'sound' && o.proxyOf === null && `${o.fileName} ${o.reel}`.toLowerCase().includes(wanted),
    )
    .sort((a, b) => likeness(a) - likeness(b))
    .slice(0, OFFERED);
  return (
    <div className="bg-base-200 p-2 mt-1">
      <div className="flex gap-1">
        <input
          className="input input-xs grow"
          aria-label="Name or reel of its original"
          placeholder="name or reel of its original"
          value={words}
          onChange={(e) => setWords(e.target.value)}
        />
        <button type="button" className="btn btn-xs btn-ghost" onClick={onDone}>
          Cancel
        </button>
      </div>
      {offered.map((o) => (
        <button
          key={o.path}
          type="button"
          className="flex gap-2 w-full text-left py-0.5 hover:bg-base-300"
          onClick={() =>
            decide.mutate(
              { decisions: [{ kind: 'proxy', original: clip.path, of: o.path }], done: `${clip.fileName}: a proxy of ${o.fileName}` },
              { onSuccess: onDone },
            )
          }
        >
          <span className="truncate grow">{o.fileName}</span>
          <span className="tc quiet shrink-0">
            {o.timecodeIn ?? 'no timecode'}, {o.frames}
          </span>
        </button>
      ))}
    </div>
  );
}
