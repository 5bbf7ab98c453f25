import { useEffect, useRef } from 'react';
import { useView } from '../data/view';

const KEYS: readonly (readonly [string, string])[] = [
  ['1 … 7', 'the stages, from Turnover to Activity'],
  ['↑ ↓', 'event before, event after'],
  ['← →', 'one frame; with Shift ten'],
  ['J K L', 'play backward, stop, play forward; Space plays and stops (Proof)'],
  ['I O', 'first and last frame of the event'],
  ['Enter', 'accept the candidate that is marked (Pairing); G goes on'],
  ['N C V', 'next candidate, compare candidates, flick between them (Pairing)'],
  ['V', 'show the other side, where they are swapped (Proof)'],
  ['T', 'apply the cause that is shown to all its events (Pairing)'],
  ['X', 'no original needed, or needed after all (Pairing)'],
  ['Shift ↑ ↓', 'select several events; Ctrl or Cmd A all that are shown (Pairing)'],
  ['G', 'go to the next event that is open, or to the next finding'],
  ['S', 'next way to compare (Proof)'],
  ['M', 'apply the mend that is proposed first, and prove again (Proof)'],
  ['Z', 'undo the last decision; with Shift redo it'],
  ['?', 'this sheet'],
  ['Ctrl or Cmd K', 'find a command or an event'],
];

/** The sheet of shortcuts. */
export function Keys() {
  const { sheet, open } = useView();
  const dialog = useRef<HTMLDialogElement>(null);
  useEffect(() => {
    // A modal dialog takes the focus, holds it, and gives it back when it is closed.
    if (sheet === 'keys') dialog.current?.showModal();
    else dialog.current?.close();
  }, [sheet]);
  return (
    <dialog ref={dialog} className="modal" aria-label="Keys" onClose={() => useView.getState().sheet === 'keys' && open(null)}>
      <div className="modal-box max-w-lg bg-base-200">
        <h2 className="text-base font-medium mb-3">Keys</h2>
        <dl className="grid grid-cols-[9rem_1fr] gap-y-1.5">
          {KEYS.map(([key, what]) => (
            <div key={key} className="contents">
              <dt className="tc">{key}</dt>
              <dd className="quiet">{what}</dd>
            </div>
          ))}
        </dl>
        <div className="modal-action">
          <button type="button" className="btn btn-sm" onClick={() => open(null)}>
            Close
          </button>
        </div>
      </div>
    </dialog>
  );
}
