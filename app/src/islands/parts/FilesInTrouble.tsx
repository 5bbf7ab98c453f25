import { PathText } from './PathText';

/** Files that are named at most; nobody reads more. */
const NAMED = 200;

/** How many files are in some trouble; opened, which they are and why. Nothing when there are none. */
export function FilesInTrouble({ what, why, files }: { what: string; why: string; files: readonly { path: string; message: string }[] }) {
  if (files.length === 0) return null;
  return (
    <details className="dropdown">
      <summary className="cursor-pointer text-warning">
        {files.length} {files.length === 1 ? 'file' : 'files'} {what}
      </summary>
      <div className="dropdown-content bg-base-200 border border-base-300 p-2 z-30 w-[28rem] max-h-64 overflow-y-auto">
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
