import { type QueryFilters, useQueryClient } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { z } from 'zod';
import { activityViewSchema, taskViewSchema } from '../../contract';
import { ask } from './api';
import { holdLine, useLine } from './line';
import { useTasks } from './tasks';

/** What is told over the watch: progress of a task, what is to be asked for again, or `here`, that the server is there. */
const changeSchema = z.object({ kind: z.string(), task: taskViewSchema.optional() });

/** Listens to the job: keeps tasks moving and asks again for what changed. False until it does: what changed before would never be heard of. */
export function useWatch(job: string): boolean {
  const queries = useQueryClient();
  const [watching, setWatching] = useState(false);
  useEffect(() => {
    /** Asks again for what is shown. An answer that is still awaited for the first time may be older than the change: that is asked for twice. */
    const again = async (which: QueryFilters) => {
      const first = queries
        .getQueryCache()
        .findAll(which)
        .filter(({ state }) => state.data === undefined && state.fetchStatus === 'fetching');
      await queries.invalidateQueries(which);
      if (first.length > 0) await queries.invalidateQueries({ predicate: (query) => first.includes(query) });
    };
    return holdLine(() => new EventSource(`/api/jobs/${job}/watch`), {
      opened(before) {
        if (before) {
          useLine.setState(({ returns }) => ({ isDown: false, returns: returns + 1 }));
          void again({ queryKey: [job] });
          void ask(`/api/jobs/${job}/activity`, activityViewSchema).then(
            ({ tasks }) => useTasks.getState().catchUp(tasks),
            // Which are open, the job says too.
            () => useTasks.getState().catchUp([]),
          );
        } else useLine.setState({ isDown: false });
        setWatching(true);
      },
      // Without it the page shows what it can.
      broke() {
        useLine.setState({ isDown: true });
        setWatching(true);
      },
      heard(said) {
        const change = changeSchema.parse(JSON.parse(said));
        const { hear } = useTasks.getState();
        if (change.task) hear(change.task);
        else {
          const names =
            change.kind === 'ledger'
              ? ['ledger', 'return', 'homecoming', 'turnover', 'lists', 'written']
              : change.kind === 'originals'
                ? ['originals', 'homecoming', 'filters', 'logs']
                : [change.kind];
          // A list's own resources are named below `lists`: `lists/ID/beside`.
          void again({
            predicate: ({ queryKey: [of, name] }) => of === job && names.includes(String(name).split('/')[0] ?? ''),
          });
        }
      },
    });
  }, [job, queries]);
  return watching;
}
