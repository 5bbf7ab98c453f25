import type { FallbackProps } from 'react-error-boundary';

/** What stands where a part of the page could not be drawn, which is a fault of ours: all else goes on. */
export function Broken({ error, resetErrorBoundary }: FallbackProps) {
  return (
    <section role="alert" className="h-full grid place-content-center justify-items-center gap-3 p-8 text-center">
      <h2 className="font-medium">This cannot be shown</h2>
      <p className="quiet max-w-md">
        Something went wrong on this page, not with your files. All that you decided is kept. Load the page again, or go on elsewhere.
      </p>
      <p className="quiet text-xs tc max-w-md break-words">{error instanceof Error ? error.message : String(error)}</p>
      <div className="flex gap-2">
        <button type="button" className="btn btn-sm" onClick={resetErrorBoundary}>
          Show it again
        </button>
        <button type="button" className="btn btn-sm btn-primary" onClick={() => location.reload()}>
          Load the page again
        </button>
      </div>
    </section>
  );
}
