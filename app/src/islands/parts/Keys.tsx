import { useEffect, useRef } from 'react';
import { useView } from '../data/view';

const KEYS: readonly (readonly [string, string])[] = [
  ['1 … 7', 'the stages, from Turnover to Activity'],
  ['↑ ↓', 'event before, event after'],
  ['← →', 'one frame; with Shift ten'],
  ['J K L', 'play backward, stop, play forward, faster each time; Space plays and stops (Pairing, Proof, Grade)'],
  ['I O', 'first and last frame of the event'],
  ['Home End', 'first and last frame of the cut (Pairing, Proof, Grade)'],
  ['Page up, down', 'the cut, finding or marker before and after (Pairing, Proof, Grade)'],
  ['Enter', 'accept the candidate that is marked (Pairing); G goes on'],
  ['N C B', 'next candidate, compare candidates, flick between them (Pairing)'],
  ['V', 'show the other side, where they are swapped (Pairing, Proof, Grade)'],
  ['F', 'the viewer in the full window, and back (Pairing, Proof, Grade)'],
  ['Y', 'pixels of the original, and back (Pairing, Proof, Grade)'],
  ['E', 'what the arrows move in the lanes: playhead, source, cut, edges, event, transition; Esc: the playhead again'],
  ['Alt ↑ ↓', 'what is selected in the lanes a layer higher or lower'],
  ['Enter Esc', 'keep or drop what is tried in the lanes'],
  ['= - 0', 'lanes nearer, further, the whole cut; Ctrl or Cmd with the wheel too'],
  ['T', 'apply the cause that is shown to all its events (Pairing)'],
  ['X', 'no original needed, or needed after all (Pairing)'],
  ['Shift ↑ ↓', 'select several events (Pairing); Ctrl or Cmd A all that are shown, in the lanes all of the layer'],
  ['G', 'go to the next event that is open, or to the next finding'],
  ['S', 'next way to compare (Pairing, Proof, Grade)'],
  ['D', 'see the shot without its grade, and with it again (Grade)'],
  ['M', 'apply the mend that is proposed first, and prove again (Proof)'],
  ['Z', 'undo what was decided last on this page; with Shift redo it'],
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
