import {
  BURN_FIELDS,
  BURN_SIZES,
  CLIP_CODECS,
  type ClipCodec,
  clipCodecs,
  fieldFault,
  NAME_FIELDS,
  type ReturnAsked,
} from '@gemello/core/returning';
import { useState } from 'react';
import { useKeepReturn, useKeptReturns } from '../../data/queries';
import { useReturning } from '../../data/returning';

/** How the return is asked for: its name, handles, names, kind of clip, and what is drawn into the pictures. Kept for the next time, also under names. */
export function Asked({ title, onTitle, misnamed }: { title: string; onTitle: (title: string) => void; misnamed: boolean }) {
  const { asked, ask } = useReturning();
  const [typed, setTyped] = useState(String(asked.handles));
  const wrong = /^\d{1,5}$/.test(typed.trim()) && Number(typed) <= 10_000 ? null : 'Handles are whole frames, from 0 to 10 000.';
  const { is } = CLIP_CODECS[asked.codec];
  return (
    <div className="flex flex-wrap gap-x-4 gap-y-2 items-end text-xs">
      <label>
        <span className="quiet block mb-1">Name of the returned cut</span>
        <input className="input input-sm w-64" value={title} onChange={(e) => onTitle(e.target.value)} />
      </label>
      <label>
        <span className="quiet block mb-1">Handles, frames</span>
        <input
          inputMode="numeric"
          className={`input input-sm w-20 tc ${wrong ? 'input-error' : ''}`}
          aria-invalid={wrong !== null}
          value={Number(typed) === asked.handles || wrong ? typed : String(asked.handles)}
          onChange={(e) => {
            setTyped(e.target.value);
            if (/^\d{1,5}$/.test(e.target.value.trim()) && Number(e.target.value) <= 10_000) ask({ handles: Number(e.target.value) });
          }}
        />
      </label>
      <label>
        <span className="quiet block mb-1">Clips are named after</span>
        <input
          className={`input input-sm w-40 tc ${misnamed ? 'input-error' : ''}`}
          aria-invalid={misnamed}
          title={NAME_FIELDS.map((f) => `{${f}}`).join(' ')}
          value={asked.template}
          onChange={(e) => ask({ template: e.target.value })}
        />
      </label>
      <label>
        <span className="quiet block mb-1">Clips are written as</span>
        <select className="select select-sm w-80" value={asked.codec} onChange={(e) => ask(asKind(asked, e.target.value as ClipCodec))}>
          {clipCodecs.map((codec) => (
            <option key={codec} value={codec}>
              {CLIP_CODECS[codec].says}
            </option>
          ))}
        </select>
      </label>
      <label>
        <span className="quiet block mb-1">Raster</span>
        <select
          className="select select-sm w-40"
          title="Clips that are placed have the frame of the cut in any case"
          value={asked.clipRaster}
          onChange={(e) => ask({ clipRaster: e.target.value as ReturnAsked['clipRaster'] })}
        >
          <option value="original">of the original</option>
          <option value="cut">at most the cut’s</option>
        </select>
      </label>
      <label>
        <span className="quiet block mb-1">One clip for each</span>
        <select
          className="select select-sm w-36"
          value={asked.clips}
          onChange={(e) => ask({ clips: e.target.value as ReturnAsked['clips'] })}
        >
          <option value="event">event</option>
          <option value="span">stretch of source</option>
        </select>
      </label>
      {is !== 'frames' && (
        <label>
          <span className="quiet block mb-1">Sound</span>
          <select
            className="select select-sm w-40"
            value={asked.sound}
            onChange={(e) => ask({ sound: e.target.value as ReturnAsked['sound'] })}
          >
            <option value="none">none</option>
            <option value="original">of the original</option>
            <option value="guide">guide sound</option>
            <option value="reference">of the reference</option>
          </select>
        </label>
      )}
      {is === 'light' && <BurnIn />}
      <fieldset>
        <legend className="quiet">In the pictures</legend>
        <div className="flex gap-3 h-8 items-center">
          <Baked
            label="Grade"
            title="Left out, grades go along in the list and in files"
            on={asked.grade === 'baked'}
            change={(on) => ask({ grade: on ? 'baked' : 'beside' })}
          />
          <Baked
            label="Speed"
            title="Retimed events are written as the cut shows them and listed at natural speed"
            on={asked.speed === 'baked'}
            change={(on) => ask({ speed: on ? 'baked' : 'list' })}
          />
          <Baked
            label="Placement"
            title="Sizes and positions are drawn at the frame of the cut"
            on={asked.placement === 'baked'}
            change={(on) => ask({ placement: on ? 'baked' : 'list' })}
          />
        </div>
      </fieldset>
      <LinksTo />
      {wrong && (
        <p className="text-error basis-full" role="alert">
          {wrong}
        </p>
      )}
    </div>
  );
}

/** Where the lists say that the clips are. A folder on another machine is asked for once it is named. */
function LinksTo() {
  const { asked, ask } = useReturning();
  const [chosen, setChosen] = useState(asked.links);
  return (
    <fieldset>
      <legend className="quiet mb-1">Lists find the clips</legend>
      <span className="flex gap-1">
        <select
          className="select select-sm w-44"
          aria-label="Where lists find the clips"
          value={chosen}
          onChange={(e) => {
            const links = e.target.value as ReturnAsked['links'];
            setChosen(links);
            if (links !== 'elsewhere' || asked.linksIn !== '') ask({ links });
          }}
        >
          <option value="beside">beside the lists</option>
          <option value="here">in their folder here</option>
          <option value="elsewhere">on another machine</option>
        </select>
        {chosen === 'elsewhere' && (
          <input
            className="input input-sm w-52 tc"
            aria-label="Folder on the other machine"
            placeholder="its folder there"
            maxLength={1024}
            value={asked.linksIn}
            onChange={(e) => ask({ linksIn: e.target.value, links: e.target.value.trim() === '' ? 'beside' : 'elsewhere' })}
          />
        )}
      </span>
    </fieldset>
  );
}

/** Another kind of clip; what that cannot have is left out. */
const asKind = ({ sound, burnIn }: ReturnAsked, codec: ClipCodec): Partial<ReturnAsked> => ({
  codec,
  sound: CLIP_CODECS[codec].is === 'frames' ? 'none' : sound,
  burnIn: CLIP_CODECS[codec].is === 'light' ? burnIn : '',
});

/** The text in the pictures of clips to look at: what it says, where, and how large. It is asked for once it can be. */
function BurnIn() {
  const { asked, ask } = useReturning();
  const [typed, setTyped] = useState(asked.burnIn);
  const fault = typed.trim() === '' ? null : fieldFault(typed, BURN_FIELDS);
  const known = BURN_FIELDS.map((f) => `{${f}}`).join(' ');
  return (
    <fieldset>
      <legend className="quiet mb-1">Text in the pictures</legend>
      <span className="flex gap-1">
        <input
          className={`input input-sm w-44 tc ${fault ? 'input-error' : ''}`}
          aria-label="Text in the pictures"
          aria-invalid={fault !== null}
          placeholder="none"
          title={fault ?? `May take in ${known}`}
          maxLength={120}
          value={typed}
          onChange={(e) => {
            setTyped(e.target.value);
            const text = e.target.value.trim();
            if (text === '' || fieldFault(text, BURN_FIELDS) === null) ask({ burnIn: text });
          }}
        />
        <select
          className="select select-sm w-24"
          aria-label="Where the text stands"
          value={asked.burnAt}
          onChange={(e) => ask({ burnAt: e.target.value as ReturnAsked['burnAt'] })}
        >
          <option value="foot">at foot</option>
          <option value="head">at head</option>
        </select>
        <select
          className="select select-sm w-24"
          aria-label="How large the text is"
          value={asked.burnSize}
          onChange={(e) => ask({ burnSize: e.target.value as ReturnAsked['burnSize'] })}
        >
          {Object.keys(BURN_SIZES).map((size) => (
            <option key={size}>{size}</option>
          ))}
        </select>
      </span>
      {fault && (
        <p className="text-error pt-1" role="alert">
          {fault}
        </p>
      )}
    </fieldset>
  );
}

function Baked({ label, title, on, change }: { label: string; title: string; on: boolean; change: (on: boolean) => void }) {
  return (
    <label className="flex items-center gap-1.5" title={title}>
      <input type="checkbox" className="checkbox checkbox-xs" checked={on} onChange={(e) => change(e.target.checked)} />
      {label}
    </label>
  );
}

/** Ways to ask that were kept under a name, one of them taken up, or this one kept. */
export function Kept() {
  const { asked, ask } = useReturning();
  const { data: kept = [] } = useKeptReturns();
  const keep = useKeepReturn();
  const [name, setName] = useState('');
  const same = (other: ReturnAsked) => Object.entries(asked).every(([field, value]) => other[field as keyof ReturnAsked] === value);
  const chosen = kept.find((k) => same(k.asked))?.name ?? '';
  return (
    <div className="flex gap-1 items-center text-xs">
      {kept.length > 0 && (
        <label className="flex items-center gap-2">
          <span className="quiet">Kept settings</span>
          <select
            className="select select-sm w-36"
            value={chosen}
            onChange={(e) => {
              const found = kept.find((k) => k.name === e.target.value);
              if (found) ask(found.asked);
            }}
          >
            {chosen === '' && <option value="">as set here</option>}
            {kept.map((k) => (
              <option key={k.name}>{k.name}</option>
            ))}
          </select>
        </label>
      )}
      {chosen ? (
        <button type="button" className="btn btn-sm btn-ghost" onClick={() => keep.mutate({ forget: chosen })}>
          Remove settings
        </button>
      ) : (
        <form
          className="flex gap-1 items-center"
          onSubmit={(e) => {
            e.preventDefault();
            if (name.trim() !== '') keep.mutate({ name: name.trim(), asked });
            setName('');
          }}
        >
          <label className="flex items-center gap-2">
            <span className="quiet">Keep settings as</span>
            <input className="input input-sm w-28" maxLength={40} value={name} onChange={(e) => setName(e.target.value)} />
          </label>
          <button type="submit" className="btn btn-sm" disabled={name.trim() === ''}>
            Keep
          </button>
        </form>
      )}
    </div>
  );
}
