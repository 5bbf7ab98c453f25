import { ChevronDownIcon, ChevronUpIcon, EyeClosedIcon, EyeOpenIcon, LockClosedIcon, LockOpen1Icon } from '@radix-ui/react-icons';
import { useDecide } from '../data/queries';
import { useSelection } from '../data/selection';
import type { Lane } from './scene';
import { BETWEEN, RULER } from './sight';

interface Props {
  readonly job: string;
  /** The topmost first. */
  readonly lanes: readonly Lane[];
  readonly each: number;
  readonly scrolled: number;
}

/** The layers beside their lanes: seen or not, held fast or not, and in which order. What is not seen here is written all the same. */
export function Layers({ job, lanes, each, scrolled }: Props) {
  const { hidden, locked, toggle } = useSelection();
  const decide = useDecide(job);
  const reorder = (at: number, to: number) => {
    const names = lanes.map((l) => l.name);
    const [moved] = names.splice(at, 1);
    if (moved === undefined) return;
    names.splice(to, 0, moved);
    decide.mutate({
      decisions: [{ kind: 'layer-order', order: names.reverse() }],
      done: `Layer ${moved} moved ${to < at ? 'up' : 'down'}`,
    });
  };
  const small = 'btn btn-xs btn-ghost px-0.5 min-h-0 h-5';
  return (
    <ul className="w-[6.5rem] shrink-0 overflow-hidden text-xs border-r border-base-300" style={{ paddingTop: RULER }} aria-label="Layers">
      {lanes.map(({ name }, i) => (
        <li
          key={name}
          className="px-1 flex flex-wrap content-start items-center overflow-hidden bg-base-200"
          style={{ height: each, marginBottom: BETWEEN, marginTop: i === 0 ? -scrolled : 0 }}
        >
          <span className={`tc font-medium mr-auto truncate max-w-10 ${hidden.has(name) ? 'opacity-50' : ''}`} title={name}>
            {name}
          </span>
          <button
            type="button"
            className={small}
            aria-pressed={hidden.has(name)}
            aria-label={`Layer ${name}: ${hidden.has(name) ? 'show' : 'hide'} in the viewer`}
            title={hidden.has(name) ? 'Show in the viewer' : 'Hide in the viewer; it is written all the same'}
            onClick={() => toggle('hidden', name)}
          >
            {hidden.has(name) ? <EyeClosedIcon /> : <EyeOpenIcon />}
          </button>
          <button
            type="button"
            className={small}
            aria-pressed={locked.has(name)}
            aria-label={`Layer ${name}: ${locked.has(name) ? 'release' : 'hold fast'}`}
            title={locked.has(name) ? 'Release its events' : 'Hold its events fast'}
            onClick={() => toggle('locked', name)}
          >
            {locked.has(name) ? <LockClosedIcon /> : <LockOpen1Icon />}
          </button>
          {lanes.length > 1 && each >= 44 && (
            <span className="basis-full flex">
              <button
                type="button"
                className={small}
                aria-label={`Layer ${name}: one higher`}
                title="One higher"
                disabled={i === 0}
                onClick={() => reorder(i, i - 1)}
              >
                <ChevronUpIcon />
              </button>
              <button
                type="button"
                className={small}
                aria-label={`Layer ${name}: one lower`}
                title="One lower"
                disabled={i === lanes.length - 1}
                onClick={() => reorder(i, i + 1)}
              >
                <ChevronDownIcon />
              </button>
            </span>
          )}
        </li>
      ))}
    </ul>
  );
}
