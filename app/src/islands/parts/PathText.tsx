import { Fragment } from 'react';

/** A path of files, broken over lines after its separators where it can be, so that names stay whole. */
export function PathText({ path, className = '' }: { path: string; className?: string }) {
  return (
    <span data-testid="path" className={`font-mono wrap-anywhere ${className}`}>
      {[...path.matchAll(/[^/\\]+[/\\]*|[/\\]+/g)].map((part) => (
        <Fragment key={part.index}>
          {part[0]}
          <wbr />
        </Fragment>
      ))}
    </span>
  );
}
