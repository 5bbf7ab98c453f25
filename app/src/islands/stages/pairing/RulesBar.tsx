import type { Decision, Preference, RuleLine, Rules } from '@gemello/core';
import { PAIR_STATES, READY_RULES } from '@gemello/core/pairing';
import { plural } from '@gemello/core/words';
import { useState } from 'react';
import type { JobView } from '../../../contract';
import { usePreview } from '../../data/pairing';
import { useDecide } from '../../data/queries';
import { Glyph } from '../../parts/Glyph';

const STRICT = [
  ['exact', 'to the letter'],
  ['loose', 'loosely'],
  ['unless-conflict', 'unless it conflicts'],
  ['off', 'not asked'],
] as const;
/** What a line may ask for besides: that it is the same on both sides. */
const SAME = [
  ['rate', 'rate'],
  ['raster', 'raster'],
  ['folder', 'folder'],
  ['checksum', 'checksum'],
] as const;
const CLOCK = [
  ['covers', 'holds all frames'],
  ['overlaps', 'holds some frames'],
  ['off', 'not asked'],
] as const;
const CARRIED = [
  ['label', 'by their labels'],
  ['real-time', 'by real time'],
  ['frame-count', 'frame for frame'],
] as const;

/**
 * Which criteria must hold for a candidate to count: lines, of which the first that is met counts. What another set would
 * change is shown before it is applied. Accepted pairs stand whatever is set.
 */
export function RulesBar({ job, view, selected }: { job: string; view: JobView; selected: readonly string[] }) {
  const [draft, setDraft] = useState<Rules | null>(null);
  const [wanted, setWanted] = useState<Preference | undefined>(undefined);
  const preview = usePreview(job);
  const decide = useDecide(job);
  const { rules } = view;
  const sets = [...READY_RULES, ...view.ruleSets];
  const shown = draft ?? rules;
  // A ready set that was changed is no longer that set.
  const ownName = READY_RULES.some((r) => r.name === shown.name) ? '' : shown.name;
  const preferring: Decision[] = wanted === undefined ? [] : [{ kind: 'preference', prefer: wanted }];
  const decisionsOf = (set: Rules): Decision[] =>
    selected.length === 0
      ? [{ kind: 'rules', rules: set }, ...preferring]
      : selected.map((event): Decision => ({ kind: 'rules', rules: set, scope: { of: 'event', event } }));
  const change = (set: Rules) => {
    setDraft(set);
    preview.mutate(decisionsOf(set));
  };
  const close = () => {
    setDraft(null);
    setWanted(undefined);
    preview.reset();
  };
  const lineChanged = (at: number, fields: Partial<RuleLine>) =>
    change({ ...shown, name: ownName, lines: shown.lines.map((line, i) => (i === at ? { ...line, ...fields } : line)) });
  return (
    <div className="contents">
      <label className="flex items-center gap-1">
        <span className="quiet">Rules</span>
        <select
          className="select select-xs w-auto min-w-20 pe-7"
          disabled={decide.isPending}
          value={sets.some((r) => r.name === shown.name) ? shown.name : ''}
          onChange={(e) => {
            const chosen = sets.find((r) => r.name === e.target.value);
            change(chosen ?? shown);
          }}
        >
          {!sets.some((r) => r.name === shown.name) && <option value="">{shown.name || 'your own'}</option>}
          {sets.map((r) => (
            <option key={r.name}>{r.name}</option>
          ))}
        </select>
        <button
          type="button"
          className="btn btn-xs btn-ghost"
          disabled={decide.isPending}
          aria-expanded={draft !== null}
          onClick={() => (draft ? close() : change(rules))}
        >
          Edit
        </button>
      </label>
      {draft && (
        <section
          aria-label="Rules before they are applied"
          className="basis-full order-last bg-base-200 p-3 space-y-2 max-h-[45vh] overflow-y-auto"
        >
          <p className="quiet">The first line that any candidate of an event meets counts, and only those that meet it.</p>
          <table>
            <thead>
              <tr className="quiet text-left">
                <th className="font-normal pr-3">Line</th>
                <th className="font-normal">Reel</th>
                <th className="font-normal">Name</th>
                <th className="font-normal">Scene and take</th>
                <th className="font-normal">Timecode</th>
                <th
                  className="font-normal"
                  title="Held against the reference by Compare pictures; until then a picture neither agrees nor conflicts"
                >
                  Picture
                </th>
                <th className="font-normal" title="Checksum: measured, and as a manifest states">
                  The same
                </th>
                <th className="font-normal">
                  <span className="sr-only">Remove</span>
                </th>
              </tr>
            </thead>
            <tbody>
              {draft.lines.map((line, i) => (
                // biome-ignore lint/suspicious/noArrayIndexKey: a line is known by its place alone
                <tr key={i}>
                  <td className="tc quiet pr-2">{i + 1}</td>
                  <td>
                    <Choice
                      label={`Reel in line ${i + 1}`}
                      value={line.reel}
                      options={STRICT}
                      onChange={(reel) => lineChanged(i, { reel })}
                    />
                  </td>
                  <td>
                    <Choice
                      label={`Name in line ${i + 1}`}
                      value={line.name}
                      options={STRICT}
                      onChange={(name) => lineChanged(i, { name })}
                    />
                  </td>
                  <td>
                    <Choice
                      label={`Scene and take in line ${i + 1}`}
                      value={line.slate}
                      options={STRICT}
                      onChange={(slate) => lineChanged(i, { slate })}
                    />
                  </td>
                  <td>
                    <Choice
                      label={`Timecode in line ${i + 1}`}
                      value={line.timecode}
                      options={CLOCK}
                      onChange={(timecode) => lineChanged(i, { timecode })}
                    />
                  </td>
                  <td>
                    <Choice
                      label={`Picture in line ${i + 1}`}
                      value={line.picture}
                      options={STRICT}
                      onChange={(picture) => lineChanged(i, { picture })}
                    />
                  </td>
                  <td className="whitespace-nowrap">
                    {SAME.map(([field, name]) => (
                      <label key={field} className="inline-flex items-center gap-1 px-1">
                        <input
                          type="checkbox"
                          className="checkbox checkbox-xs"
                          aria-label={`The same ${name} in line ${i + 1}`}
                          checked={line[field] === 'same'}
                          onChange={(e) => lineChanged(i, { [field]: e.target.checked ? 'same' : 'off' })}
                        />
                        {name}
                      </label>
                    ))}
                  </td>
                  <td className="text-right">
                    {draft.lines.length > 1 && (
                      <button
                        type="button"
                        className="btn btn-xs btn-ghost"
                        aria-label={`Remove line ${i + 1}`}
                        onClick={() => change({ ...draft, name: ownName, lines: draft.lines.filter((_, at) => at !== i) })}
                      >
                        Remove
                      </button>
                    )}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
          <div className="flex flex-wrap items-center gap-2">
            <button
              type="button"
              className="btn btn-xs"
              disabled={draft.lines.length >= 12}
              onClick={() => change({ ...draft, name: ownName, lines: [...draft.lines, draft.lines.at(-1) as RuleLine] })}
            >
              Add line
            </button>
            {!READY_RULES.some((r) => r.name === draft.name) && (
              <input
                className="input input-xs w-40"
                aria-label="Name of these rules"
                placeholder="name, to choose them again"
                maxLength={60}
                value={draft.name}
                onChange={(e) => setDraft({ ...draft, name: e.target.value })}
              />
            )}
            <span className="quiet ml-2">Other rates</span>
            <Choice
              label="Timecode of other rates"
              value={draft.rates}
              options={CARRIED}
              onChange={(rates) => change({ ...draft, name: ownName, rates })}
            />
          </div>
          {selected.length === 0 && (
            <label className="flex flex-wrap items-center gap-2">
              <span className="quiet">Of several candidates that fit</span>
              <select
                className="select select-xs w-auto pe-7"
                value={wantedText(wanted ?? view.preference)}
                onChange={(e) => {
                  const prefer = preferenceOf(e.target.value);
                  setWanted(prefer);
                  preview.mutate([
                    { kind: 'rules', rules: shown },
                    { kind: 'preference', prefer },
                  ]);
                }}
              >
                {view.preference === null && wanted === undefined && <option value="">I choose each</option>}
                <option value="largest">take the larger raster</option>
                <option value="smallest">take the smaller raster</option>
                {view.volumes.map((v) => (
                  <option key={v.id} value={v.path}>{`take those on ${v.name} first`}</option>
                ))}
              </select>
            </label>
          )}
          <div aria-live="polite">
            {preview.data && preview.data.changed === 0 && <p>Nothing would change.</p>}
            {preview.data && preview.data.changed > 0 && (
              <>
                <p>{`${plural(preview.data.changed, 'event')} would stand otherwise:`}</p>
                <ul className="flex flex-wrap gap-x-4">
                  {PAIR_STATES.filter((s) => preview.data.now[s] !== preview.data.after[s]).map((s) => (
                    <li key={s} className="flex items-center gap-1">
                      <Glyph state={s} size={18} />
                      {s} <span className="tc">{`${preview.data.now[s]} → ${preview.data.after[s]}`}</span>
                    </li>
                  ))}
                </ul>
              </>
            )}
          </div>
          <div className="flex justify-end gap-2">
            <button type="button" className="btn btn-xs btn-ghost" onClick={close}>
              Cancel
            </button>
            <button
              type="button"
              className="btn btn-xs btn-primary"
              disabled={decide.isPending}
              onClick={() =>
                decide.mutate(
                  {
                    decisions: decisionsOf(draft),
                    done: selected.length === 0 ? 'Rules applied' : `Rules applied to ${plural(selected.length, 'event')}`,
                  },
                  { onSuccess: close },
                )
              }
            >
              {selected.length === 0 ? 'Apply to the cut' : `Apply to ${plural(selected.length, 'selected event')}`}
            </button>
          </div>
        </section>
      )}
    </div>
  );
}

const wantedText = (prefer: Preference | null): string => (prefer === null ? '' : (prefer.folders[0] ?? prefer.raster));

/** What is preferred, as it is chosen: a raster, or a folder before all others. */
const preferenceOf = (value: string): Preference =>
  value === 'largest' || value === 'smallest' ? { raster: value, folders: [] } : { raster: 'largest', folders: [value] };

function Choice<T extends string>({
  label,
  value,
  options,
  onChange,
}: {
  label: string;
  value: T;
  options: readonly (readonly [T, string])[];
  onChange: (value: T) => void;
}) {
  return (
    <select className="select select-xs w-auto pe-7" aria-label={label} value={value} onChange={(e) => onChange(e.target.value as T)}>
      {options.map(([v, text]) => (
        <option key={v} value={v}>
          {text}
        </option>
      ))}
    </select>
  );
}
