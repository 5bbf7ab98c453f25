import { useEffect, useState } from 'react';

interface Props {
  readonly label: string;
  readonly value: number;
  readonly min: number | undefined;
  readonly step: number;
  readonly onChange: (n: number) => void;
}

/** A number that is told of as it is typed, as long as it is one that can be. */
export function NumberField({ label, value, min, step, onChange }: Props) {
  const shown = String(Number(value.toFixed(5)));
  const [text, setText] = useState(shown);
  useEffect(() => setText((t) => (Number(t) === Number(shown) ? t : shown)), [shown]);
  return (
    <input
      type="number"
      className="input input-xs tc w-full px-1"
      aria-label={label}
      value={text}
      min={min}
      step={step}
      onChange={(e) => {
        setText(e.target.value);
        const n = Number(e.target.value);
        if (e.target.value !== '' && Number.isFinite(n) && (min === undefined || n >= min)) onChange(n);
      }}
    />
  );
}
