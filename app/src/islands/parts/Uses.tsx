import type { OriginalPage, VersionUses } from '../../contract';
import { useView } from '../data/view';

const IS: Record<VersionUses['is'], string> = { cut: 'the cut', former: 'a former cut', beside: 'kept beside the cut' };

interface Props {
  readonly versions: readonly VersionUses[];
  /** Which frames of the clip the events of the cut use; empty where it is not known. */
  readonly usedBy: OriginalPage['usedBy'];
}

/** The events that use a clip, in every version of the cut. */
export function Uses({ versions, usedBy }: Props) {
  const used = versions.filter((v) => v.uses.length > 0);
  const others = versions.length - used.length;
  return (
    <div>
      <h3 className="quiet">Used by</h3>
      {versions.length === 0 && <p>There is no list yet.</p>}
      {versions.length > 0 && used.length === 0 && <p>No event in any list of this job.</p>}
      {used.map((v) => (
        <Version key={v.list} version={v} usedBy={usedBy} />
      ))}
      {used.length > 0 && others > 0 && (
        <p className="quiet">Not used in {others === 1 ? 'the other list' : `the ${others} other lists`}.</p>
      )}
    </div>
  );
}

function Version({ version, usedBy }: { version: VersionUses; usedBy: Props['usedBy'] }) {
  const { choose, go, layBeside } = useView();
  const current = version.is === 'cut';
  return (
    <div className="py-0.5">
      <p className="truncate" title={version.fileName}>
        <span className="font-mono">{version.fileName}</span> <span className="quiet">{IS[version.is]}</span>
      </p>
      <div className="flex flex-wrap gap-x-3 gap-y-0.5">
        {version.uses.map((u) => {
          const span = current ? usedBy.find((s) => s.id === u.id) : undefined;
          return (
            <span key={u.id} className="flex gap-1.5 items-center">
              <button
                type="button"
                className="btn btn-xs tc"
                title={current ? 'Show the event under Pairing' : 'Compare this list with the cut'}
                onClick={() => {
                  if (!current) return layBeside(version.list);
                  choose(u.id, u.frame);
                  go('pairing');
                }}
              >
                {u.number || u.recordIn}
              </button>
              <span className="tc quiet">
                {span && span.to > span.from ? `frames ${span.from} to ${span.to - 1}` : u.number && u.recordIn}
              </span>
            </span>
          );
        })}
      </div>
    </div>
  );
}
