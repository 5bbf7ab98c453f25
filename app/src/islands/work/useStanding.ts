import { type Remote, wrap } from 'comlink';
import { useEffect, useRef, useState } from 'react';
import { useLine } from '../data/line';
import { useConform } from '../data/queries';
import type { Stand, Standing } from './standing';

/** What stands at a record frame, by the page's own time map: no server is asked. Empty while it is not known. */
export function useStanding(job: string, frame: number | null): readonly Stand[] {
  const { data } = useConform(job);
  // A thread whose script could not be fetched while the server was away is fetched anew.
  const returns = useLine((s) => s.returns);
  const standing = useRef<Remote<Standing> | null>(null);
  const [loaded, setLoaded] = useState(0);
  const [stands, setStands] = useState<readonly Stand[]>([]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: see above
  useEffect(() => {
    const thread = new Worker(new URL('./standing.worker.ts', import.meta.url), { type: 'module' });
    standing.current = wrap<Standing>(thread);
    return () => thread.terminate();
  }, [returns]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: see above
  useEffect(() => {
    if (data === undefined) return;
    let current = true;
    standing.current?.load(data).then(() => current && setLoaded((n) => n + 1));
    return () => {
      current = false;
    };
  }, [data, returns]);
  useEffect(() => {
    if (frame === null || loaded === 0) return;
    let current = true;
    standing.current?.at(frame).then((found) => current && setStands(found));
    return () => {
      current = false;
    };
  }, [frame, loaded]);
  return stands;
}
