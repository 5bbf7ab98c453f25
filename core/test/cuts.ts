import fc from 'fast-check';
import {
  type EditList,
  EMPTY_LIST,
  FILLING,
  fraction,
  framesPerDay,
  framesUnder,
  type ListEvent,
  type Marker,
  NATURAL,
  newEvent,
  type Placement,
  RATES,
  type Rate,
  type Retime,
  type Track,
  type Transition,
} from '../src';

/**
 * Cuts that use everything a list can say: mixed rates, all speeds, transitions of every alignment, gaps, overlaps, layers,
 * sound, what is switched off, markers, grades, sizes that move, drop-frame, midnight, odd names.
 */

/** How many cuts each law is held against; `npm run lists:deep` asks for more. */
export const CUTS = Number(process.env.LISTS_CUTS ?? 100);

const often = <T>(usual: T, seldom: fc.Arbitrary<T>, weight = 4): fc.Arbitrary<T> =>
  fc.oneof({ weight, arbitrary: fc.constant(usual) }, { weight: 1, arbitrary: seldom });

const plainName = fc.stringMatching(/^[A-Z][A-Za-z0-9_]{1,12}$/);
const oddName = fc.constantFrom(
  'two  blanks',
  ' leading',
  'trailing ',
  'M2 A001 048.0',
  '001 A001 V C 01:00:00:00 01:00:01:00',
  '* FROM CLIP NAME: X',
  'Salz & "Meer" <1>',
  "l'aube à la saline",
  '塩田',
  'line\nbreak',
  'tab\there',
  'semi;colon,comma',
  'TO CLIP NAME: Y',
  '100%',
  'a/b\\c',
  'control\u001a\u0000',
  'half \ud800',
  '',
  'TITLE',
);
const name = fc.oneof({ weight: 5, arbitrary: plainName }, { weight: 1, arbitrary: oddName });
const reel = fc.oneof(
  { weight: 6, arbitrary: fc.stringMatching(/^[A-D]\d{3}$/) },
  { weight: 1, arbitrary: fc.constantFrom('', 'AX', 'A001_20260401_LEFT_SIDE', 'card 7 left', 'BL', '0012', 'R'.repeat(140), 'ÄÖÜ') },
);
const rates = Object.values(RATES).filter((r) => r.num / r.den <= 60) as Rate[];
const rateOfCut = fc.constantFrom(...rates);

const retime: fc.Arbitrary<Retime> = fc.oneof(
  { weight: 6, arbitrary: fc.constant<Retime>(NATURAL) },
  { weight: 1, arbitrary: fc.constant<Retime>({ kind: 'freeze' }) },
  {
    weight: 2,
    arbitrary: fc
      .tuple(fc.integer({ min: -300, max: 300 }), fc.constantFrom(24, 25, 48, 97, 100))
      .filter(([n, d]) => n !== 0 && n !== d)
      .map(([n, d]): Retime => ({ kind: 'constant', speed: fraction(n, d) })),
  },
  {
    weight: 1,
    arbitrary: fc
      .array(fc.tuple(fc.integer({ min: 1, max: 40 }), fc.integer({ min: 0, max: 90 })), { minLength: 1, maxLength: 3 })
      .map((steps): Retime => {
        const keys = [{ record: 0, source: 0 }];
        for (const [record, source] of steps) {
          const last = keys.at(-1) ?? { record: 0, source: 0 };
          keys.push({ record: last.record + record, source: last.source + source });
        }
        return { kind: 'keyed', keys };
      }),
  },
);

const share = fc.integer({ min: -20, max: 20 }).map((n) => n / 40);
const pose = fc.record({
  scaleX: fc.integer({ min: 1, max: 300 }).map((n) => n / 100),
  x: share,
  y: share,
  rotation: fc.integer({ min: -180, max: 180 }),
  crop: fc.record({
    left: fc.constantFrom(0, 0.1),
    right: fc.constantFrom(0, 0.25),
    top: fc.constantFrom(0, 0.125),
    bottom: fc.constantFrom(0, 0.05),
  }),
  opacity: fc.integer({ min: 0, max: 20 }).map((n) => n / 20),
});
const placement: fc.Arbitrary<Placement> = fc
  .record({ first: pose, second: pose, moves: fc.boolean(), uneven: fc.boolean(), flipX: fc.boolean() })
  .map(({ first, second, moves, uneven, flipX }) => {
    const whole = (p: typeof first) => ({ ...p, scaleY: uneven ? p.scaleX / 2 : p.scaleX });
    const keys = moves
      ? [
          { record: 0, ...whole(first) },
          { record: 12, ...whole(second) },
        ]
      : [];
    return { ...FILLING, ...whole(first), flipX: flipX && uneven, keys };
  });
const triple = fc.tuple(fc.integer({ min: 0, max: 3000 }), fc.integer({ min: 0, max: 3000 }), fc.integer({ min: 0, max: 3000 }));
const cdl = fc.tuple(triple, triple, triple, fc.integer({ min: 0, max: 2000 })).map(([slope, offset, power, saturation]) => ({
  slope: slope.map((n) => n / 1000) as [number, number, number],
  offset: offset.map((n) => n / 1000 - 1) as [number, number, number],
  power: power.map((n) => n / 1000) as [number, number, number],
  saturation: saturation / 1000,
}));

interface Mark {
  into: number;
  colour: string | null;
  text: string;
}

const piece = fc.record({
  gap: often(0, fc.integer({ min: 1, max: 30 }), 5),
  overlap: often(0, fc.integer({ min: 1, max: 30 }), 14),
  length: fc.integer({ min: 1, max: 120 }),
  source: fc.oneof(
    { weight: 8, arbitrary: fc.integer({ min: 2000, max: 2_000_000 }) },
    { weight: 1, arbitrary: fc.integer({ min: 0, max: 40 }) },
  ),
  atMidnight: often(false, fc.constant(true), 20),
  otherRate: often<Rate | null>(null, rateOfCut, 8),
  otherCounting: often(false, fc.constant(true), 12),
  kind: often<ListEvent['kind']>('clip', fc.constantFrom('black', 'bars', 'title', 'generator'), 9),
  retime,
  join: often<'dissolve' | 'wipe' | 'key' | null>(null, fc.constantFrom('dissolve', 'dissolve', 'wipe', 'key'), 2),
  before: fc.constantFrom(0, 0, 0.5, 1, 0.3),
  duration: fc.integer({ min: 1, max: 24 }),
  look: often(false, fc.constant(true), 5),
  name,
  reel,
  file: fc.oneof(
    { weight: 6, arbitrary: plainName.map((n) => `${n}.mov`) },
    { weight: 1, arbitrary: fc.constantFrom('', 'A 1.mov', 'ü&.mxf', '50%.mov', 'A.0001.dpx') },
  ),
  folder: often('', fc.constantFrom('/cards/A001/', 'file:///cards/A%20left/', 'C:\\cards\\'), 5),
  number: fc.oneof(
    { weight: 5, arbitrary: fc.constant('next') },
    { weight: 1, arbitrary: fc.constantFrom('', '007', '12A', 'odd one', '000123') },
  ),
  placement: often<Placement | null>(null, placement, 5),
  cdl: fc.option(cdl, { freq: 3 }),
  markers: fc.oneof(
    { weight: 6, arbitrary: fc.constant<Mark[]>([]) },
    {
      weight: 1,
      arbitrary: fc.array(
        fc.record<Mark>({
          into: fc.nat({ max: 100 }),
          colour: fc.constantFrom(null, 'RED', 'GREEN', 'MINT'),
          text: fc.constantFrom('LOOK HERE', 'BLUE SKY', '', 'edge'),
        }),
        { minLength: 1, maxLength: 3 },
      ),
    },
  ),
  notes: often<string[]>(
    [],
    fc.array(fc.constantFrom('windy', 'two\nlines', 'SOURCE FILE: other.mov', 'Label: Mango', 'TITLE: none'), {
      minLength: 1,
      maxLength: 5,
    }),
    5,
  ),
  enabled: often(true, fc.constant(false), 8),
  linked: often(false, fc.constant(true), 10),
});
type Piece = typeof piece extends fc.Arbitrary<infer P> ? P : never;

/** Where a cut begins on the record: an hour, 0, or just before midnight. */
const start = fc.constantFrom('hour', 'hour', 'hour', 'zero', 'midnight', 'ten');

export const anyCut: fc.Arbitrary<EditList> = fc
  .record({
    rate: rateOfCut,
    start,
    headGap: often(0, fc.integer({ min: 1, max: 100 }), 3),
    statesStart: fc.boolean(),
    title: fc.oneof({ weight: 3, arbitrary: plainName }, { weight: 1, arbitrary: oddName }),
    layers: fc.array(fc.array(piece, { minLength: 1, maxLength: 6 }), { minLength: 1, maxLength: 3 }),
    sounds: fc.oneof(
      { weight: 4, arbitrary: fc.constant<Piece[][]>([]) },
      { weight: 1, arbitrary: fc.array(fc.array(piece, { minLength: 1, maxLength: 4 }), { minLength: 1, maxLength: 2 }) },
    ),
    notes: often<string[]>([], fc.constant(['for the finish', 'TITLE: odd']), 6),
  })
  .map(({ rate, start: from, headGap, statesStart, title, layers, sounds, notes }) => {
    const day = framesPerDay(rate);
    const first = { hour: Math.round(day / 24), ten: Math.round((day / 24) * 10), zero: 0, midnight: day - 60 }[from] ?? 0;
    const numbers = { next: 0 };
    const tracks = [
      ...layers.map((pieces, i) => trackOf(`V${i + 1}`, 'picture', pieces, rate, first + headGap, numbers)),
      ...sounds.map((pieces, i) => trackOf(`A${i + 1}`, 'sound', pieces, rate, first + headGap, numbers)),
    ];
    return { ...EMPTY_LIST, format: 'edl', title, rate, start: statesStart ? first : null, tracks, notes };
  });

function trackOf(name: string, kind: Track['kind'], pieces: readonly Piece[], rate: Rate, from: number, numbers: { next: number }): Track {
  const events: ListEvent[] = [];
  let at = from;
  pieces.forEach((p, i) => {
    const before = events.at(-1);
    const begins = before ? Math.max(before.record.in + 1, at + p.gap - p.overlap) : at + p.gap;
    const length = p.length;
    const record = { in: begins, out: begins + length };
    const touches = before !== undefined && before.record.out === begins;
    const other = p.otherRate ?? rate;
    const sourceRate =
      p.otherCounting && other.den === 1001 && other.num % 30_000 === 0 ? { ...other, dropFrame: !other.dropFrame } : other;
    const made = p.kind !== 'clip';
    const run = made ? NATURAL : p.retime;
    const named =
      run.kind === 'keyed'
        ? Math.ceil(Math.max(1, ...run.keys.map((k) => k.source)))
        : framesUnder({ retime: run, sourceRate, rateMode: 'usual' }, rate, length);
    const source = made ? 0 : p.atMidnight ? framesPerDay(sourceRate) - 10 : p.source;
    events.push(
      newEvent({
        key: `${name}/${i + 1}`,
        number: p.number === 'next' ? String(++numbers.next).padStart(3, '0') : p.number,
        kind: p.kind,
        reel: p.kind === 'black' ? 'BL' : made ? '' : p.reel,
        clipName: p.kind === 'black' ? '' : p.name,
        fileName: made ? '' : p.file,
        mediaPath:
          made || p.file === '' || p.folder === ''
            ? ''
            : `${p.folder}${p.folder.startsWith('file:') ? encodeURIComponent(p.file) : p.file}`,
        sourceRate: made ? rate : sourceRate,
        source: { in: source, out: source + (made ? length : named) },
        record,
        retime: run,
        transitionIn: joinOf(p, length, before, touches),
        placement: made || kind === 'sound' ? null : p.placement,
        cdl: made ? null : p.cdl,
        markers:
          p.kind === 'black' ? [] : p.markers.map((m): Marker => ({ record: begins + (m.into % length), colour: m.colour, text: m.text })),
        notes: p.kind === 'black' ? [] : p.notes,
        enabled: p.enabled,
        linked: p.linked && i > 0 ? [`${name}/${i}`] : [],
      }),
    );
    at = Math.max(at, record.out);
  });
  return { name, kind, events };
}

function joinOf(p: Piece, length: number, before: ListEvent | undefined, touches: boolean): Transition | null {
  if (!p.join) return null;
  const duration = Math.min(p.duration, length, touches ? (before?.record.out ?? 0) - (before?.record.in ?? 0) : length);
  const ahead = touches ? Math.round(duration * p.before) : 0;
  const wipe = p.join === 'wipe';
  return {
    type: p.join,
    duration,
    before: ahead,
    from: touches ? 'previous' : 'black',
    wipeCode: wipe ? '017' : null,
    ...(wipe && p.look ? { look: { reverse: true, softness: 0.1, border: null } } : {}),
  };
}
