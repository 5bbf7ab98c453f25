import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import { toast } from 'sonner';
import { z } from 'zod';
import { cutsViewSchema, type MarkView } from '../../contract';
import { ask, send } from './api';
import { useOnce } from './once';
import { useTasks } from './tasks';

/** The cuts that were found in the reference; asked for again whenever the look for them goes on. */
export function useCuts(job: string) {
  const queries = useQueryClient();
  const state = useTasks(
    (s) =>
      Object.values(s.byId)
        .filter((t) => t.kind === 'cuts')
        .at(-1)?.state,
  );
  useEffect(() => {
    if (state) queries.invalidateQueries({ queryKey: [job, 'cuts'] });
  }, [state, job, queries]);
  return useQuery({ queryKey: [job, 'cuts'], queryFn: () => ask(`/api/jobs/${job}/cuts`, cutsViewSchema) });
}

/** Has a list made out of marks; it arrives like any other. */
export const useListFromMarks = (job: string) =>
  useOnce({
    mutationFn: (marks: readonly MarkView[]) => send('POST', `/api/jobs/${job}/cuts`, z.object({ list: z.string() }), { marks }),
    onError: (error: Error) => toast.error(error.message, { duration: 12_000 }),
  });
