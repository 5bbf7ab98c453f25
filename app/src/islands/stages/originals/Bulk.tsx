import { type Decision, parseTimecode } from '@gemello/core';
import { useState } from 'react';
import type { OriginalRow } from '../../../contract';
import { useDecide, useRemark } from '../../data/queries';

/** What can be done to all selected clips at once. Corrections are decisions: the files are not touched, and all can be undone. */
export function Bulk({ job, clips, onDone }: { job: string; clips: readonly OriginalRow[]; onDone: () => void }) {
  const decide = useDecide(job);
  const remark = useRemark(job);
  const [reel, setReel] = useState('');
  const [shift, setShift] = useState('');
  const [tag, setTag] = useState('');
  const count = `${clips.length} ${clips.length === 1 ? 'clip' : 'clips'}`;
  const correct = (decisions: Decision[], done: string) => decisions.length > 0 && decide.mutate({ decisions, done });
  const shiftAll = () => {
    const decisions = clips.flatMap((o): Decision[] => {
      const frames = shiftIn(shift, o);
      return frames === null || o.start === null ? [] : [{ kind: 'correct', original: o.path, start: Math.max(0, o.start + frames) }];
    });
    correct(decisions, `Timecode of ${decisions.length} clips shifted`);
  };
  return (
    <section
      aria-label="Selected clips"
      className="flex flex-wrap gap-x-3 gap-y-1 items-center px-3 py-1.5 bg-base-200 border-b border-base-300 text-xs"
    >
      <span className="font-medium">{count} selected</span>
      <form
        className="flex gap-1"
        onSubmit={(e) => {
          e.preventDefault();
          correct(
            clips.map((o) => ({ kind: 'correct', original: o.path, reel: reel.trim() })),
            `Reel ${reel.trim()} set for ${count}`,
          );
        }}
      >
        <input
          className="input input-xs w-20 tc"
          aria-label="Reel for the selected clips"
          placeholder="reel"
          value={reel}
          onChange={(e) => setReel(e.target.value)}
        />
        <button type="submit" className="btn btn-xs" disabled={reel.trim() === ''}>
          Set reel
        </button>
      </form>
      <form
        className="flex gap-1"
        onSubmit={(e) => {
          e.preventDefault();
          shiftAll();
        }}
      >
        <input
          className="input input-xs w-32 tc"
          aria-label="Shift of the selected clips' timecode"
          placeholder="+12 or -01:00:00:00"
          value={shift}
          onChange={(e) => setShift(e.target.value)}
        />
        <button type="submit" className="btn btn-xs" disabled={!/^[+-]?\d+$|^[+-]?\d+[:;]\d+[:;]\d+[:;]\d+$/.test(shift.trim())}>
          Shift timecode
        </button>
      </form>
      <form
        className="flex gap-1"
        onSubmit={(e) => {
          e.preventDefault();
          remark.mutate({ paths: clips.map((o) => o.path), add: [tag.trim()] }, { onSuccess: () => setTag('') });
        }}
      >
        <input
          className="input input-xs w-24"
          aria-label="Tag for the selected clips"
          placeholder="tag"
          value={tag}
          onChange={(e) => setTag(e.target.value)}
        />
        <button type="submit" className="btn btn-xs" disabled={tag.trim() === ''}>
          Tag
        </button>
      </form>
      <button
        type="button"
        className="btn btn-xs btn-ghost"
        onClick={() =>
          correct(
            clips.map((o) => ({ kind: 'correct', original: o.path, reel: null, start: null })),
            `${count} as their files say`,
          )
        }
      >
        As the files say
      </button>
      <button type="button" className="btn btn-xs btn-ghost ml-auto" onClick={onDone}>
        Let go
      </button>
    </section>
  );
}

/** A shift as people write it: frames, or a timecode of the clip's own rate, either with a sign. Null when it is none. */
function shiftIn(text: string, clip: OriginalRow): number | null {
  const trimmed = text.trim();
  const sign = trimmed.startsWith('-') ? -1 : 1;
  const size = trimmed.replace(/^[+-]/, '');
  const frames = /^\d+$/.test(size) ? Number(size) : parseTimecode(size, clip.rate);
  return frames === null ? null : sign * frames;
}
