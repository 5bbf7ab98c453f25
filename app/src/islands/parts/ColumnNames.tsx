interface Props<F extends string> {
  /** What the table is called for those who hear the page. */
  readonly label: string;
  readonly headings: readonly string[];
  /** The first rows, cell by cell in the order of the headings. */
  readonly sample: readonly (readonly (string | undefined)[])[];
  /** What a column may hold, by name; and what it is when it holds none of it. */
  readonly fields: Readonly<Record<F, string>>;
  readonly otherwise: string;
  readonly mapping: Partial<Record<F, string>>;
  readonly onMap: (mapping: Partial<Record<F, string>>) => void;
}

/** The first rows of a table, and above each column what it holds, for a person to say. A field stands under one heading. */
export function ColumnNames<F extends string>({ label, headings, sample, fields, otherwise, mapping, onMap }: Props<F>) {
  const all = Object.keys(fields) as F[];
  const fieldOf = (heading: string) => all.find((f) => mapping[f] === heading) ?? '';
  const assign = (heading: string, field: F | '') => {
    // The heading lets go of what it held, and the field of where it stood.
    const kept = Object.entries(mapping).filter(([f, h]) => h !== heading && f !== field);
    onMap(Object.fromEntries(field ? [...kept, [field, heading]] : kept) as Partial<Record<F, string>>);
  };
  return (
    <table className="text-xs" aria-label={label}>
      <thead>
        <tr className="text-left align-bottom">
          {headings.map((h) => (
            <th key={h} className="font-normal pr-3 pb-1">
              <span className="block quiet truncate max-w-40">{h}</span>
              <select
                className={`select select-xs w-32 ${fieldOf(h) ? 'font-medium' : ''}`}
                aria-label={`What the column ${h} holds`}
                value={fieldOf(h)}
                onChange={(e) => assign(h, e.target.value as F | '')}
              >
                <option value="">{otherwise}</option>
                {all.map((f) => (
                  <option key={f} value={f}>
                    {fields[f]}
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
          <tr key={r} className="tc">
            {headings.map((h, c) => (
              <td key={h} className={`pr-3 max-w-40 truncate ${fieldOf(h) ? '' : 'quiet'}`}>
                {row[c]}
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
