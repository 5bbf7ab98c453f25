import type { Decision } from '@gemello/core';
import type { ReturnAsked } from '@gemello/core/returning';
import { plural } from '@gemello/core/words';
import { keepPreviousData, useQueries, useQuery, useQueryClient } from '@tanstack/react-query';
import { toast } from 'sonner';
import { z } from 'zod';
import type {
  DeskView,
  KeptReturn,
  LedgerView,
  LogRequest,
  OriginalFilter,
  Reading,
  Remark,
  TaskOptions,
  WhichJobs,
  Writing,
} from '../../contract';
import {
  activityViewSchema,
  arrivalViewSchema,
  besideViewSchema,
  conformViewSchema,
  deskViewSchema,
  eventViewSchema,
  homecomingViewSchema,
  jobViewSchema,
  keptReturnSchema,
  ledgerAfter,
  ledgerAnswerSchema,
  listEntrySchema,
  logViewSchema,
  originalPageSchema,
  returnViewSchema,
  saveFilterSchema,
  strangerViewSchema,
  tracesViewSchema,
  turnoverViewSchema,
  unpackOriginals,
  writtenViewSchema,
} from '../../contract';
import { packedSchema } from '../../contract/packed';
import { ask, done, type HeardFile, NotAnswered, send, soundAddress } from './api';
import { useOnce } from './once';
import { decidedHere } from './own';

const withId = z.object({ id: z.string() });
const withBatch = z.object({ batch: z.string() });
/** What became of a delivered file: a list to be looked at, or grades that were given to events. */
const delivered = z.union([z.object({ list: z.string() }), withBatch.extend({ grades: z.string() })]);

const complain = (error: Error) => toast.error(error.message, { duration: 12_000 });

/** Which jobs are asked for: those that have these words, on the desk or deleted. */
export interface JobsAsked {
  readonly words: string;
  readonly which: WhichJobs;
}

const pageOfDesk = (asked: JobsAsked, page: number) => ({
  queryKey: ['jobs', asked, page] as const,
  queryFn: () => ask(`/api/jobs?${new URLSearchParams({ ...asked, page: `${page}` })}`, deskViewSchema),
  staleTime: 0,
  refetchInterval: ({ state }: { state: { data?: DeskView } }) =>
    state.data?.jobs.some((j) => j.counting || j.running > 0) ? 2000 : (false as const),
});

/** The first page of what is asked for, and how many there are. It is asked for again while they are being counted or worked on. */
export const useDesk = (asked: JobsAsked) =>
  useQuery({
    ...pageOfDesk(asked, 0),
    // The jobs before stay until those are there that have the words; the desk is not shown for what was deleted.
    placeholderData: (before: DeskView | undefined, query) => (query?.queryKey[1].which === asked.which ? before : undefined),
  });
/** Further pages of the desk, by their numbers; those that are not here yet are left out. */
export const useDeskPages = (asked: JobsAsked, pages: readonly number[]): ReadonlyMap<number, DeskView> =>
  useQueries({
    queries: pages.map((page) => pageOfDesk(asked, page)),
    combine: (answers) => new Map(answers.flatMap(({ data }, i) => (data ? [[pages[i] as number, data] as const] : []))),
  });

function useResource<T>(job: string, name: string, schema: z.ZodType<T>, query = '') {
  return useQuery({
    queryKey: [job, name, query],
    queryFn: () => ask(`/api/jobs/${job}${name === 'job' ? '' : `/${name}`}${query}`, schema),
  });
}
export const useJob = (job: string) => useResource(job, 'job', jobViewSchema);
/** The ledger; once it is here, only what changed is asked for. */
export function useLedger(job: string) {
  const queries = useQueryClient();
  return useQuery({
    queryKey: [job, 'ledger', ''],
    queryFn: async () => {
      const before = queries.getQueryData<LedgerView>([job, 'ledger', '']);
      return ledgerAfter(before, await ask(`/api/jobs/${job}/ledger${before ? `?since=${before.version}` : ''}`, ledgerAnswerSchema));
    },
    // Rows that did not change are the same already.
    structuralSharing: false,
  });
}
/** Everything of one event. That of the event before stays until it is there. */
export const useEvent = (job: string, event: string, enabled = true) =>
  useQuery({
    enabled,
    queryKey: [job, 'ledger', 'event', event],
    queryFn: () => ask(`/api/jobs/${job}/ledger?event=${encodeURIComponent(event)}`, eventViewSchema),
  });
/** What the page's own time map is compiled from. */
export const useConform = (job: string) =>
  useQuery({
    queryKey: [job, 'ledger', 'conform'],
    queryFn: async () => (await ask(`/api/jobs/${job}/ledger?of=conform`, z.object({ conform: conformViewSchema.nullable() }))).conform,
    structuralSharing: false,
  });
export const useTraces = (job: string) =>
  useQuery({ queryKey: [job, 'ledger', 'traces'], queryFn: () => ask(`/api/jobs/${job}/ledger?of=traces`, tracesViewSchema) });
/** Another version of the cut, by its list, as the page compiles it; nothing where no list is named. */
export const useVersion = (job: string, list: string | null) =>
  useQuery({
    queryKey: [job, 'ledger', 'version', list],
    queryFn: async () =>
      (await ask(`/api/jobs/${job}/ledger?of=conform&list=${list}`, z.object({ conform: conformViewSchema.nullable() }))).conform,
    enabled: list !== null,
    structuralSharing: false,
  });
/** An original that the cut does not use, so that it can be tried; nothing where none is named. */
export const useStranger = (job: string, path: string | null) =>
  useQuery({
    queryKey: [job, 'ledger', 'original', path],
    queryFn: () => ask(`/api/jobs/${job}/ledger?of=original&path=${encodeURIComponent(path ?? '')}`, strangerViewSchema),
    enabled: path !== null,
  });
export const useTurnover = (job: string) => useResource(job, 'turnover', z.union([turnoverViewSchema, z.object({ list: z.null() })]));
export const useOriginals = (job: string) =>
  useQuery({
    queryKey: [job, 'originals', ''],
    queryFn: async () => unpackOriginals(await ask(`/api/jobs/${job}/originals`, packedSchema)),
    // What is alike is not looked for among a hundred thousand rows.
    structuralSharing: false,
  });
export const useOriginal = (job: string, path: string) =>
  useResource(job, 'originals', originalPageSchema, `?path=${encodeURIComponent(path)}`);
/** Tags and notes; done once they are on the page. One that could not be saved is tried again for a while. */
export function useRemark(job: string) {
  const queries = useQueryClient();
  return useOnce({
    mutationFn: (remark: Remark) => send('PATCH', `/api/jobs/${job}/originals`, done, remark),
    onSettled: () => queries.invalidateQueries({ queryKey: [job, 'originals'] }),
    onError: complain,
    retry: (times, error) => error instanceof NotAnswered && times < 6,
    retryDelay: (times) => 500 * 2 ** times,
  });
}
export const useLogs = (job: string) =>
  useResource(job, 'logs', z.array(z.object({ path: z.string(), name: z.string(), volume: z.string(), understood: z.boolean() })));
/** A clip log held against the originals, as its columns are taken. */
export const useLog = (job: string, log: LogRequest) =>
  useQuery({
    queryKey: [job, 'logs', log],
    queryFn: () => send('POST', `/api/jobs/${job}/logs`, logViewSchema, log),
    placeholderData: keepPreviousData,
  });
/** Takes in what a clip log says. The message that confirms it can undo it. */
export function useTakeLog(job: string) {
  const undo = useUndo(job);
  return useOnce({
    mutationFn: (log: LogRequest) =>
      send('POST', `/api/jobs/${job}/logs`, logViewSchema.extend({ batch: z.string().nullable() }), { ...log, take: true }),
    onSuccess: (answer) => {
      const { batch, changes, notes } = decidedHere(answer);
      const done = [changes.length > 0 ? `${changes.length} clips set` : '', notes > 0 ? `${notes} notes` : ''].filter(Boolean).join(', ');
      toast(`Clip log: ${done}`, batch ? undoable(() => undo.mutate(batch)) : undefined);
    },
    onError: complain,
  });
}
export const useFilters = (job: string) => useResource(job, 'filters', z.array(saveFilterSchema));
export const useSaveFilter = (job: string) =>
  useChange((filter: { name: string; data: OriginalFilter }) => send('PUT', `/api/jobs/${job}/filters`, done, filter));
export const useForgetFilter = (job: string) =>
  useChange((name: string) => ask(`/api/jobs/${job}/filters?name=${encodeURIComponent(name)}`, done, { method: 'DELETE' }));
export const useRenameVolume = (job: string) =>
  useChange(({ id, name }: { id: string; name: string }) => send('PATCH', `/api/jobs/${job}/volumes?id=${id}`, done, { name }));
export const useRehome = (job: string) =>
  useChange(({ id, as }: { id: string; as: string }) => send('PUT', `/api/jobs/${job}/volumes?id=${id}`, done, { as }));
export const useFolders = (path: string | null) =>
  useQuery({
    queryKey: ['folders', path],
    queryFn: () =>
      ask(
        `/api/folders${path === null ? '' : `?path=${encodeURIComponent(path)}`}`,
        z.object({ path: z.string(), parent: z.string().nullable(), folders: z.array(z.string()) }),
      ),
    staleTime: 0,
    placeholderData: keepPreviousData,
  });
export const useActivity = (job: string) => useResource(job, 'activity', activityViewSchema);
export const useReturn = (job: string, asked: ReturnAsked) =>
  useResource(
    job,
    'return',
    returnViewSchema,
    `?${new URLSearchParams(Object.entries(asked).map(([name, value]) => [name, String(value)]))}`,
  );

/** Ways in which returns are asked for, under names, for all jobs; and how one is kept, or forgotten. */
export const useKeptReturns = () => useQuery({ queryKey: ['returns'], queryFn: () => ask('/api/returns', z.array(keptReturnSchema)) });
export function useKeepReturn() {
  const queries = useQueryClient();
  return useOnce({
    mutationFn: (change: KeptReturn | { forget: string }) =>
      'forget' in change
        ? ask(`/api/returns?name=${encodeURIComponent(change.forget)}`, done, { method: 'DELETE' })
        : send('PUT', '/api/returns', done, change),
    onSuccess: () => queries.invalidateQueries({ queryKey: ['returns'] }),
    onError: complain,
  });
}

/** What came back from elsewhere. */
export const useHomecoming = (job: string) => useResource(job, 'homecoming', homecomingViewSchema);

/** Changes something in a job. What is shown comes back by way of the watch. */
function useChange<Input, Output = unknown>(change: (input: Input) => Promise<Output>) {
  return useOnce({ mutationFn: change, onError: complain });
}

/** Renames a job, deletes it or brings it back; the desk is shown as it is then. */
export function useChangeJob() {
  const queries = useQueryClient();
  return useOnce({
    mutationFn: ({ id, ...change }: { id: string } & ({ title: string } | { deleted: boolean })) =>
      send('PATCH', `/api/jobs/${id}`, done, change),
    // What is shown of the job itself comes back by way of the watch.
    onSuccess: () => queries.invalidateQueries({ queryKey: ['jobs'] }),
    onError: complain,
  });
}
export const useNewJob = () => useChange((title: string) => send('POST', '/api/jobs', withId, { title }));
const upload = <T>(address: string, schema: z.ZodType<T>, file: File) =>
  ask(address, schema, { method: 'PUT', body: file, headers: { 'content-type': 'application/octet-stream' } });
export const useReferenceUpload = (job: string) =>
  useChange((file: File) => upload(`/api/jobs/${job}/reference?name=${encodeURIComponent(file.name)}`, done, file));

/** Hands over lists and grades; files of one format that holds a layer each become one list. */
export const useDeliver = (job: string) =>
  useChange(async (files: readonly File[]) => {
    const sets: string[] = [];
    for (const file of files) {
      const address = `/api/jobs/${job}/lists?name=${encodeURIComponent(file.name)}&set=${sets.join(',')}`;
      const answer = await upload(address, delivered, file);
      if ('grades' in answer) toast(decidedHere(answer).grades);
      else if (!sets.includes(answer.list)) sets.push(answer.list);
    }
  });
export const useListPath = (job: string) =>
  useChange(async (path: string) => {
    const answer = await send('POST', `/api/jobs/${job}/lists`, delivered, { path });
    if ('grades' in answer) toast(decidedHere(answer).grades);
  });
export const useLists = (job: string) => useResource(job, 'lists', z.array(listEntrySchema));
export const useArrival = (job: string, list: string, reading: Reading) =>
  useQuery({
    queryKey: [job, 'lists', list, reading],
    queryFn: () => ask(`/api/jobs/${job}/lists/${list}?reading=${encodeURIComponent(JSON.stringify(reading))}`, arrivalViewSchema),
    placeholderData: keepPreviousData,
  });
export const useTake = (job: string) =>
  useChange(({ list, ...how }: { list: string; reading: Reading; as: 'cut' | 'beside'; apart?: boolean; order?: number[] | null }) =>
    send('POST', `/api/jobs/${job}/lists/${list}`, done, how),
  );
export const useDiscard = (job: string) => useChange((list: string) => ask(`/api/jobs/${job}/lists/${list}`, done, { method: 'DELETE' }));
export const useBeside = (job: string, list: string) => useResource(job, `lists/${list}/beside`, besideViewSchema);
export const useWritten = (job: string, writing: Writing) =>
  useQuery({
    queryKey: [job, 'written', writing],
    queryFn: () => ask(writtenAddress(job, writing), writtenViewSchema),
    placeholderData: keepPreviousData,
  });
export const writtenAddress = (job: string, writing: Writing, file?: string) =>
  `/api/jobs/${job}/written?writing=${encodeURIComponent(JSON.stringify(writing))}${file ? `&file=${encodeURIComponent(file)}` : ''}`;
/** Carries aspects over from another list. The message that confirms it can undo it. */
export function useCarry(job: string) {
  const undo = useUndo(job);
  return useOnce({
    mutationFn: ({ list, ...what }: { list: string; aspects: string[]; events: string[] | null; onlyWhatLacks: boolean }) =>
      send('POST', `/api/jobs/${job}/lists/${list}/beside`, withBatch.extend({ events: z.number() }), what),
    onSuccess: (answer) => {
      const { batch, events } = decidedHere(answer);
      toast(
        `Copied for ${plural(events, 'event')}`,
        undoable(() => undo.mutate(batch)),
      );
    },
    onError: complain,
  });
}
export const useReferencePath = (job: string) => useChange((path: string) => send('POST', `/api/jobs/${job}/reference`, done, { path }));
export const useGuideUpload = (job: string) =>
  useChange((file: File) => upload(`/api/jobs/${job}/guide?name=${encodeURIComponent(file.name)}`, done, file));
export const useGuidePath = (job: string) => useChange((path: string) => send('POST', `/api/jobs/${job}/guide`, done, { path }));
export const useRemoveGuide = (job: string) => useChange(() => ask(`/api/jobs/${job}/guide`, done, { method: 'DELETE' }));
export const useAddVolume = (job: string) => useChange((path: string) => send('POST', `/api/jobs/${job}/volumes`, done, { path }));
export const useTakeBack = (job: string) => useChange((path: string) => send('POST', `/api/jobs/${job}/homecoming`, done, { path }));
export const useRemoveVolume = (job: string) =>
  useChange((id: string) => ask(`/api/jobs/${job}/volumes?id=${id}`, done, { method: 'DELETE' }));
export const useStart = (job: string) => useChange((options: TaskOptions) => send('POST', `/api/jobs/${job}/tasks`, withId, options));
export const useStop = (job: string) => useChange((task: string) => ask(`/api/jobs/${job}/tasks/${task}`, done, { method: 'DELETE' }));
export const useChangeTask = (job: string) =>
  useChange(({ task, ...change }: { task: string; do: 'pause' | 'go-on' }) =>
    send('PATCH', `/api/jobs/${job}/tasks/${task}`, done, change),
  );
export const useUndo = (job: string) =>
  useChange((undo: string | { batch: string; what: 'undo' | 'redo' | 'after' }) =>
    send('PATCH', `/api/jobs/${job}/decisions`, done, typeof undo === 'string' ? { batch: undo } : undo),
  );
export const useExplain = (job: string) =>
  useChange((said: { batch: string; why: string }) => send('PATCH', `/api/jobs/${job}/decisions`, done, said));

/** Takes in a file of decisions. The message that confirms it can undo it. */
export function useTakeIn(job: string) {
  const undo = useUndo(job);
  return useOnce({
    mutationFn: async (file: File) =>
      ask(`/api/jobs/${job}/decisions`, withBatch.extend({ decisions: z.number() }), { method: 'PUT', body: await file.arrayBuffer() }),
    onSuccess: (answer) => {
      const { batch, decisions } = decidedHere(answer);
      toast(
        `${plural(decisions, 'decision')} imported`,
        undoable(() => undo.mutate(batch)),
      );
    },
    onError: complain,
  });
}

/** How long a message stays that can be taken back, in milliseconds: it must be read, and a hand must get there. */
const TIME_TO_UNDO = 10_000;

/** A message with the button that takes back what it tells of. */
export const undoable = (undo: () => void) => ({
  duration: TIME_TO_UNDO,
  action: {
    label: 'Undo',
    onClick() {
      undo();
      // The message goes away under the pointer, which is then never heard to leave: the others would stay for good.
      const leaving = new MouseEvent('mouseout', { bubbles: true, relatedTarget: document.body });
      document.querySelector('[data-sonner-toaster]')?.dispatchEvent(leaving);
    },
  },
});

/** Settles something. The message that confirms it can undo it. */
export function useDecide(job: string) {
  const queries = useQueryClient();
  const undo = useUndo(job);
  return useOnce({
    mutationFn: ({ decisions, why = '' }: { decisions: Decision[]; done: string; why?: string }) =>
      send('POST', `/api/jobs/${job}/decisions`, withBatch, { decisions, why }),
    onSuccess: (answer, { done }) => {
      const { batch } = decidedHere(answer);
      toast(
        done,
        undoable(() => undo.mutate(batch)),
      );
      // It is done once the page shows it: fields that go back to what stands must not go back to what stood.
      return queries.invalidateQueries({ queryKey: [job, 'ledger'] }, { cancelRefetch: false });
    },
    onError: complain,
  });
}

/** How loud what is heard is along its length (`PEAKS_EACH` points a second); nothing where it has no sound. */
export const usePeaks = (job: string, heard: HeardFile | null) =>
  useQuery({
    queryKey: [job, 'peaks', heard?.from, heard?.look],
    queryFn: async () => {
      const answer = heard && (await fetch(soundAddress(job, heard, 'peaks')));
      return answer?.ok ? new Uint8Array(await answer.arrayBuffer()) : null;
    },
    enabled: heard !== null,
    structuralSharing: false,
  });
