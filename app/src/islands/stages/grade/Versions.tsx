import type { Cdl } from '@gemello/core';
import { formatSop, sameCdl } from '@gemello/core/grade';
import type { LedgerRow } from '../../../contract';
import { useDrafts } from '../../data/drafts';
import { useEvent } from '../../data/queries';
import { dayAndTime } from '../../parts/times';

/** The grades that a shot had, newest first. One that is chosen is tried, as if it were drawn anew. */
export function Versions({ job, row, cdl, onTry }: { job: string; row: LedgerRow; cdl: Cdl; onTry: (cdl: Cdl) => void }) {
  const { data } = useEvent(job, row.id);
  const tried = useDrafts((s) => s.grades[row.id] !== undefined);
  const all = (data?.grades ?? []).map((grade, i) => ({ ...grade, version: i + 1 })).filter((g) => g.cdl !== null);
  if (all.length === 0 || (all.length === 1 && !tried)) return null;
  return (
    <fieldset className="border-t border-base-300 pt-2">
      <legend className="sr-only">Versions of the grade</legend>
      <p className="quiet">Versions of the grade</p>
      <ul data-testid="versions">
        {all.reverse().map(({ version, who, when, cdl: grade }) => (
          <li key={version} className="flex items-baseline gap-1">
            <button
              type="button"
              className={`btn btn-xs btn-ghost px-1.5 ${grade && sameCdl(grade, cdl) ? 'btn-active' : ''}`}
              aria-pressed={grade !== null && sameCdl(grade, cdl)}
              title={grade ? `${formatSop(grade)} saturation ${grade.saturation}` : ''}
              onClick={() => grade && onTry(grade)}
            >
              {`Try ${version}`}
            </button>
            <span className="quiet truncate">{who === '' ? 'as the list has it' : `${dayAndTime(when)}, ${who}`}</span>
          </li>
        ))}
      </ul>
    </fieldset>
  );
}
