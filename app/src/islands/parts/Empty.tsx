import type { ReactNode } from 'react';
import { type Stage, useView } from '../data/view';

/** What stands where there is nothing yet: what to do next, and the button that leads there. */
export function Empty({ title, goTo, action, children }: { title: string; goTo: Stage; action: string; children: ReactNode }) {
  const go = useView((s) => s.go);
  return (
    <div className="h-full grid place-items-center">
      <div className="max-w-md text-center">
        <p className="text-base font-medium mb-2">{title}</p>
        <p className="quiet text-sm mb-3">{children}</p>
        <button type="button" className="btn btn-sm btn-primary" onClick={() => go(goTo)}>
          {action}
        </button>
      </div>
    </div>
  );
}
