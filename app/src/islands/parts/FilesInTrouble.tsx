import { plural } from '@gemello/core/words';
import { PathText } from './PathText';

/** Files that are named at most; nobody reads more. */
const NAMED = 200;

/** How many files are in some trouble; opened, which they are and why, over what is below it or in its place. Nothing when there are none. */
export function FilesInTrouble({
  what,
  why,
  files,
  opens,
}: {
  what: string;
  why: string;
  files: readonly { path: string; message: string }[];
  opens: 'over' | 'in place';
}) {
  if (files.length === 0) return null;
  return (
    <details className={opens === 'over' ? 'dropdown' : ''}>
      <summary className="cursor-pointer text-warning">
        {plural(files.length, 'file')} {what}
      </summary>
      <div
        className={`bg-base-200 p-2 max-h-64 overflow-y-auto ${opens === 'over' ? 'dropdown-content border border-base-300 z-30 w-[28rem]' : ''}`}
      >
        <p className="pb-1">{why}</p>
        {files.slice(0, NAMED).map(({ path, message }) => (
          <p key={path} className="py-0.5">
            <PathText path={path} />
            {message && <span className="block quiet">{message}</span>}
          </p>
        ))}
        {files.length > NAMED && <p className="quiet">and {files.length - NAMED} more</p>}
      </div>
    </details>
  );
}
