import { useDeferredValue, useMemo, useState } from 'react';
import { FACETS, type Facet, type OriginalFilter, type OriginalRow } from '../../../contract';
import { FACET_NAMES, facetValues, filtered, toggled } from './filter';

/** Values shown of a facet before the others are asked for. */
const FEW = 6;

interface Props {
  readonly originals: readonly OriginalRow[];
  readonly filter: OriginalFilter;
  readonly onFilter: (filter: OriginalFilter) => void;
}

const NONE: readonly OriginalRow[] = [];

/** What there is among the originals, facet by facet; a click narrows to it. */
export function Facets({ originals, filter, onFilter }: Props) {
  // The table comes first: counting a hundred thousand clips eleven ways waits until it stands.
  const counted = useDeferredValue(originals, NONE);
  return (
    <section aria-label="Facets" className="overflow-y-auto px-3 py-2 text-xs">
      {FACETS.map((facet) => (
        <FacetValues key={facet} facet={facet} originals={counted} filter={filter} onFilter={onFilter} />
      ))}
    </section>
  );
}

function FacetValues({ facet, originals, filter, onFilter }: Props & { facet: Facet }) {
  const [all, setAll] = useState(false);
  // A facet counts what the other facets let through, so that its own values can still be added to.
  const scope = useMemo(() => filtered(originals, { ...filter, facets: { ...filter.facets, [facet]: [] } }), [originals, filter, facet]);
  const values = useMemo(() => facetValues(scope, facet), [scope, facet]);
  const chosen = filter.facets[facet] ?? [];
  // One value that all of them have tells nothing apart.
  const tells = values.length > 1 || (values[0]?.[1] ?? scope.length) < scope.length;
  if (!tells && chosen.length === 0) return null;
  const shown = all ? values : values.filter(([v], i) => i < FEW || chosen.includes(v));
  return (
    <fieldset className="mb-2">
      <legend className="quiet pb-0.5">{FACET_NAMES[facet]}</legend>
      {shown.map(([value, count]) => (
        <label key={value} className="flex gap-1.5 items-baseline py-px cursor-pointer hover:bg-base-200">
          <input
            type="checkbox"
            className="checkbox checkbox-xs self-center"
            checked={chosen.includes(value)}
            onChange={() => onFilter(toggled(filter, facet, value))}
          />
          <span className="truncate grow" title={value}>
            {value}
          </span>
          <span className="tc quiet">{count}</span>
        </label>
      ))}
      {values.length > shown.length && (
        <button type="button" className="quiet hover:underline pl-5" onClick={() => setAll(true)}>
          {values.length - shown.length} more
        </button>
      )}
    </fieldset>
  );
}
