import { FIELDS, type Field } from '@gemello/core';
import type { ArrivalView } from '../../../contract';

const FIELD_NAMES: Record<Field, string> = {
  number: 'Event number',
  track: 'Track',
  reel: 'Reel',
  clipName: 'Clip name',
  fileName: 'File name',
  sourceIn: 'Source in',
  sourceOut: 'Source out',
  recordIn: 'Record in',
  recordOut: 'Record out',
  speed: 'Speed in percent',
  notes: 'Notes',
};

interface Props {
  readonly columns: NonNullable<ArrivalView['columns']>;
  /** What was chosen so far; it runs ahead of what the server last read. */
  readonly mapping: Partial<Record<Field, string>>;
  readonly onMap: (mapping: Partial<Record<Field, string>>) => void;
}

/** Which column of a table holds what, with its first rows, for a person to confirm. */
export function Columns({ columns: { headings, sample }, mapping, onMap }: Props) {
  const fieldOf = (heading: string) => FIELDS.find((f) => mapping[f] === heading) ?? '';
  const assign = (heading: string, field: Field | '') => {
    const next = Object.fromEntries(Object.entries(mapping).filter(([f, h]) => h !== heading && f !== field));
    onMap(field ? { ...next, [field]: heading } : next);
  };
  return (
    <div className="overflow-x-auto">
      <p className="text-xs mb-1">Which column is what? Source in and source out are needed; columns without a meaning become notes.</p>
      <table className="text-xs" aria-label="Columns of the table">
        <thead>
          <tr className="text-left align-bottom">
            {headings.map((h) => (
              <th key={h} className="font-normal pr-3 pb-1">
                <span className="block quiet whitespace-nowrap">{h}</span>
                <select
                  className="select select-xs w-28"
                  aria-label={`What the column ${h} holds`}
                  value={fieldOf(h)}
                  onChange={(e) => assign(h, e.target.value as Field | '')}
                >
                  <option value="">a note</option>
                  {FIELDS.map((f) => (
                    <option key={f} value={f}>
                      {FIELD_NAMES[f]}
                    </option>
                  ))}
                </select>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {sample.map((row, r) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: rows of a file, in its order
            <tr key={r} className="tc quiet">
              {headings.map((h, c) => (
                <td key={h} className="pr-3 max-w-40 truncate">
                  {row[c]}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
