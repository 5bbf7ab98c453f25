import { create } from 'zustand';
import type { LedgerRow, LedgerView } from '../../contract';

export const STAGES = ['turnover', 'originals', 'pairing', 'proof', 'grade', 'return', 'activity'] as const;
export type Stage = (typeof STAGES)[number];

/** What is being looked at. It is shared by all stages and kept in the page's address. */
interface View {
  readonly stage: Stage;
  readonly event: string | null;
  /** The playhead: a record frame from 00:00:00:00; null before anything was chosen. */
  readonly frame: number | null;
  /** Shown part of the ribbon, record frames; null for the whole cut. */
  readonly zoom: readonly [number, number] | null;
  readonly sheet: 'keys' | 'palette' | null;
  /** The list that Turnover lays beside the cut when it is gone to; null for none. */
  readonly beside: string | null;
  go(stage: Stage): void;
  choose(event: string, frame: number): void;
  moveTo(frame: number): void;
  zoomTo(zoom: readonly [number, number] | null): void;
  open(sheet: 'keys' | 'palette' | null): void;
  layBeside(list: string): void;
}

export const useView = create<View>((set) => ({
  ...fromAddress(),
  zoom: null,
  sheet: null,
  beside: null,
  go: (stage) => set({ stage, beside: null }),
  choose: (event, frame) => set({ event, frame }),
  moveTo: (frame) => set({ frame }),
  zoomTo: (zoom) => set({ zoom }),
  open: (sheet) => set({ sheet }),
  layBeside: (beside) => set({ beside, stage: 'turnover' }),
}));

function fromAddress(): Pick<View, 'stage' | 'event' | 'frame'> {
  const address = new URL(location.href);
  const last = address.pathname.split('/')[3] as Stage;
  const frame = Number(address.searchParams.get('frame') ?? Number.NaN);
  return {
    stage: STAGES.includes(last) ? last : 'turnover',
    event: address.searchParams.get('event'),
    frame: Number.isInteger(frame) ? frame : null,
  };
}

/** The address of a frame is written once the playhead stays for so long, in milliseconds: a browser does more for each than drawing a picture takes. */
const STAYS = 200;

/** Keeps the address in step with the view; going back in the browser's history goes back to the stage before. */
export function followAddress(job: string): () => void {
  let waiting: ReturnType<typeof setTimeout> | undefined;
  const addressOf = ({ stage, event, frame }: View): string => {
    const query = new URLSearchParams();
    if (event) query.set('event', event);
    if (frame !== null) query.set('frame', String(frame));
    return `/job/${job}/${stage}${query.size > 0 ? `?${query}` : ''}`;
  };
  const write = (view: View, as: 'pushState' | 'replaceState') => {
    clearTimeout(waiting);
    const address = addressOf(view);
    if (address !== location.pathname + location.search) history[as](null, '', address);
  };
  const settle = () => write(useView.getState(), 'replaceState');
  const stop = useView.subscribe((now, before) => {
    clearTimeout(waiting);
    if (now.stage === before.stage) waiting = setTimeout(settle, STAYS);
    else if (addressOf(now) !== location.pathname + location.search) {
      write(before, 'replaceState');
      write(now, 'pushState');
    }
  });
  const back = () => useView.setState(fromAddress());
  addEventListener('popstate', back);
  addEventListener('pagehide', settle);
  return () => {
    stop();
    clearTimeout(waiting);
    removeEventListener('popstate', back);
    removeEventListener('pagehide', settle);
  };
}

/** The row that is chosen, or the first when none is. */
export const chosenRow = (ledger: LedgerView | undefined, event: string | null): LedgerRow | null =>
  ledger?.rows.find((r) => r.id === event) ?? ledger?.rows[0] ?? null;

/** The playhead inside a row: where it is, or the row's middle when it stands elsewhere. */
export function frameIn(row: LedgerRow, frame: number | null): number {
  const { in: start, out } = row.recordFrames;
  return frame !== null && frame >= start && frame < out ? frame : Math.floor((start + out) / 2);
}
