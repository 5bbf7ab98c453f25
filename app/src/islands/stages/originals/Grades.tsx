import type { StatedGrade } from '@gemello/core';
import { plural } from '@gemello/core/words';
import type { OriginalPage } from '../../../contract';
import { useDecide } from '../../data/queries';

const numbers = (values: readonly number[]) => values.map((v) => v.toFixed(3)).join(' ');

/** Grades that lie beside a clip; one in ASC CDL can be given to the events that use the clip. */
export function Grades({ job, clip }: { job: string; clip: OriginalPage }) {
  if (clip.grades.length === 0) return null;
  return (
    <div>
      <h3 className="quiet">Grades in sidecar files</h3>
      {clip.grades.map((g) => (
        <Grade key={`${g.file} ${g.kind === 'cdl' ? g.id : ''}`} job={job} clip={clip} grade={g} />
      ))}
    </div>
  );
}

function Grade({ job, clip, grade }: { job: string; clip: OriginalPage; grade: StatedGrade }) {
  const decide = useDecide(job);
  if (grade.kind === 'unreadable')
    return (
      <p className="text-warning">
        {grade.file}: {grade.why}
      </p>
    );
  if (grade.kind === 'lut')
    return (
      <p>
        <span className="font-mono">{grade.file}</span>{' '}
        <span className="quiet">
          look-up table, {grade.dimensions === 3 ? `${grade.size}×${grade.size}×${grade.size}` : `${grade.size} entries a channel`}
          {grade.title && `, “${grade.title}”`}
        </span>
      </p>
    );
  const { slope, offset, power, saturation } = grade.cdl;
  const events = clip.usedBy;
  return (
    <div className="py-0.5">
      <p>
        <span className="font-mono">{grade.file}</span> <span className="quiet">{grade.id && `“${grade.id}”, `}ASC CDL</span>
      </p>
      <p className="tc quiet">
        slope {numbers(slope)}
        <br />
        offset {numbers(offset)}
        <br />
        power {numbers(power)}, saturation {saturation.toFixed(3)}
      </p>
      {events.length > 0 && (
        <button
          type="button"
          className="btn btn-xs"
          onClick={() =>
            decide.mutate({
              decisions: events.map((u) => ({ kind: 'grade' as const, scope: { of: 'event' as const, event: u.id }, cdl: grade.cdl })),
              done: `${grade.file} given to ${events.map((u) => u.number).join(', ')}`,
            })
          }
        >
          Give it to {events.length === 1 ? `event ${events[0]?.number}` : `its ${plural(events.length, 'event')}`}
        </button>
      )}
    </div>
  );
}
