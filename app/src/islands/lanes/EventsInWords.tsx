import { formatTimecode } from '@gemello/core/time';
import { plural } from '@gemello/core/words';
import { eventName } from '../data/events';
import { firstSeen, type Scene } from './scene';
import { frameAtX, type Sight } from './sight';

/** So many events are named at most: a screen reader goes on with the event after. */
const MOST = 80;

interface Props {
  readonly scene: Scene;
  readonly sight: Sight;
  readonly width: number;
  readonly selected: ReadonlySet<string>;
  readonly onChoose: (event: string, frame: number) => void;
}

/** What is drawn on the lanes, in words, for who does not see it. */
export function EventsInWords({ scene, sight, width, selected, onChoose }: Props) {
  const end = frameAtX(sight, width);
  const seen = scene.lanes.flatMap((lane) => {
    const first = firstSeen(lane.events, sight.from);
    return lane.events
      .slice(first, first + MOST)
      .filter((e) => e.record.in < end)
      .map((event) => ({ lane, event, index: lane.events.indexOf(event, first) }));
  });
  return (
    <ul className="sr-only" aria-label="Events on the lanes">
      {seen.slice(0, MOST).map(({ lane, event, index }) => {
        const row = scene.row(event.key);
        const findings = scene.findings(event.key).length;
        const left = scene.left(lane, index);
        const words = [
          `Event ${event.number} ${row ? eventName(row) : event.clipName}`,
          `layer ${lane.name}`,
          row?.state ?? 'exempt',
          `from ${formatTimecode(event.record.in, scene.rate)}, ${plural(event.record.out - event.record.in, 'frame')}`,
          event.transitionIn ? `begins with a ${event.transitionIn.type} of ${plural(event.transitionIn.duration, 'frame')}` : '',
          left ? `${left.before} frames of source left before, ${left.after} after` : '',
          findings > 0 ? plural(findings, 'finding') : '',
          event.enabled ? '' : 'switched off',
        ];
        return (
          <li key={event.key}>
            <button
              type="button"
              tabIndex={-1}
              aria-pressed={selected.has(event.key)}
              onClick={() => onChoose(event.key, Math.floor((event.record.in + event.record.out) / 2))}
            >
              {words.filter(Boolean).join(', ')}
            </button>
          </li>
        );
      })}
    </ul>
  );
}
