import { formatRate } from '@gemello/core/time';
import type { Facet, OriginalFilter, OriginalRow } from '../../../contract';

export const NO_FILTER: OriginalFilter = { words: '', facets: {} };

/** What a facet says of an original; several values where it has several. */
const VALUES: Record<Facet, (o: OriginalRow) => readonly string[]> = {
  volume: (o) => [o.volume],
  folder: (o) => [o.folder || '.'],
  reel: (o) => [o.reel || 'no reel'],
  rate: (o) => [o.kind === 'still' ? 'still' : formatRate(o.rate)],
  raster: (o) => [o.kind === 'sound' ? 'sound' : `${o.raster.width}×${o.raster.height}`],
  codec: (o) => [o.codec],
  kind: (o) => [o.kind],
  warning: (o) => [...new Set(o.warnings.map((w) => w.code.replaceAll('-', ' ')))],
  tag: (o) => o.tags,
  use: (o) => [o.usedBy.length > 0 ? 'in the cut' : 'not in the cut'],
  state: (o) => [o.here ? (o.proxyOf ? 'proxy' : 'here') : 'away', ...(o.proxies.length > 0 ? ['has a proxy'] : [])],
};

export const FACET_NAMES: Record<Facet, string> = {
  volume: 'Volume',
  folder: 'Folder',
  reel: 'Reel',
  rate: 'Rate',
  raster: 'Raster',
  codec: 'Codec',
  kind: 'Kind',
  warning: 'Warnings',
  tag: 'Tags',
  use: 'Use',
  state: 'State',
};

/** Everything about an original that words are looked for in. */
const texts = new WeakMap<OriginalRow, string>();
function textOf(o: OriginalRow): string {
  const known = texts.get(o);
  if (known !== undefined) return known;
  const text = [
    o.clipName,
    o.fileName,
    o.reel,
    o.codec,
    o.volume,
    o.folder,
    o.timecodeIn ?? '',
    formatRate(o.rate),
    `${o.raster.width}×${o.raster.height} ${o.raster.width}x${o.raster.height}`,
    o.kind,
    o.proxyOf ? 'proxy' : '',
    o.here ? '' : 'away',
    o.note,
    ...o.tags,
    ...o.warnings.map((w) => w.message),
  ]
    .join(' ')
    .toLowerCase();
  texts.set(o, text);
  return text;
}

/** The originals that a filter lets through, in their order: every word is found, and every facet with values has one of them. */
export function filtered(originals: readonly OriginalRow[], { words, facets }: OriginalFilter): OriginalRow[] {
  const wanted = words.toLowerCase().split(/\s+/).filter(Boolean);
  const chosen = Object.entries(facets).flatMap(([facet, values]) =>
    values && values.length > 0 ? [[VALUES[facet as Facet], new Set(values)] as const] : [],
  );
  if (wanted.length === 0 && chosen.length === 0) return [...originals];
  return originals.filter(
    (o) => chosen.every(([of, values]) => of(o).some((v) => values.has(v))) && wanted.every((w) => textOf(o).includes(w)),
  );
}

/** The values of a facet with how many originals have each, the most frequent first. */
export function facetValues(originals: readonly OriginalRow[], facet: Facet): [string, number][] {
  const counts = new Map<string, number>();
  for (const o of originals) for (const v of VALUES[facet](o)) counts.set(v, (counts.get(v) ?? 0) + 1);
  return [...counts].sort((a, b) => b[1] - a[1] || (a[0] < b[0] ? -1 : 1));
}

/** The same filter with a value of a facet put in or taken out. */
export function toggled(filter: OriginalFilter, facet: Facet, value: string): OriginalFilter {
  const old = filter.facets[facet] ?? [];
  const values = old.includes(value) ? old.filter((v) => v !== value) : [...old, value];
  return { ...filter, facets: { ...filter.facets, [facet]: values } };
}
