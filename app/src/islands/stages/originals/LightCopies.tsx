import { PROXY_CODECS, PROXY_SIZES, type ProxyCodec, type ProxySize, proxyRaster } from '@gemello/core';
import { useState } from 'react';
import type { OriginalRow } from '../../../contract';
import { useStart } from '../../data/queries';

const CODECS: Record<ProxyCodec, string> = {
  'proxy-small': 'H.264, small',
  'proxy-8bit': 'DNxHR LB, every frame alone, 8 bits',
  'proxy-10bit': 'ProRes Proxy, every frame alone, 10 bits',
};
const SIZES: Record<ProxySize, string> = {
  half: 'half the raster',
  quarter: 'a quarter of the raster',
  '1280': '1280 wide',
  '960': '960 wide',
  '640': '640 wide',
};

/** What proxies of the selected clips are to be, and their making. */
export function LightCopies({ job, clips, onStarted }: { job: string; clips: readonly OriginalRow[]; onStarted: () => void }) {
  const start = useStart(job);
  const [codec, setCodec] = useState<ProxyCodec>('proxy-small');
  const [size, setSize] = useState<ProxySize>('half');
  const [burnIn, setBurnIn] = useState(false);
  const able = clips.filter((o) => o.here && o.proxyOf === null && (o.kind === 'movie' || o.kind === 'frames'));
  const left = clips.length - able.length;
  const rasters = [
    ...new Set(
      able.map((o) => {
        const { width, height } = proxyRaster(o, size);
        return `${width}×${height}`;
      }),
    ),
  ];
  return (
    <form
      aria-label="Proxies of the selected clips"
      className="flex flex-wrap gap-x-3 gap-y-1 items-center px-3 py-1.5 border-t border-base-300"
      onSubmit={(e) => {
        e.preventDefault();
        start.mutate({ kind: 'proxies', paths: able.map((o) => o.path), codec, size, burnIn }, { onSuccess: onStarted });
      }}
    >
      <select
        className="select select-xs w-64"
        aria-label="Written as"
        value={codec}
        onChange={(e) => setCodec(e.target.value as ProxyCodec)}
      >
        {PROXY_CODECS.map((c) => (
          <option key={c} value={c}>
            {CODECS[c]}
          </option>
        ))}
      </select>
      <select className="select select-xs w-44" aria-label="Size" value={size} onChange={(e) => setSize(e.target.value as ProxySize)}>
        {PROXY_SIZES.map((s) => (
          <option key={s} value={s}>
            {SIZES[s]}
          </option>
        ))}
      </select>
      <label className="flex gap-1.5 items-center">
        <input type="checkbox" className="checkbox checkbox-xs" checked={burnIn} onChange={(e) => setBurnIn(e.target.checked)} />
        burn in name and timecode
      </label>
      <button type="submit" className="btn btn-xs btn-primary" disabled={able.length === 0 || start.isPending}>
        Make {able.length === 1 ? 'one' : able.length}
      </button>
      <span className="quiet">
        {rasters.slice(0, 3).join(', ')}
        {rasters.length > 3 && ` and ${rasters.length - 3} more`}
        {rasters.length > 0 && '; same names, timecode and sound, into a folder of this job. '}
        {left > 0 && `${left} cannot have one: stills, sound, proxies, and what is away.`}
      </span>
    </form>
  );
}
