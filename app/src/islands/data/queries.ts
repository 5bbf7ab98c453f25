import type { Decision, Rules } from '@gemello/core';
import { keepPreviousData, QueryClient, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import { toast } from 'sonner';
import type {
  ActivityView,
  ArrivalView,
  BesideView,
  EventView,
  JobSummary,
  JobView,
  LedgerAnswer,
  LedgerView,
  ListEntry,
  LogRequest,
  LogView,
  OriginalFilter,
  OriginalPage,
  Reading,
  Remark,
  ReturnView,
  TaskOptions,
  TaskView,
  TracesView,
  TurnoverView,
  Writing,
  WrittenView,
} from '../../contract';
import { ledgerAfter } from '../../contract/ledger';
import { unpackOriginals } from '../../contract/originals';
import type { Packed } from '../../contract/packed';
import { ask, NotAnswered, send } from './api';
import { useTasks } from './tasks';

export const client = new QueryClient({ defaultOptions: { queries: { staleTime: Number.POSITIVE_INFINITY, retry: 1 } } });

const complain = (error: Error) => toast.error(error.message, { duration: 12_000 });

/** The desk; it is asked for again while jobs are being counted or worked on. */
export const useJobs = () =>
  useQuery({
    queryKey: ['jobs'],
    queryFn: () => ask<JobSummary[]>('/api/jobs'),
    staleTime: 0,
    refetchInterval: ({ state }) => (state.data?.some((j) => j.counting || j.running > 0) ? 2000 : false),
  });

function useResource<T>(job: string, name: string, query = '') {
  return useQuery({ queryKey: [job, name, query], queryFn: () => ask<T>(`/api/jobs/${job}${name === 'job' ? '' : `/${name}`}${query}`) });
}
export const useJob = (job: string) => useResource<JobView>(job, 'job');
/** The ledger; once it is here, only what changed is asked for. */
export function useLedger(job: string) {
  const queries = useQueryClient();
  return useQuery({
    queryKey: [job, 'ledger', ''],
    queryFn: async () => {
      const before = queries.getQueryData<LedgerView>([job, 'ledger', '']);
      return ledgerAfter(before, await ask<LedgerAnswer>(`/api/jobs/${job}/ledger${before ? `?since=${before.version}` : ''}`));
    },
    // Rows that did not change are the same already.
    structuralSharing: false,
  });
}
/** Everything of one event. That of the event before stays until it is there. */
export const useEvent = (job: string, event: string) =>
  useQuery({
    queryKey: [job, 'ledger', 'event', event],
    queryFn: () => ask<EventView>(`/api/jobs/${job}/ledger?event=${encodeURIComponent(event)}`),
  });
export const useTraces = (job: string) =>
  useQuery({ queryKey: [job, 'ledger', 'traces'], queryFn: () => ask<TracesView>(`/api/jobs/${job}/ledger?of=traces`) });
export const useTurnover = (job: string) => useResource<TurnoverView | { list: null }>(job, 'turnover');
export const useOriginals = (job: string) =>
  useQuery({
    queryKey: [job, 'originals', ''],
    queryFn: async () => unpackOriginals(await ask<Packed>(`/api/jobs/${job}/originals`)),
    // What is alike is not looked for among a hundred thousand rows.
    structuralSharing: false,
  });
export const useOriginal = (job: string, path: string) => useResource<OriginalPage>(job, 'originals', `?path=${encodeURIComponent(path)}`);
/** Tags and notes. One that could not be saved stays in its field and is tried again for a while. */
export const useRemark = (job: string) =>
  useMutation({
    mutationFn: (remark: Remark) => send('PATCH', `/api/jobs/${job}/originals`, remark),
    onError: complain,
    retry: (times, error) => error instanceof NotAnswered && times < 6,
    retryDelay: (times) => 500 * 2 ** times,
  });
export const useLogs = (job: string) => useResource<{ path: string; name: string; volume: string; understood: boolean }[]>(job, 'logs');
/** A clip log held against the originals, as its columns are taken. */
export const useLog = (job: string, log: LogRequest) =>
  useQuery({
    queryKey: [job, 'logs', log],
    queryFn: () => send<LogView>('POST', `/api/jobs/${job}/logs`, log),
    placeholderData: keepPreviousData,
  });
/** Takes in what a clip log says. The message that confirms it can undo it. */
export function useTakeLog(job: string) {
  const undo = useUndo(job);
  return useMutation({
    mutationFn: (log: LogRequest) => send<LogView & { batch: string | null }>('POST', `/api/jobs/${job}/logs`, { ...log, take: true }),
    onSuccess: ({ batch, changes, notes }) => {
      const done = [changes.length > 0 ? `${changes.length} clips set` : '', notes > 0 ? `${notes} notes` : ''].filter(Boolean).join(', ');
      toast(`Clip log: ${done}`, batch ? { action: undoing(() => undo.mutate(batch)) } : undefined);
    },
    onError: complain,
  });
}
export const useFilters = (job: string) => useResource<{ name: string; data: OriginalFilter }[]>(job, 'filters');
export const useSaveFilter = (job: string) =>
  useChange((filter: { name: string; data: OriginalFilter }) => send('PUT', `/api/jobs/${job}/filters`, filter));
export const useForgetFilter = (job: string) =>
  useChange((name: string) => ask(`/api/jobs/${job}/filters?name=${encodeURIComponent(name)}`, { method: 'DELETE' }));
export const useRenameVolume = (job: string) =>
  useChange(({ id, name }: { id: string; name: string }) => send('PATCH', `/api/jobs/${job}/volumes?id=${id}`, { name }));
export const useRehome = (job: string) =>
  useChange(({ id, as }: { id: string; as: string }) => send('PUT', `/api/jobs/${job}/volumes?id=${id}`, { as }));
export const useFolders = (path: string | null) =>
  useQuery({
    queryKey: ['folders', path],
    queryFn: () =>
      ask<{ path: string; parent: string | null; folders: string[] }>(
        `/api/folders${path === null ? '' : `?path=${encodeURIComponent(path)}`}`,
      ),
    staleTime: 0,
    placeholderData: keepPreviousData,
  });
export const useActivity = (job: string) => useResource<ActivityView>(job, 'activity');
export const useReturn = (job: string, handles: number) => useResource<ReturnView>(job, 'return', `?handles=${handles}`);

/** Changes something in a job. What is shown comes back by way of the watch. */
function useChange<Input, Output = unknown>(change: (input: Input) => Promise<Output>) {
  return useMutation({ mutationFn: change, onError: complain });
}

/** Renames a job, deletes it or brings it back; the desk is shown as it is then. */
export function useChangeJob() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ id, ...change }: { id: string } & ({ title: string } | { deleted: boolean })) =>
      send('PATCH', `/api/jobs/${id}`, change),
    onSuccess: () => queries.invalidateQueries({ queryKey: ['jobs'] }),
    onError: complain,
  });
}
export const useNewJob = () => useChange((title: string) => send<{ id: string }>('POST', '/api/jobs', { title }));
const upload = <T>(address: string, file: File) =>
  ask<T>(address, { method: 'PUT', body: file, headers: { 'content-type': 'application/octet-stream' } });
export const useReferenceUpload = (job: string) =>
  useChange((file: File) => upload(`/api/jobs/${job}/reference?name=${encodeURIComponent(file.name)}`, file));

/** Hands over lists, several being the files of one, and grades. */
export const useDeliver = (job: string) =>
  useChange(async (files: readonly File[]) => {
    let set: string | null = null;
    for (const file of files) {
      const address: string = `/api/jobs/${job}/lists?name=${encodeURIComponent(file.name)}${set ? `&set=${set}` : ''}`;
      const answer: { list: string } | { grades: string } = await upload(address, file);
      if ('list' in answer) set = answer.list;
      else toast(answer.grades);
    }
  });
export const useLists = (job: string) => useResource<ListEntry[]>(job, 'lists');
export const useArrival = (job: string, list: string, reading: Reading) =>
  useQuery({
    queryKey: [job, 'lists', list, reading],
    queryFn: () => ask<ArrivalView>(`/api/jobs/${job}/lists/${list}?reading=${encodeURIComponent(JSON.stringify(reading))}`),
    placeholderData: keepPreviousData,
  });
export const useTake = (job: string) =>
  useChange(({ list, ...how }: { list: string; reading: Reading; as: 'cut' | 'beside'; apart?: boolean; order?: number[] | null }) =>
    send('POST', `/api/jobs/${job}/lists/${list}`, how),
  );
export const useDiscard = (job: string) => useChange((list: string) => ask(`/api/jobs/${job}/lists/${list}`, { method: 'DELETE' }));
export const useBeside = (job: string, list: string) => useResource<BesideView>(job, `lists/${list}/beside`);
export const useWritten = (job: string, writing: Writing) =>
  useQuery({
    queryKey: [job, 'written', writing],
    queryFn: () => ask<WrittenView>(writtenAddress(job, writing)),
    placeholderData: keepPreviousData,
  });
export const writtenAddress = (job: string, writing: Writing, file?: string) =>
  `/api/jobs/${job}/written?writing=${encodeURIComponent(JSON.stringify(writing))}${file ? `&file=${encodeURIComponent(file)}` : ''}`;
/** Carries aspects over from another list. The message that confirms it can undo it. */
export function useCarry(job: string) {
  const undo = useUndo(job);
  return useMutation({
    mutationFn: ({ list, ...what }: { list: string; aspects: string[]; events: string[] | null; onlyWhatLacks: boolean }) =>
      send<{ batch: string; events: number }>('POST', `/api/jobs/${job}/lists/${list}/beside`, what),
    onSuccess: ({ batch, events }) => {
      toast(`Carried over for ${events} ${events === 1 ? 'event' : 'events'}`, {
        action: undoing(() => undo.mutate(batch)),
      });
    },
    onError: complain,
  });
}
export const useReferencePath = (job: string) => useChange((path: string) => send('POST', `/api/jobs/${job}/reference`, { path }));
export const useAddVolume = (job: string) => useChange((path: string) => send('POST', `/api/jobs/${job}/volumes`, { path }));
export const useRemoveVolume = (job: string) => useChange((id: string) => ask(`/api/jobs/${job}/volumes?id=${id}`, { method: 'DELETE' }));
export const useSetRules = (job: string) => useChange((rules: Rules) => send('PATCH', `/api/jobs/${job}`, { rules }));
export const useStart = (job: string) =>
  useChange((options: TaskOptions) => send<{ id: string }>('POST', `/api/jobs/${job}/tasks`, options));
export const useStop = (job: string) => useChange((task: string) => ask(`/api/jobs/${job}/tasks/${task}`, { method: 'DELETE' }));
export const useChangeTask = (job: string) =>
  useChange(({ task, ...change }: { task: string; do: 'pause' | 'go-on' }) => send('PATCH', `/api/jobs/${job}/tasks/${task}`, change));
export const useUndo = (job: string) =>
  useChange((undo: string | { batch: string; what: 'this' | 'after' }) =>
    send('PATCH', `/api/jobs/${job}/decisions`, typeof undo === 'string' ? { batch: undo } : undo),
  );
export const useExplain = (job: string) =>
  useChange((said: { batch: string; why: string }) => send('PATCH', `/api/jobs/${job}/decisions`, said));

/** Takes in a file of decisions. The message that confirms it can undo it. */
export function useTakeIn(job: string) {
  const undo = useUndo(job);
  return useMutation({
    mutationFn: async (file: File) =>
      ask<{ batch: string; decisions: number }>(`/api/jobs/${job}/decisions`, { method: 'PUT', body: await file.arrayBuffer() }),
    onSuccess: ({ batch, decisions }) => {
      toast(`${decisions} ${decisions === 1 ? 'decision' : 'decisions'} taken in`, { action: undoing(() => undo.mutate(batch)) });
    },
    onError: complain,
  });
}

/** The button in a message that takes back what it tells of. */
export const undoing = (undo: () => void) => ({
  label: 'Undo',
  onClick() {
    undo();
    // The message goes away under the pointer, which is then never heard to leave: the others would stay for good.
    const leaving = new MouseEvent('mouseout', { bubbles: true, relatedTarget: document.body });
    document.querySelector('[data-sonner-toaster]')?.dispatchEvent(leaving);
  },
});

/** Settles something. The message that confirms it can undo it. */
export function useDecide(job: string) {
  const undo = useUndo(job);
  return useMutation({
    mutationFn: ({ decisions }: { decisions: Decision[]; done: string }) =>
      send<{ batch: string }>('POST', `/api/jobs/${job}/decisions`, { decisions }),
    onSuccess: ({ batch }, { done }) => {
      toast(done, { action: undoing(() => undo.mutate(batch)) });
    },
    onError: complain,
  });
}

/** Listens to the job: keeps tasks moving and asks again for what changed. */
export function useWatch(job: string): void {
  const queries = useQueryClient();
  const hear = useTasks((s) => s.hear);
  useEffect(() => {
    const source = new EventSource(`/api/jobs/${job}/watch`);
    const all = () => queries.invalidateQueries({ queryKey: [job] });
    let opened = false;
    source.onopen = () => {
      // After a broken line anything may have changed.
      if (opened) all();
      opened = true;
    };
    source.onmessage = (event) => {
      const change = JSON.parse(event.data) as { kind: string; task?: TaskView };
      if (change.task) {
        hear(change.task);
        return;
      }
      const names =
        change.kind === 'ledger'
          ? ['ledger', 'return', 'turnover', 'lists', 'written']
          : change.kind === 'originals'
            ? ['originals', 'filters', 'logs']
            : [change.kind];
      // A list's own resources are named below `lists`: `lists/ID/beside`.
      queries.invalidateQueries({
        predicate: ({ queryKey: [of, name] }) => of === job && names.includes(String(name).split('/')[0] ?? ''),
      });
    };
    return () => source.close();
  }, [job, queries, hear]);
}
