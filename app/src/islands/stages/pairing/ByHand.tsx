import { useState } from 'react';
import type { LedgerRow } from '../../../contract';
import { pairDecision } from '../../data/events';
import { useByHand, useClipsFound } from '../../data/pairing';
import { useDecide } from '../../data/queries';
import { Candidate } from './Candidate';

/** Any original of the job, found by typing; what speaks against it is named and confirmed, and kept with the decision. */
export function ByHand({ job, row, at }: { job: string; row: LedgerRow; at: number }) {
  const [typed, setTyped] = useState('');
  const [path, setPath] = useState<string | null>(null);
  const { data: found = [] } = useClipsFound(job, typed);
  const { data: laid } = useByHand(job, row.id, path);
  const decide = useDecide(job);
  const baking = row.state === 'exempt';
  const take = () => {
    if (!laid) return;
    const { contender: c, differences } = laid;
    if (baking) {
      decide.mutate(
        {
          decisions: [{ kind: 'bake', event: row.id, bake: { original: c.path, sourceStartFrame: Math.max(0, c.sourceStartFrame) } }],
          done: `Event ${row.number} is shown as ${c.fileName}`,
        },
        { onSuccess: () => setPath(null) },
      );
      return;
    }
    decide.mutate(
      {
        decisions: [pairDecision(row, c)],
        done: `Event ${row.number} paired with ${c.fileName}`,
        why: differences.length > 0 ? `Taken by hand although ${differences.join('; ')}` : '',
      },
      {
        onSuccess: () => {
          setPath(null);
          setTyped('');
        },
      },
    );
  };
  return (
    <section aria-label="Another original" className="text-xs space-y-2">
      <input
        className="input input-xs w-full"
        aria-label="Find another original"
        placeholder={baking ? 'find a movie that was baked for it' : 'find another original by name, reel, folder, timecode or note'}
        value={typed}
        onChange={(e) => {
          setTyped(e.target.value);
          setPath(null);
        }}
      />
      {path === null && found.length > 0 && (
        <ul className="bg-base-200 max-h-40 overflow-y-auto">
          {found.map((o) => (
            <li key={o.path}>
              <button type="button" className="w-full text-left px-2 py-1 hover:bg-base-300 flex gap-3" onClick={() => setPath(o.path)}>
                <span className="font-medium">{o.fileName}</span>
                <span className="tc quiet">{o.reel}</span>
                <span className="tc quiet">{o.timecodeIn}</span>
              </button>
            </li>
          ))}
        </ul>
      )}
      {typed.trim().length > 1 && found.length === 0 && <p className="quiet">No original of the job is called so.</p>}
      {laid && (
        <>
          <Candidate
            job={job}
            row={row}
            contender={laid.contender}
            at={at}
            current={false}
            taken={false}
            frame={Math.max(0, laid.contender.sourceStartFrame + at - row.recordFrames.in)}
          />
          {!baking && laid.differences.length > 0 && (
            <p style={{ color: 'var(--state-unpaired)' }}>{`It differs: ${laid.differences.join('; ')}.`}</p>
          )}
          <button type="button" className="btn btn-xs btn-primary" disabled={decide.isPending} onClick={take}>
            {baking ? 'Show this movie in its place' : laid.differences.length > 0 ? 'Pair all the same' : 'Pair with this'}
          </button>
        </>
      )}
    </section>
  );
}
