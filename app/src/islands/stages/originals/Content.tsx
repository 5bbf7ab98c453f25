import type { ChecksumCheck } from '@gemello/core';
import type { OriginalPage } from '../../../contract';
import { useStart } from '../../data/queries';

/** Files whose checksums are shown one by one. */
const SHOWN = 12;
const RESULT: Record<ChecksumCheck['result'], string> = { agrees: 'agrees', differs: 'differs', unchecked: 'not measured yet' };

/** What manifests state of a clip's files and what was measured. */
export function Content({ job, clip }: { job: string; clip: OriginalPage }) {
  const start = useStart(job);
  const stated = new Set(clip.checksums.map((c) => `${c.file} ${c.measured}`));
  const alone = clip.measured.filter((m) => !stated.has(`${m.file} ${m.value}`));
  const count = (result: ChecksumCheck['result']) => clip.checksums.filter((c) => c.result === result).length;
  const several = clip.files > 1;
  return (
    <div>
      <h3 className="quiet">Checksums</h3>
      {clip.checksums.length === 0 && alone.length === 0 && <p>No manifest lists it, and it has not been measured.</p>}
      {clip.checksums.length > SHOWN && (
        <p>
          {count('agrees')} agree, {count('differs')} differ, {count('unchecked')} not measured yet.
        </p>
      )}
      {[...clip.checksums]
        .sort((a, b) => Number(b.result === 'differs') - Number(a.result === 'differs'))
        .slice(0, SHOWN)
        .map((c) => (
          <p key={`${c.file} ${c.manifest} ${c.algorithm}`} className="py-px">
            <span className={c.result === 'differs' ? 'text-error font-medium' : ''}>{RESULT[c.result]}</span>{' '}
            <span className="quiet">
              {several && `${c.file}, `}
              {c.manifest}
            </span>
            <span className="font-mono break-all block quiet">
              {c.algorithm} {c.value}
              {c.result === 'differs' && <span className="block text-error">measured {c.measured}</span>}
            </span>
          </p>
        ))}
      {alone.slice(0, SHOWN).map((m) => (
        <p key={`${m.file} ${m.algorithm}`} className="font-mono break-all quiet py-px">
          {several && `${m.file} `}
          {m.algorithm} {m.value}
        </p>
      ))}
      {clip.here && (
        <button type="button" className="btn btn-xs mt-1" onClick={() => start.mutate({ kind: 'checksums', paths: [clip.path] })}>
          {clip.measured.length > 0 ? 'Measure what changed' : 'Measure checksums'}
        </button>
      )}
    </div>
  );
}
