import { useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import type { LedgerRow } from '../../contract';
import type { ContenderView } from '../../contract/ledger';
import { type SideChoice, useLooking } from '../data/looking';
import { CHANNELS, type Channel } from '../viewing/drawing';
import { ReferenceFit } from './ReferenceFit';
import { Through } from './Through';
import { COMPARE_MODES, MODE_WORDS } from './ways';

const CHANNEL_WORDS: Record<Channel, string> = {
  colour: 'All colours',
  red: 'Red alone',
  green: 'Green alone',
  blue: 'Blue alone',
  luma: 'Brightness alone',
};

interface Props {
  readonly job: string;
  readonly row: LedgerRow;
  readonly other: ContenderView | null;
  readonly titles: ReadonlyMap<string, string>;
  readonly wide: boolean;
  readonly onWide: (wide: boolean) => void;
  readonly front: 'a' | 'b';
  readonly onSwap: () => void;
  readonly onSave: () => void;
}

/** How two sides are held against each other, which they are, and what is seen over them. */
export function Bar({ job, row, other, titles, wide, onWide, front, onSwap, onSave }: Props) {
  const looking = useLooking();
  const { mode, a, b, set } = looking;
  const [open, setOpen] = useState(false);
  useHotkeys('s', () => set({ mode: COMPARE_MODES[(COMPARE_MODES.indexOf(mode) + 1) % COMPARE_MODES.length] ?? 'beside' }), [mode, set]);
  const choices: (readonly [SideChoice, string])[] = [
    ['reference', 'Reference'],
    ['conform', 'Conform'],
    ...(row.chosen ? [['original', 'Original, as it was shot'] as const] : []),
    ...(other ? [['candidate', `Candidate ${other.fileName}`] as const] : []),
    ...[...titles].map(([id, title]) => [`version ${id}`, `Version: ${title}`] as const),
  ];
  const side = (name: string, value: SideChoice, change: (choice: SideChoice) => void) => (
    <label className="flex items-center gap-1 min-w-0">
      <span className="quiet">{name}</span>
      <select className="select select-xs w-28" value={value} onChange={(e) => change(e.target.value as SideChoice)}>
        {choices.map(([choice, says]) => (
          <option key={choice} value={choice}>
            {says}
          </option>
        ))}
        {!choices.some(([choice]) => choice === value) && <option value={value}>Conform</option>}
      </select>
    </label>
  );
  return (
    <div className="pb-1 text-xs">
      <div className="flex flex-wrap items-center gap-1">
        {COMPARE_MODES.map((m) => (
          <button
            key={m}
            type="button"
            aria-pressed={mode === m}
            className={`btn btn-xs px-1.5 ${mode === m ? 'btn-primary' : 'btn-ghost'}`}
            onClick={() => set({ mode: m })}
          >
            {MODE_WORDS[m]}
          </button>
        ))}
        <Setting front={front} onSwap={onSwap} />
        <span className="ml-auto flex items-center gap-1">
          {side('A', a, (choice) => set({ a: choice }))}
          {side('B', b, (choice) => set({ b: choice }))}
          <button type="button" className="btn btn-xs btn-ghost px-1.5" aria-expanded={open} onClick={() => setOpen(!open)}>
            View
          </button>
          <button
            type="button"
            className="btn btn-xs btn-ghost px-1.5"
            title="A PNG of this frame with names and timecodes below it, named by its record timecode"
            onClick={onSave}
          >
            Save still
          </button>
          <button type="button" className="btn btn-xs btn-ghost px-1.5" title="F" aria-pressed={wide} onClick={() => onWide(!wide)}>
            {wide ? 'Back to the page' : 'Full window'}
          </button>
        </span>
      </div>
      {open && (
        <>
          <Options />
          <Through key={row.id} job={job} row={row} />
          <ReferenceFit job={job} />
        </>
      )}
    </div>
  );
}

/** What a way to compare can be set to. */
function Setting({ front, onSwap }: { front: 'a' | 'b'; onSwap: () => void }) {
  const { mode, gain, blend, hertz, line, angle, set } = useLooking();
  switch (mode) {
    case 'difference':
      return <Slider label={`Strengthened ${gain} times`} min={1} max={16} value={gain} onChange={(n) => set({ gain: n })} />;
    case 'blend':
      return <Slider label="A" min={0} max={100} value={Math.round(blend * 100)} onChange={(n) => set({ blend: n / 100 })} />;
    case 'split':
      return (
        <button
          type="button"
          className="btn btn-xs btn-ghost px-1.5"
          disabled={line === 0.5 && angle === 0}
          onClick={() => set({ line: 0.5, angle: 0 })}
        >
          Line upright, in the middle
        </button>
      );
    case 'swap':
      return (
        <>
          <button type="button" className="btn btn-xs px-1.5" title="V" onClick={onSwap}>
            {`Shows ${front.toUpperCase()}; swap`}
          </button>
          <Slider label={hertz === 0 ? 'By hand' : `${hertz} a second`} min={0} max={8} value={hertz} onChange={(n) => set({ hertz: n })} />
        </>
      );
    default:
      return null;
  }
}

/** What is seen of the pictures and over them. */
function Options() {
  const { channel, tint, names, areas, scopes, set } = useLooking();
  const tick = (label: string, on: boolean, change: (on: boolean) => void) => (
    <label className="flex items-center gap-1.5">
      <input type="checkbox" className="checkbox checkbox-xs" checked={on} onChange={(e) => change(e.target.checked)} />
      {label}
    </label>
  );
  return (
    <fieldset className="flex flex-wrap items-center gap-x-4 gap-y-1 py-1" aria-label="View">
      <label className="flex items-center gap-1">
        <span className="quiet">Shows</span>
        <select className="select select-xs w-36" value={channel} onChange={(e) => set({ channel: e.target.value as Channel })}>
          {CHANNELS.map((c) => (
            <option key={c} value={c}>
              {CHANNEL_WORDS[c]}
            </option>
          ))}
        </select>
      </label>
      <Slider label="Tint on the reference" min={0} max={100} value={Math.round(tint * 100)} onChange={(n) => set({ tint: n / 100 })} />
      {tick('Names and timecodes', names, (on) => set({ names: on }))}
      {tick('Safe areas', areas, (on) => set({ areas: on }))}
      {tick('Scopes', scopes, (on) => set({ scopes: on }))}
    </fieldset>
  );
}

export function Slider({
  label,
  min,
  max,
  value,
  onChange,
}: {
  label: string;
  min: number;
  max: number;
  value: number;
  onChange: (n: number) => void;
}) {
  return (
    <label className="flex items-center gap-2">
      <span className="quiet">{label}</span>
      <input
        type="range"
        className="range range-xs w-28"
        min={min}
        max={max}
        value={value}
        onChange={(e) => onChange(Number(e.target.value))}
      />
    </label>
  );
}
