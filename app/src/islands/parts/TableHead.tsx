/** The headings of a table, which stay in sight while its rows scroll; one without words may be left blank. */
export function TableHead({ headings }: { headings: readonly string[] }) {
  return (
    <thead className="sticky top-0 bg-base-100">
      <tr className="quiet text-left">
        {headings.map((h) => (
          <th key={h} className="font-normal px-2 py-1 first:pl-4">
            {h}
          </th>
        ))}
      </tr>
    </thead>
  );
}
