import { Command } from 'cmdk';
import type { LedgerView } from '../../contract';
import { eventName } from '../data/events';
import { STAGES, useView } from '../data/view';
import { Glyph } from './Glyph';

export interface PaletteCommand {
  readonly name: string;
  readonly run: () => void;
}

/** Finds a stage, a command or an event by typing. */
export function Palette({ ledger, commands }: { ledger: LedgerView | undefined; commands: readonly PaletteCommand[] }) {
  const { sheet, open, go, choose } = useView();
  const pick = (run: () => void) => () => {
    open(null);
    run();
  };
  const item = 'flex items-center gap-2 px-3 py-1.5 cursor-pointer data-[selected=true]:bg-base-300';
  return (
    <Command.Dialog
      open={sheet === 'palette'}
      onOpenChange={(isOpen) => open(isOpen ? 'palette' : null)}
      label="Find a command or an event"
      overlayClassName="fixed inset-0 bg-black/50 z-40"
      contentClassName="fixed left-1/2 top-24 -translate-x-1/2 w-[34rem] bg-base-200 border border-base-300 rounded shadow-xl z-50"
    >
      <Command.Input
        autoFocus
        placeholder="Stage, command, event number, clip or reel"
        className="w-full bg-transparent px-3 py-2.5 outline-none border-b border-base-300"
      />
      <Command.List className="max-h-80 overflow-y-auto py-1">
        <Command.Empty className="px-3 py-3 quiet">Nothing of that name.</Command.Empty>
        {STAGES.map((stage) => (
          <Command.Item key={stage} value={`stage ${stage}`} className={item} onSelect={pick(() => go(stage))}>
            <span className="quiet w-14">stage</span>
            <span className="capitalize">{stage}</span>
          </Command.Item>
        ))}
        {commands.map((c) => (
          <Command.Item key={c.name} value={`command ${c.name}`} className={item} onSelect={pick(c.run)}>
            <span className="quiet w-14">do</span>
            {c.name}
          </Command.Item>
        ))}
        {ledger?.rows.map((row) => (
          <Command.Item
            key={row.id}
            value={`event ${row.id} ${row.number} ${row.clipName} ${row.reel}`}
            className={item}
            onSelect={pick(() => choose(row.id, row.recordFrames.in))}
          >
            <span className="w-14">
              <Glyph state={row.state} size={26} />
            </span>
            <span className="tc">{row.number}</span>
            <span className="truncate">{eventName(row)}</span>
            <span className="tc quiet ml-auto text-xs">{row.recordIn}</span>
          </Command.Item>
        ))}
      </Command.List>
    </Command.Dialog>
  );
}
