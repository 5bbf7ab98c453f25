import type { OriginalPage } from '../../../contract';
import { useDecide } from '../../data/queries';

/** The files of a take that goes over several, or the file in which this one may go on. Either is joined and taken apart by a word. */
export function Span({ job, clip, onChoose }: { job: string; clip: OriginalPage; onChoose: (path: string) => void }) {
  const decide = useDecide(job);
  const name = (path: string) => path.split('/').pop() ?? path;
  const next = clip.goesOnIn;
  if (clip.pieces.length > 0)
    return (
      <div>
        <h3 className="quiet">One take in {clip.pieces.length} files</h3>
        {clip.pieces.map((path) => (
          <p key={path} className="font-mono truncate" title={path}>
            {name(path)}
          </p>
        ))}
        <button
          type="button"
          className="btn btn-xs mt-1"
          onClick={() =>
            decide.mutate({ decisions: [{ kind: 'join', original: clip.path, parts: [] }], done: `${clip.clipName}: taken apart` })
          }
        >
          Split into separate clips
        </button>
      </div>
    );
  if (!next) return null;
  return (
    <div>
      <h3 className="quiet">Continues in</h3>
      <p className="flex gap-2 items-start">
        <button type="button" className="hover:underline font-mono text-left grow truncate" onClick={() => onChoose(next)}>
          {name(next)}
        </button>
        <button
          type="button"
          className="btn btn-xs h-5 min-h-0"
          onClick={() =>
            decide.mutate({
              decisions: [{ kind: 'join', original: clip.path, parts: [next] }],
              done: `${clip.clipName} continues in ${name(next)}`,
            })
          }
        >
          Join as one take
        </button>
      </p>
    </div>
  );
}
