import { type QueryFilters, useQueryClient } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { z } from 'zod';
import { activityViewSchema, taskViewSchema } from '../../contract';
import { ask } from './api';
import { holdLine, restUnseen, useLine } from './line';
import { useTasks } from './tasks';

/** What is told over the watch: progress of a task, what is to be asked for again, or `here`, that the server is there; and where the telling stands. */
const changeSchema = z.object({ kind: z.string(), stand: z.string(), task: taskViewSchema.optional() });

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
    /** Where the telling stood when something was heard last; null before the first word, empty where the line broke since. */
    let stand: string | null = null;
    /** Anything may have changed. */
    const catchUp = () => {
      void again({ queryKey: [job] });
      void ask(`/api/jobs/${job}/activity`, activityViewSchema).then(
        ({ tasks }) => useTasks.getState().catchUp(tasks),
        // Which are open, the job says too.
        () => useTasks.getState().catchUp([]),
      );
    };
    const line = holdLine(() => new EventSource(`/api/jobs/${job}/watch`), {
      opened() {
        useLine.setState(({ isDown, returns }) => ({ isDown: false, returns: isDown ? returns + 1 : returns }));
        setWatching(true);
      },
      // Without it the page shows what it can.
      broke() {
        stand = '';
        useLine.setState({ isDown: true });
        setWatching(true);
      },
      heard(said) {
        const change = changeSchema.parse(JSON.parse(said));
        const hasMissed = change.kind === 'here' && stand !== null && change.stand !== stand;
        stand = change.stand;
        if (hasMissed) catchUp();
        else if (change.task) useTasks.getState().hear(change.task);
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
    const seen = restUnseen(line, document);
    return () => {
      seen();
      line.end();
    };
  }, [job, queries]);
  return watching;
}
