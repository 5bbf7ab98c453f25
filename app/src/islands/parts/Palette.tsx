import { Command } from 'cmdk';
import { useMemo, useState } from 'react';
import type { LedgerRow, LedgerView } from '../../contract';
import { eventName } from '../data/events';
import { STAGES, useView } from '../data/view';
import { Glyph } from './Glyph';

export interface PaletteCommand {
  readonly name: string;
  readonly run: () => void;
}

interface Props {
  readonly ledger: LedgerView | undefined;
  readonly commands: readonly PaletteCommand[];
}

/** Events that are offered at once; more are found by typing. */
const SHOWN = 50;
const ITEM = 'flex items-center gap-2 px-3 py-1.5 cursor-pointer data-[selected=true]:bg-base-300';

/** Finds a stage, a command or an event by typing. */
export function Palette(props: Props) {
  const { sheet, open } = useView();
  return (
    <Command.Dialog
      open={sheet === 'palette'}
      onOpenChange={(isOpen) => open(isOpen ? 'palette' : null)}
      label="Find a command or an event"
      overlayClassName="fixed inset-0 bg-black/50 z-40"
      contentClassName="fixed left-1/2 top-24 -translate-x-1/2 w-[34rem] bg-base-200 border border-base-300 rounded shadow-xl z-50"
    >
      <Entries {...props} />
    </Command.Dialog>
  );
}

const nameOf = ({ id, number, clipName, reel }: LedgerRow): string => `event ${id} ${number} ${clipName} ${reel}`;

/** What can be picked; made only while the palette is open. */
function Entries({ ledger, commands }: Props) {
  const { open, go, choose } = useView();
  const [typed, setTyped] = useState('');
  const pick = (run: () => void) => () => {
    open(null);
    run();
  };
  const found = useMemo(() => {
    const words = typed.toLowerCase().split(/\s+/);
    return (ledger?.rows ?? []).filter((row) => {
      const name = nameOf(row).toLowerCase();
      return words.every((word) => name.includes(word));
    });
  }, [ledger, typed]);
  return (
    <>
      <Command.Input
        autoFocus
        value={typed}
        onValueChange={setTyped}
        placeholder="Stage, command, event number, clip or reel"
        className="w-full bg-transparent px-3 py-2.5 outline-none border-b border-base-300"
      />
      <Command.List className="max-h-80 overflow-y-auto py-1">
        <Command.Empty className="px-3 py-3 quiet">Nothing of that name.</Command.Empty>
        {STAGES.map((stage) => (
          <Command.Item key={stage} value={`stage ${stage}`} className={ITEM} onSelect={pick(() => go(stage))}>
            <span className="quiet w-14">stage</span>
            <span className="capitalize">{stage}</span>
          </Command.Item>
        ))}
        {commands.map((c) => (
          <Command.Item key={c.name} value={`command ${c.name}`} className={ITEM} onSelect={pick(c.run)}>
            <span className="quiet w-14">do</span>
            {c.name}
          </Command.Item>
        ))}
        {found.slice(0, SHOWN).map((row) => (
          <Command.Item key={row.id} value={nameOf(row)} className={ITEM} onSelect={pick(() => choose(row.id, row.recordFrames.in))}>
            <span className="w-14">
              <Glyph state={row.state} size={26} />
            </span>
            <span className="tc">{row.number}</span>
            <span className="truncate">{eventName(row)}</span>
            <span className="tc quiet ml-auto text-xs">{row.recordIn}</span>
          </Command.Item>
        ))}
        {found.length > SHOWN && <p className="px-3 py-1.5 quiet text-xs">{`${found.length - SHOWN} more events: type to find them.`}</p>}
      </Command.List>
    </>
  );
}
