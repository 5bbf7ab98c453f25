import { QueryCache, QueryClient } from '@tanstack/react-query';
import { toast } from 'sonner';
import { NotAnswered } from './api';
import { useLine } from './line';

/** The server is on this machine, or reached through it: whether the machine has a network says nothing of it. */
const networkMode = 'always';

/** What the page has from the server. What could not be asked for again stays as it was, and that is said: once, where nothing answers. */
export const client = new QueryClient({
  defaultOptions: { queries: { networkMode, staleTime: Number.POSITIVE_INFINITY, retry: 1 }, mutations: { networkMode } },
  queryCache: new QueryCache({
    onError(error, { state }) {
      if (state.data === undefined || !(error instanceof NotAnswered) || useLine.getState().isDown) return;
      toast.error(`What you see may be out of date. ${error.message}`, { id: 'out of date', duration: 12_000 });
    },
  }),
});
