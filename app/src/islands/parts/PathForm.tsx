import { useState } from 'react';

interface Props {
  readonly label: string;
  readonly placeholder: string;
  /** What the button says it does. */
  readonly verb: string;
  readonly pending: boolean;
  /** Does it; `done` empties the field, which keeps what was typed where it could not be done. */
  readonly onPath: (path: string, done: () => void) => void;
  readonly className?: string;
}

/** A field for a path on the server's machine, and a button. */
export function PathForm({ label, placeholder, verb, pending, onPath, className = '' }: Props) {
  const [path, setPath] = useState('');
  return (
    <form
      className={`flex gap-1 min-w-0 ${className}`}
      onSubmit={(e) => {
        e.preventDefault();
        onPath(path, () => setPath(''));
      }}
    >
      <input
        className="input input-xs grow min-w-24 tc"
        aria-label={label}
        placeholder={placeholder}
        value={path}
        onChange={(e) => setPath(e.target.value)}
      />
      <button type="submit" className="btn btn-xs" disabled={path.trim() === '' || pending}>
        {verb}
      </button>
    </form>
  );
}
