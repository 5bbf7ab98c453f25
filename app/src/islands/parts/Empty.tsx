import type { ReactNode } from 'react';

/** What stands where there is nothing yet: what this place is for and what to do next. */
export function Empty({ title, children }: { title: string; children: ReactNode }) {
  return (
    <div className="h-full grid place-items-center">
      <div className="max-w-md text-center">
        <p className="text-base font-medium mb-2">{title}</p>
        <div className="quiet text-sm">{children}</div>
      </div>
    </div>
  );
}
