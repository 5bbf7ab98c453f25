import type { Decision } from '@gemello/core';
import { usePrefetchQuery, useQuery } from '@tanstack/react-query';
import { toast } from 'sonner';
import { z } from 'zod';
import {
  byHandViewSchema,
  causeViewSchema,
  clipFoundSchema,
  eventUsesSchema,
  previewViewSchema,
  relinkViewSchema,
  searchViewSchema,
  swapViewSchema,
} from '../../contract';
import { ask, send } from './api';
import { useOnce } from './once';
import { isOpen } from './tasks';

const complain = (error: Error) => toast.error(error.message, { duration: 12_000 });

const causesOf = (job: string) => ({
  queryKey: [job, 'ledger', 'causes'],
  queryFn: () => ask(`/api/jobs/${job}/pairing`, z.array(causeViewSchema)),
});
/** Causes of many open events; asked for again whenever the ledger changes. */
export const useCauses = (job: string) => useQuery(causesOf(job));
/** Asks for the causes with the page, so that Pairing is drawn with them at once. */
export const useCausesSoon = (job: string) => usePrefetchQuery(causesOf(job));

/** What decisions would change, before they are made. */
export const usePreview = (job: string) =>
  useOnce({
    mutationFn: (decisions: readonly Decision[]) => send('POST', `/api/jobs/${job}/pairing`, previewViewSchema, { decisions }),
    onError: complain,
  });

/** Originals by what is typed. */
export const useClipsFound = (job: string, typed: string) =>
  useQuery({
    queryKey: [job, 'originals', 'find', typed],
    queryFn: () => ask(`/api/jobs/${job}/pairing?find=${encodeURIComponent(typed)}`, z.array(clipFoundSchema)),
    enabled: typed.trim().length > 1,
  });

/** Where the source of an event is used, in every version of the cut. */
export const useEventUses = (job: string, event: string) =>
  useQuery({
    queryKey: [job, 'ledger', 'uses', event],
    queryFn: () => ask(`/api/jobs/${job}/pairing?uses=${encodeURIComponent(event)}`, eventUsesSchema),
  });

/** The newest search for what is offline; asked for again while it runs. */
export const useSearch = (job: string) =>
  useQuery({
    queryKey: [job, 'ledger', 'search'],
    queryFn: () => ask(`/api/jobs/${job}/pairing?search`, searchViewSchema),
    refetchInterval: ({ state }) => (state.data && isOpen(state.data.task) ? 1000 : false),
  });

/** One original laid beside an event. */
export const useByHand = (job: string, event: string, path: string | null) =>
  useQuery({
    queryKey: [job, 'ledger', 'by-hand', event, path],
    queryFn: () =>
      ask(`/api/jobs/${job}/pairing?event=${encodeURIComponent(event)}&with=${encodeURIComponent(path ?? '')}`, byHandViewSchema),
    enabled: path !== null,
  });

/** What follows from a file or folder being elsewhere now. */
export const useRelink = (job: string) =>
  useOnce({
    mutationFn: (places: { before: string; now: string }) => send('POST', `/api/jobs/${job}/pairing`, relinkViewSchema, places),
    onError: complain,
  });

/** Larger read-outs of what events are paired with. */
export const useLarger = (job: string) =>
  useOnce({
    mutationFn: (events: readonly string[]) => send('POST', `/api/jobs/${job}/pairing`, swapViewSchema, { larger: events }),
    onError: complain,
  });
