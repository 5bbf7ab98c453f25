import fc from 'fast-check';
import { type EditList, EMPTY_LIST, fraction, type ListEvent, NATURAL, newEvent, RATES } from '../src';

const name = fc
  .stringMatching(/^[A-Za-z0-9][A-Za-z0-9_ ]{0,20}[A-Za-z0-9]$/)
  .filter((s) => !/^(title|text|caption|subtitle|credits?)\b/i.test(s) && !/ {2}/.test(s));
const reel = fc.stringMatching(/^[A-Z]\d{3}[A-Z0-9_]{0,12}$/);
const number3 = fc.integer({ min: 0, max: 3_000 }).map((n) => n / 1000);
const triple = fc.tuple(number3, number3, number3);
const retime = fc.oneof(
  fc.constant(NATURAL),
  fc.constant({ kind: 'freeze' } as const),
  fc
    .integer({ min: -96, max: 96 })
    .filter((n) => n !== 0 && n !== 24)
    .map((n) => ({ kind: 'constant', speed: fraction(n, 24) }) as const),
);
export interface Piece {
  reel: string;
  clipName: string;
  start: number;
  length: number;
  retime: ListEvent['retime'];
  join: number;
  cdl: ListEvent['cdl'];
  marked: boolean;
}
export const piece: fc.Arbitrary<Piece> = fc.record({
  reel,
  clipName: name,
  start: fc.integer({ min: 0, max: 2_000_000 }),
  length: fc.integer({ min: 2, max: 400 }),
  retime,
  join: fc.integer({ min: 0, max: 2 }),
  cdl: fc.option(fc.record({ slope: triple, offset: triple, power: triple, saturation: number3 })),
  marked: fc.boolean(),
});

/** A cut of one layer made of the pieces, end to end from 01:00:00:00; `before`: how far ahead of the cut each join begins. */
export function listOf(pieces: readonly Piece[], before: 0 | 1 = 0): EditList {
  let at = 86_400;
  const made = pieces.map((p, i): ListEvent => {
    const record = { in: at, out: at + p.length };
    at = record.out;
    const used = p.retime.kind === 'constant' ? Math.ceil((p.length * Math.abs(p.retime.speed.num)) / p.retime.speed.den) : p.length;
    return newEvent({
      key: `V1/${i + 1}`,
      number: String(i + 1).padStart(3, '0'),
      reel: p.reel,
      clipName: p.clipName,
      fileName: `${p.reel}.mov`,
      sourceRate: RATES['24'],
      source: { in: p.start, out: p.start + used },
      record,
      retime: p.retime,
      transitionIn: i > 0 && p.join > 0 ? { type: 'dissolve', duration: p.join + before, before, from: 'previous', wipeCode: null } : null,
      cdl: p.cdl,
      markers: p.marked ? [{ record: record.in, colour: 'RED', text: 'LOOK' }] : [],
    });
  });
  return {
    ...EMPTY_LIST,
    format: 'edl',
    title: 'LAW',
    rate: RATES['24'],
    tracks: made.length > 0 ? [{ name: 'V1', kind: 'picture', events: made }] : [],
  };
}

/** What must come back of a list: all but lines, what only its own format knows, what it states of files, and notices. */
export const content = (list: EditList) => ({
  title: list.title,
  rate: list.rate,
  tracks: list.tracks.map(({ name, kind, events }) => ({
    name,
    kind,
    events: events.map(({ line: _, metadata: __, sourceLabels: ___, file: ____, ...event }) => event),
  })),
});
