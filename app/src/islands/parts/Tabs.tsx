interface Props<T extends string> {
  readonly label: string;
  readonly tabs: readonly (readonly [name: T, says: string])[];
  readonly chosen: T;
  readonly onChoose: (name: T) => void;
}

/** Which of several parts of the page is shown in one place. The arrow keys go from one to the next. */
export function Tabs<T extends string>({ label, tabs, chosen, onChoose }: Props<T>) {
  const at = tabs.findIndex(([name]) => name === chosen);
  const step = (by: number) => {
    const [name] = tabs[(at + by + tabs.length) % tabs.length] ?? [];
    if (name !== undefined) onChoose(name);
  };
  return (
    <div role="tablist" aria-label={label} className="flex gap-1 px-2 py-1 text-xs border-b border-base-300">
      {tabs.map(([name, says]) => (
        <button
          key={name}
          type="button"
          role="tab"
          aria-selected={name === chosen}
          tabIndex={name === chosen ? 0 : -1}
          className={`px-2 py-0.5 border-b-2 ${name === chosen ? 'border-accent font-medium' : 'border-transparent quiet hover:border-base-300'}`}
          onClick={() => onChoose(name)}
          onKeyDown={(e) => {
            if (e.shiftKey || (e.key !== 'ArrowLeft' && e.key !== 'ArrowRight')) return;
            e.stopPropagation();
            step(e.key === 'ArrowRight' ? 1 : -1);
          }}
        >
          {says}
        </button>
      ))}
    </div>
  );
}
