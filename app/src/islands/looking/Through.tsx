import type { Cdl, Decision, LutBetween } from '@gemello/core';
import { readCdlFile } from '@gemello/core/grade';
import { useState } from 'react';
import { toast } from 'sonner';
import type { LedgerRow } from '../../contract';
import { tryLut } from '../data/api';
import { useConform, useDecide } from '../data/queries';
import { typedSince } from '../data/sent';
import { FileButton } from '../parts/FileButton';
import { Between } from './Between';
import { cdlOf, textOfCdl } from './typed';
import { useWhose, type Whose } from './useWhose';

/** What the pictures of an event, its reel, a selection or the whole cut are looked at through: a CDL, then a LUT. It is in no render. */
export function Through({ job, row }: { job: string; row: LedgerRow }) {
  const { data: conform } = useConform(job);
  const decide = useDecide(job);
  const event = conform?.list.tracks.flatMap((t) => t.events).find((e) => e.key === row.id);
  const now = event?.viewing ?? null;
  const { choices, chosen, setOf, scopes, says } = useWhose(row, 'reel');
  const [typed, setTyped] = useState<{ cdl?: string; lut?: string; between?: LutBetween }>({});
  const [trying, setTrying] = useState(false);
  const lut = typed.lut ?? now?.lut?.file ?? '';
  const between = typed.between ?? now?.lut?.between ?? 'tetrahedral';
  const cdl = typed.cdl ?? (now?.cdl ? textOfCdl(now.cdl) : '');
  const keep = (through: { cdl: Cdl | null; lut: string | null }, done: string) =>
    decide.mutate(
      { decisions: scopes().map((scope): Decision => ({ kind: 'viewing', scope, between, ...through })), done },
      { onSuccess: () => setTyped(typedSince(typed)) },
    );
  const look = async () => {
    const numbers = cdl.trim() === '' ? null : cdlOf(cdl);
    if (numbers === 'unreadable') {
      toast.error('A CDL is ten numbers: three of slope, three of offset, three of power, and saturation.');
      return;
    }
    const file = lut.trim() || null;
    setTrying(true);
    try {
      if (file) await tryLut(job, file);
      keep(
        { cdl: numbers, lut: file },
        `${says}: looked at through ${[numbers && 'a CDL', file && 'a LUT'].filter(Boolean).join(' and ')}`,
      );
    } catch (error) {
      toast.error(error instanceof Error ? error.message : String(error));
    } finally {
      setTrying(false);
    }
  };
  const take = async (file: File) => {
    const { grades, problems } = readCdlFile(await file.text());
    const [first] = grades;
    if (!first) toast.error(`${file.name}: ${problems[0] ?? 'there is no grade in it.'}`);
    else setTyped({ ...typed, cdl: textOfCdl(first.cdl) });
  };
  return (
    <fieldset className="flex flex-wrap items-center gap-x-2 gap-y-1 py-1" aria-label="Looked at through">
      <span className="quiet">Look at</span>
      <select className="select select-xs w-30" aria-label="Whose pictures" value={chosen} onChange={(e) => setOf(e.target.value as Whose)}>
        {choices.map(([choice, words]) => (
          <option key={choice} value={choice}>
            {words}
          </option>
        ))}
      </select>
      <span className="quiet">through</span>
      <input
        className="input input-xs tc w-44 grow"
        aria-label="LUT"
        placeholder="path of a .cube file"
        value={lut}
        onChange={(e) => setTyped({ ...typed, lut: e.target.value })}
      />
      <Between value={between} onChange={(to) => setTyped({ ...typed, between: to })} />
      <input
        className="input input-xs tc w-36 grow"
        aria-label="CDL"
        placeholder="CDL: ten numbers"
        title="Slope, offset and power of red, green and blue, then saturation"
        value={cdl}
        onChange={(e) => setTyped({ ...typed, cdl: e.target.value })}
      />
      <FileButton className="btn btn-xs btn-ghost px-1.5" label="Read a CDL from a file" onFiles={([file]) => file && void take(file)}>
        Read a CDL
      </FileButton>
      <button
        type="button"
        className="btn btn-xs"
        title="For the eye only: nothing that is written has it"
        disabled={trying || decide.isPending || (lut.trim() === '' && cdl.trim() === '')}
        onClick={() => void look()}
      >
        Look through
      </button>
      <button
        type="button"
        className="btn btn-xs btn-ghost px-1.5"
        disabled={now === null || decide.isPending}
        onClick={() => keep({ cdl: null, lut: null }, `${says}: looked at as it is`)}
      >
        As it is
      </button>
    </fieldset>
  );
}
