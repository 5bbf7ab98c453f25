import { form, plural } from '@gemello/core/words';
import { ClipboardCopyIcon } from '@radix-ui/react-icons';
import { toast } from 'sonner';
import type { ReturnView } from '../../../contract';
import { PathText } from '../../parts/PathText';

/** Clips that are named before the rest are counted. */
const MOST_NAMED = 6;

/** What was written last, whether it still holds, and what was found when it was opened again. */
export function Written({ job, last }: { job: string; last: NonNullable<ReturnView['last']> }) {
  return (
    <div className="bg-base-200 px-3 py-2 text-xs space-y-1" data-testid="written">
      <p>
        <span className="quiet">Written last: </span>
        {last.clips > 0 ? `${last.clips} clips` : 'lists only'} in <PathText path={last.folder} />{' '}
        <button
          type="button"
          className="btn btn-xs btn-ghost px-1 align-middle"
          aria-label="Copy the path of the folder"
          title="Copy the path of the folder"
          onClick={() =>
            void navigator.clipboard.writeText(last.folder).then(
              () => toast.success('Path copied'),
              () => toast.error('The browser does not let the path be copied; select it and copy it by hand.'),
            )
          }
        >
          <ClipboardCopyIcon />
        </button>
      </p>
      <p className="flex gap-3 flex-wrap">
        {last.lists.map((name) => (
          <a key={name} className="link" href={`/api/jobs/${job}/file?name=${encodeURIComponent(name)}`}>
            {name}
          </a>
        ))}
      </p>
      {last.lists.map((name) => (
        <NotCarried key={name} name={name} notices={(last.notCarried ?? []).filter((n) => n.fileName === name)} />
      ))}
      {last.stale.length > 0 && (
        <p className="text-warning">
          {plural(last.stale.length, 'written clip')} no longer {form(last.stale.length, 'matches', 'match')} the cut or the original:{' '}
          {last.stale.slice(0, MOST_NAMED).join(', ')}
          {last.stale.length > MOST_NAMED && ` and ${last.stale.length - MOST_NAMED} more`}. Write the return again.
        </p>
      )}
      {last.otherList && last.stale.length === 0 && (
        <p className="text-warning">The list that was written is no longer that of the cut as it stands. Write the return again.</p>
      )}
      {last.clips > 0 && last.problems.length === 0 && last.stale.length === 0 && !last.otherList && (
        <p>
          Opened again and checked: frames, timecode, reel, rate and pictures of every clip are as planned, and every list, read again,
          leads to them.
        </p>
      )}
      {last.problems.map((p) => (
        <p key={p.fileName + p.message} className="text-error">
          {p.fileName} {p.message}
        </p>
      ))}
    </div>
  );
}

/** What was found to differ when a list was read again after it was written. */
function NotCarried({ name, notices }: { name: string; notices: readonly { severity: string; message: string }[] }) {
  if (notices.length === 0) return null;
  return (
    <details>
      <summary className="cursor-pointer">
        {name} does not carry {plural(notices.length, 'thing')}
      </summary>
      <ul className="pl-4">
        {notices.map((n) => (
          <li key={n.message} className="flex gap-3">
            <span className={`w-16 shrink-0 ${n.severity === 'lost' ? 'text-warning' : 'quiet'}`}>{n.severity}</span>
            {n.message}
          </li>
        ))}
      </ul>
    </details>
  );
}
