import { useEffect } from 'react';
import type { JobView } from '../../contract';
import { useStart } from '../data/queries';
import { useView } from '../data/view';
import { useOpenTasks } from '../parts/TaskLine';

/** So long must nothing be asked for, in milliseconds, before copies of all that the cut shows are made. */
const AT_REST = 10_000;

/** Has viewing copies made while nobody asks for anything else, so that the cut then plays without waiting. */
export function useCopies(job: string, view: JobView): void {
  const { mutate } = useStart(job);
  const { event, frame } = useView();
  const busy = useOpenTasks(view.tasks).length > 0;
  const wanted = view.reference !== null && !busy;
  // biome-ignore lint/correctness/useExhaustiveDependencies: whoever goes on to another frame is not at rest
  useEffect(() => {
    if (!wanted) return;
    const timer = setTimeout(() => mutate({ kind: 'copies' }), AT_REST);
    return () => clearTimeout(timer);
  }, [wanted, mutate, event, frame]);
}
