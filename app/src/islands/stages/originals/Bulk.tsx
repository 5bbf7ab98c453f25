import { type Decision, parseRate, shiftIn } from '@gemello/core';
import { plural } from '@gemello/core/words';
import { type ReactNode, useState } from 'react';
import type { OriginalRow } from '../../../contract';
import { useDecide, useRemark, useStart } from '../../data/queries';
import { LightCopies } from './LightCopies';

/** What can be done to all selected clips at once. Corrections are decisions: the files are not touched, and all can be undone. */
export function Bulk({ job, clips, onDone }: { job: string; clips: readonly OriginalRow[]; onDone: () => void }) {
  const decide = useDecide(job);
  const remark = useRemark(job);
  const start = useStart(job);
  const [whole, setWhole] = useState(false);
  const [copying, setCopying] = useState(false);
  const count = plural(clips.length, 'clip');
  const paths = clips.map((o) => o.path);
  const folder = commonFolder(clips);
  const of = whole && folder ? `all in ${folder.split('/').pop()}` : count;
  const correct = (decisions: Decision[], done: string) => decisions.length > 0 && decide.mutate({ decisions, done });
  const each = (word: (o: OriginalRow) => Decision[], ofFolder: (folder: string) => Decision) =>
    whole && folder ? [ofFolder(folder)] : clips.flatMap(word);
  const setReel = (reel: string | null) =>
    each(
      (o) => [{ kind: 'correct', original: o.path, reel }],
      (f) => ({ kind: 'correct-folder', folder: f, reel }),
    );
  const shift = (text: string) =>
    each(
      (o) => {
        const frames = shiftIn(text, o.rate);
        return frames === null || o.start === null ? [] : [{ kind: 'correct', original: o.path, start: Math.max(0, o.start + frames) }];
      },
      (f) => ({ kind: 'correct-folder', folder: f, shift: text }),
    );
  return (
    <section aria-label="Selected clips" className="bg-base-200 border-t border-base-300 text-xs">
      <div className="flex flex-wrap gap-x-3 gap-y-1 items-center px-3 py-1.5">
        <span className="font-medium">{count} selected</span>
        {folder && (
          <label className="flex gap-1.5 items-center" title={`Reel and timecode are set for ${folder}, and for what is found in it later`}>
            <input type="checkbox" className="checkbox checkbox-xs" checked={whole} onChange={(e) => setWhole(e.target.checked)} />
            their whole folder
          </label>
        )}
        <OneWord
          label="Reel for the selected clips"
          placeholder="reel"
          width="w-20 tc"
          onWord={(reel) => correct(setReel(reel), `Reel ${reel} set for ${of}`)}
        >
          Set reel
        </OneWord>
        <OneWord
          label="Shift of the selected clips' timecode"
          placeholder="+12 or -01:00:00:00"
          width="w-48 tc"
          fits={(text) => clips.some((o) => shiftIn(text, o.rate) !== null)}
          onWord={(text) => {
            const decisions = shift(text);
            correct(decisions, `Timecode shifted for ${of}`);
          }}
        >
          Shift timecode
        </OneWord>
        {!whole && (
          <OneWord
            label="Rate for the selected clips"
            placeholder="rate"
            width="w-16 tc"
            fits={(text) => parseRate(text) !== null}
            onWord={(rate) =>
              correct(
                clips.map((o) => ({ kind: 'correct', original: o.path, rate })),
                `Rate ${rate} set for ${count}`,
              )
            }
          >
            Set rate
          </OneWord>
        )}
        <button
          type="button"
          className="btn btn-xs btn-ghost"
          onClick={() =>
            correct(
              each(
                (o) => [{ kind: 'correct', original: o.path, reel: null, start: null, rate: null }],
                (f) => ({ kind: 'correct-folder', folder: f, reel: null, shift: null }),
              ),
              `${of}: as the files say`,
            )
          }
        >
          Reset to the files’ values
        </button>
        <OneWord
          label="Tag for the selected clips"
          placeholder="tag"
          width="w-24"
          onWord={(tag, done) => remark.mutate({ paths, add: [tag] }, { onSuccess: done })}
        >
          Tag
        </OneWord>
        <button type="button" className="btn btn-xs bg-base-300" aria-expanded={copying} onClick={() => setCopying(!copying)}>
          Proxies
        </button>
        <button type="button" className="btn btn-xs bg-base-300" onClick={() => start.mutate({ kind: 'checksums', paths })}>
          Measure checksums
        </button>
        <button type="button" className="btn btn-xs btn-ghost ml-auto" onClick={onDone}>
          Clear selection
        </button>
      </div>
      {copying && <LightCopies job={job} clips={clips} onStarted={() => setCopying(false)} />}
    </section>
  );
}

/** The folder that all clips lie in, when it is one. */
function commonFolder(clips: readonly OriginalRow[]): string | null {
  const folder = (o: OriginalRow) => o.path.slice(0, o.path.lastIndexOf('/'));
  const first = clips[0] && folder(clips[0]);
  return first && clips.every((o) => folder(o) === first) ? first : null;
}

interface OneWordProps {
  readonly label: string;
  readonly placeholder: string;
  readonly width: string;
  readonly fits?: (text: string) => boolean;
  /** `done` clears the field. */
  readonly onWord: (word: string, done: () => void) => void;
  readonly children: ReactNode;
}

/** A field for one word, and the button that sets it. */
function OneWord({ label, placeholder, width, fits = (text) => text !== '', onWord, children }: OneWordProps) {
  const [text, setText] = useState('');
  const word = text.trim();
  return (
    <form
      className="flex gap-1"
      onSubmit={(e) => {
        e.preventDefault();
        onWord(word, () => setText(''));
      }}
    >
      <input
        className={`input input-xs ${width}`}
        aria-label={label}
        placeholder={placeholder}
        value={text}
        onChange={(e) => setText(e.target.value)}
      />
      <button type="submit" className="btn btn-xs bg-base-300" disabled={!fits(word)}>
        {children}
      </button>
    </form>
  );
}
