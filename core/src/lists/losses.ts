import { asLists, withTransitionsAtStart } from '../conform';
import { type EditList, type ListEvent, type Notice, pictureTracks } from '../edit';
import { sameSpeed } from '../time';
import type { Feature, ListFormat } from './registry';

const COUNTS: readonly {
  what: Feature;
  has: (event: ListEvent, list: EditList) => boolean;
  message: (n: string, title: string) => string;
}[] = [
  { what: 'dissolves', has: (e) => e.transitionIn?.type === 'dissolve', message: (n, t) => `${n} with a dissolve: ${t} has cuts only.` },
  { what: 'wipes', has: (e) => e.transitionIn?.type === 'wipe', message: (n, t) => `${n} with a wipe: ${t} has no wipes.` },
  { what: 'keys', has: (e) => e.transitionIn?.type === 'key', message: (n, t) => `${n} with a key: ${t} has none.` },
  { what: 'placement', has: (e) => e.placement !== null, message: (n, t) => `${n} with another size or position: ${t} cannot say it.` },
  { what: 'cdl', has: (e) => e.cdl !== null, message: (n, t) => `${n} with a CDL grade: ${t} has no place for it; send a .ccc beside it.` },
  { what: 'switched-off', has: (e) => !e.enabled, message: (n, t) => `${n} that are switched off: ${t} would show them.` },
  { what: 'numbers', has: (e) => e.number !== '', message: (n, t) => `${n} with a number: ${t} does not number them.` },
  {
    what: 'keyed-speed',
    has: (e) => e.retime.kind === 'keyed',
    message: (n, t) => `${n} whose speed changes on the way: ${t} gets the mean speed.`,
  },
  {
    what: 'links',
    has: (e) => e.linked.length > 0,
    message: (n, t) => `${n} linked with others: ${t} does not say what belongs together.`,
  },
  {
    what: 'mixed-rates',
    has: (e, list) => !sameSpeed(e.sourceRate, list.rate),
    message: (n, t) => `${n} at another rate than the cut: ${t} counts all at one rate.`,
  },
  {
    what: 'part-frames',
    has: (e) => e.phase.num !== 0,
    message: (n) =>
      `${n} whose source begins on a part of a frame, as retimed ones do after a trim: single frames of them will show the one beside.`,
  },
];

/** What changes without the picture changing, or is kept in its main part. */
const MILD: readonly Feature[] = ['numbers', 'links', 'keyed-speed', 'part-frames'];

/** What a format cannot carry of a list, told before it is written. Event numbers alone are `kept` as order. */
export function lossesIn(given: EditList, format: ListFormat): Notice[] {
  const list = asLists(format.fromTransition ? withTransitionsAtStart(given) : given);
  const events = list.tracks.flatMap((t) => t.events);
  const notices: Notice[] = [];
  for (const { what, has, message } of COUNTS) {
    if (format.carries.includes(what)) continue;
    const hit = events.filter((e) => has(e, list));
    const [first] = hit;
    if (!first) continue;
    const severity = MILD.includes(what) ? 'changed' : 'lost';
    notices.push({
      severity,
      code: `cannot-carry-${what}`,
      place: null,
      event: first.key,
      message: message(`${hit.length} ${hit.length === 1 ? 'event' : 'events'}`, format.title),
    });
  }
  if (list.framing && !format.carries.includes('framing'))
    notices.push({
      severity: 'changed',
      code: 'cannot-carry-framing',
      place: null,
      event: null,
      message: `The raster of the cut: ${format.title} does not state it.`,
    });
  const foreign = events.filter((e) => e.metadata?.foreign === true).length;
  if (foreign > 0 && format.name !== list.format)
    notices.push({
      severity: 'lost',
      code: 'cannot-carry-metadata',
      place: null,
      event: null,
      message: `Metadata of ${foreign} ${foreign === 1 ? 'event' : 'events'} that only ${list.format} has a place for.`,
    });
  if (!format.carries.includes('layers') && pictureTracks(list).length > 1)
    notices.push({
      severity: 'lost',
      code: 'cannot-carry-layers',
      place: null,
      event: null,
      message: `${pictureTracks(list).length} layers: ${format.title} holds one.`,
    });
  return notices;
}
