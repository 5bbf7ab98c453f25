import type { LutBetween } from '@gemello/core';
import { LUT_BETWEEN } from '@gemello/core/edit';

/** How a LUT is looked up in. */
export function Between({ value, onChange }: { value: LutBetween; onChange: (value: LutBetween) => void }) {
  return (
    <select
      className="select select-xs w-32"
      aria-label="Between the entries of the LUT"
      title="How colours between the entries of a 3D LUT are found"
      value={value}
      onChange={(e) => onChange(e.target.value as LutBetween)}
    >
      {LUT_BETWEEN.map((between) => (
        <option key={between} value={between}>
          {between}
        </option>
      ))}
    </select>
  );
}
