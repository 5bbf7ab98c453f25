import { type Claim, type Correction, parseRate, parseTimecode } from '@gemello/core';
import { useState } from 'react';
import type { OriginalView } from '../../../contract';
import { useDecide } from '../../data/queries';

const FIELD_NAMES: Record<Claim['field'], string> = {
  timecode: 'Timecode',
  rate: 'Rate',
  reel: 'Reel',
  clipName: 'Clip name',
  scene: 'Scene',
  take: 'Take',
  proxy: 'Proxy',
  proxyOf: 'Copy of',
  created: 'Made on',
  writtenBy: 'Written by',
};

/** Of these one source is taken; the others all stand. */
const CHOSEN: readonly Claim['field'][] = ['timecode', 'rate', 'reel', 'clipName', 'scene', 'take'];
const SETTABLE: readonly Claim['field'][] = ['reel', 'timecode', 'rate', 'scene', 'take'];

/** What a person types: a timecode, a rate when it says so (`25 fps`), else a reel. */
function meant(text: string, clip: OriginalView): 'timecode' | 'rate' | 'reel' {
  if (parseTimecode(text, clip.rate) !== null) return 'timecode';
  return /fps$/i.test(text) && parseRate(text) ? 'rate' : 'reel';
}

/** A word that is not taken, and says something else than the one that is. */
const canTake = ({ claims }: OriginalView, c: Claim): boolean =>
  !c.taken && SETTABLE.includes(c.field) && !claims.some((o) => o.taken && o.field === c.field && o.value === c.value);

/** Who says what; what is taken stands in full, another can be taken instead, or a word of one's own. */
export function Claims({ job, clip }: { job: string; clip: OriginalView }) {
  const decide = useDecide(job);
  const [own, setOwn] = useState('');
  const correct = (field: Claim['field'], value: string) => {
    const start = parseTimecode(value, clip.rate);
    const word: Partial<Correction> =
      field === 'rate' ? { rate: value.replace(/\s*fps$/i, '') } : field === 'timecode' && start !== null ? { start } : { [field]: value };
    decide.mutate({
      decisions: [{ kind: 'correct', original: clip.path, ...word }],
      done: `${clip.clipName}: ${FIELD_NAMES[field].toLowerCase()} ${value}`,
    });
  };
  const byHand = clip.claims.some((c) => c.origin === 'set by hand' || /, (imported|taken in)$/.test(c.origin));
  const field = meant(own.trim(), clip);
  return (
    <div>
      <h3 className="quiet">Sources of these values</h3>
      {clip.claims.length === 0 && <p>Only the file name gives any information.</p>}
      {clip.claims.map((c) => (
        <div
          key={`${c.field} ${c.origin}`}
          className={`grid grid-cols-[4.5rem_1fr_auto] gap-x-2 items-baseline ${c.taken || !CHOSEN.includes(c.field) ? '' : 'quiet'}`}
        >
          <span className="quiet">{FIELD_NAMES[c.field]}</span>
          <span className="min-w-0">
            <span className="tc">{c.value}</span> {c.origin}
          </span>
          {canTake(clip, c) && (
            <button type="button" className="btn btn-xs h-4 min-h-0" onClick={() => correct(c.field, c.value)}>
              take it
            </button>
          )}
        </div>
      ))}
      <form
        className="flex gap-1 mt-1"
        onSubmit={(e) => {
          e.preventDefault();
          correct(field, own.trim());
          setOwn('');
        }}
      >
        <input
          className="input input-xs grow tc"
          aria-label="Another reel, start timecode or rate"
          placeholder="reel, timecode or fps"
          value={own}
          onChange={(e) => setOwn(e.target.value)}
        />
        <button type="submit" className="btn btn-xs" disabled={own.trim() === ''}>
          Set {FIELD_NAMES[field].toLowerCase()}
        </button>
        {byHand && (
          <button
            type="button"
            className="btn btn-xs btn-ghost"
            onClick={() =>
              decide.mutate({
                decisions: [{ kind: 'correct', original: clip.path, reel: null, start: null, rate: null }],
                done: `${clip.clipName}: as the file says`,
              })
            }
          >
            Reset to the file’s value
          </button>
        )}
      </form>
    </div>
  );
}
