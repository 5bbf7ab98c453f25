import type { SettingCheck } from '../../../contract';

/** The settings of a list beside those of the reference, and what the first difference means. */
export function Checks({ checks }: { checks: readonly SettingCheck[] }) {
  const [worst] = checks.filter((c) => c.agrees === false && c.detail);
  return (
    <>
      <table className="text-xs w-full">
        <thead>
          <tr className="quiet text-left">
            <th className="font-normal pb-1 w-24">Settings</th>
            <th className="font-normal">List</th>
            <th className="font-normal">Reference</th>
            <th className="font-normal w-24">Result</th>
          </tr>
        </thead>
        <tbody>
          {checks.map((c) => (
            <tr key={c.name} title={c.detail}>
              <td className="py-px">{c.name}</td>
              <td className="tc">{c.list}</td>
              <td className="tc">{c.reference}</td>
              <td className={c.agrees === false ? 'text-warning font-medium' : 'quiet'}>
                {c.agrees === null ? '' : c.agrees ? 'agrees' : 'differs'}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {worst && (
        <p className="text-xs text-warning mt-1">
          {worst.name}: {worst.detail}
        </p>
      )}
    </>
  );
}
