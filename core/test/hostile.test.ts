import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { LIST_FORMATS, type ListFormat, RATES, recogniseList, writeList } from '../src';
import { anyCut, CUTS } from './cuts';
import { hostileFiles } from './hostile';
import { untold } from './untold';

/**
 * Odd and hostile files: no reader throws, hangs, fills the memory or calls them clean, and whatever it makes of them can be
 * written and read again. Time and memory are measured by `npm run lists:deep`; here only what never ends fails.
 */
const NEVER_ENDS = 30_000;

let turn = 0;

/** What was read must be a list that every format can write and read again. */
function staysReadable(format: ListFormat, bytes: Uint8Array): void {
  const list = format.read(bytes);
  // An AAF file takes some twenty times as long as the others: every fifth list becomes one.
  turn++;
  for (const to of LIST_FORMATS.filter((f) => f.name !== 'aaf' || turn % 5 === 0)) {
    const [file] = writeList(list, to, `again.${to.extensions[0]}`).files;
    const again = to.read(file?.bytes ?? new Uint8Array(), to.statesRate ? {} : { rate: list.rate });
    expect(again.notices.filter((n) => n.code === 'unreadable')).toEqual([]);
    expect({ to: to.name, untold: untold(list, to) }).toEqual({ to: to.name, untold: [] });
  }
}

/** A format that is no text is damaged otherwise: core/test/aaf.test.ts. */
const OF_TEXT = LIST_FORMATS.filter((f) => f.name !== 'aaf');

describe('files made to hold a reader up', () => {
  for (const { name, format, bytes } of hostileFiles(300_000))
    it(
      `${format}: ${name}`,
      () => {
        const reader = LIST_FORMATS.find((f) => f.name === format) as ListFormat;
        const list = reader.read(bytes);
        recogniseList(bytes);
        // What holds no event says so, with its weight.
        if (list.tracks.length === 0) expect(list.notices.some((n) => n.severity === 'lost' || n.severity === 'unreadable')).toBe(true);
        // No kind of notice comes in numbers that nobody can read.
        expect(list.notices.length).toBeLessThan(3000);
      },
      NEVER_ENDS,
    );
});

describe('lists with parts changed, doubled, cut out or torn', () => {
  const change = fc.record({
    at: fc.nat({ max: 1_000_000 }),
    length: fc.nat({ max: 40 }),
    what: fc.constantFrom('remove', 'double', 'byte', 'digit', 'tear', 'scrap'),
    byte: fc.integer({ min: 0, max: 255 }),
    scrap: fc.constantFrom(
      '-1',
      '0',
      'NaN',
      '1e999',
      '"',
      '<',
      '{',
      '}',
      '\u0000',
      '\n',
      ',',
      '99:99:99:99',
      'null',
      '&#0;',
      '\ud800',
      '9999999999999999999',
    ),
  });
  type Change = typeof change extends fc.Arbitrary<infer C> ? C : never;
  function changed(bytes: Uint8Array, { at, length, what, byte, scrap }: Change): Uint8Array {
    const from = at % Math.max(1, bytes.length);
    const [head, part, tail] = [bytes.subarray(0, from), bytes.subarray(from, from + length), bytes.subarray(from + length)];
    const put = (...parts: (Uint8Array | number[])[]) => Uint8Array.from(parts.flatMap((p) => [...p]));
    switch (what) {
      case 'remove':
        return put(head, tail);
      case 'double':
        return put(head, part, part, tail);
      case 'byte':
        return put(head, [byte], bytes.subarray(from + 1));
      case 'digit':
        return put(head, [48 + (byte % 10)], bytes.subarray(from + 1));
      case 'tear':
        return put(head);
      case 'scrap':
        return put(head, new TextEncoder().encode(scrap), tail);
    }
  }
  for (const format of OF_TEXT)
    it(`are read without a fault as ${format.title}, and what was read can be written`, () => {
      fc.assert(
        fc.property(anyCut, fc.array(change, { minLength: 1, maxLength: 5 }), (cut, changes) => {
          const bytes = format.write(cut, `cut.${format.extensions[0]}`);
          staysReadable(format, changes.reduce(changed, bytes));
        }),
        // Each is written in every format, read again and compared: that takes its time.
        { numRuns: Math.min(CUTS, 500), seed: 41 },
      );
    });
});

describe('lists put together from the parts of their grammar', () => {
  const parts = {
    edl: [
      'TITLE: X',
      'FCM: DROP FRAME',
      'FCM: NON-DROP FRAME',
      '001  A001     V     C        01:00:00:00 01:00:02:00 10:00:00:00 10:00:02:00',
      '002  A001     V     C        01:00:02:00 01:00:02:00 10:00:02:00 10:00:02:00',
      '002  BL       V     D    012 00:00:00:00 00:00:01:00 10:00:02:00 10:00:03:00',
      '003  A002     B     W001 005 23:59:59:00 00:00:01:00 23:59:59:00 00:00:01:00',
      '004  A003     V2    K B      01:00:00;02 01:00:01;00 10:00:01;00 10:00:02;00',
      '005 V C 01:00:00:00 00:59:00:00 10:00:00:00 10:00:10:00',
      'M2   A001       -024.0       01:00:00:00',
      'M2 A002 000.0 23:59:59:00',
      '* FROM CLIP NAME: ONE',
      '* TO CLIP NAME: TWO',
      'FROM CLIP NAME: THREE',
      '* SOURCE FILE: /a/b.mov',
      '* ASC_SOP (1 1 1)(0 0 0)(1. 1 1)',
      '* ASC_SAT .5',
      '* LOC: 10:00:01:00 RED x',
      '* EFFECT NAME: BLUR',
      'AUD  3 4',
      '* REEL LONGREEL REPLACED BY A001',
      'free text',
      '006 A001 V C 01:00',
    ],
    table: [
      'Event,Reel,Source in,Source out,Record in,Record out,Speed %',
      '1,A001,01:00:00:00,01:00:02:00,10:00:00:00,10:00:02:00,100',
      '2,A,5,1,,,',
      '3,BL,0,9,00:00:00;00,,',
      '4,A,23:59:59:00,00:00:01:00,23:59:59:00,00:00:01:00,-50',
      '"open',
      ',,,,,,',
    ],
  };
  for (const [name, lines] of Object.entries(parts))
    it(`are read without a fault: ${name}`, () => {
      const format = LIST_FORMATS.find((f) => f.name === name) as ListFormat;
      fc.assert(
        fc.property(
          fc.array(fc.constantFrom(...lines), { maxLength: 14 }),
          fc.constantFrom(undefined, RATES['24'], RATES['29.97df']),
          (chosen, rate) => {
            const bytes = new TextEncoder().encode((name === 'table' ? [lines[0] as string, ...chosen] : chosen).join('\n'));
            const list = format.read(bytes, { rate });
            for (const track of list.tracks)
              for (const e of track.events) {
                expect(Number.isSafeInteger(e.source.in) && e.source.out >= e.source.in).toBe(true);
                expect(e.record.out).toBeGreaterThan(e.record.in);
              }
            staysReadable(format, bytes);
          },
        ),
        { numRuns: CUTS * 2, seed: 42 },
      );
    });
});

it.each(OF_TEXT)('numbers that no list can hold are read without a fault, each in turn: $title', (format) => {
  for (const cut of fc.sample(anyCut, { numRuns: 4, seed: 43 })) {
    const text = new TextDecoder().decode(format.write(cut, `cut.${format.extensions[0]}`));
    const numbers = [...text.matchAll(/-?\d+(?:\.\d+)?/g)].filter((_, i) => i % 3 === 0);
    for (const { index, 0: number } of numbers)
      for (const huge of ['9999999999999999999100', '1e30', '-1e-30', '0.000000000001']) {
        const list = format.read(new TextEncoder().encode(text.slice(0, index) + huge + text.slice(index + number.length)));
        for (const track of list.tracks)
          for (const { record, source, retime } of track.events) {
            expect([record.in, record.out, source.in, source.out].every(Number.isSafeInteger)).toBe(true);
            expect(retime.kind === 'constant' && retime.speed.num === 0).toBe(false);
          }
      }
  }
});

describe('files that a reader or a writer once failed at, kept small', () => {
  const bytes = (text: string) => new TextEncoder().encode(text);
  const reader = (name: string) => LIST_FORMATS.find((f) => f.name === name) as ListFormat;
  const span = (length: number) =>
    `{"OTIO_SCHEMA":"TimeRange.1","start_time":{"OTIO_SCHEMA":"RationalTime.1","rate":24,"value":5},"duration":{"OTIO_SCHEMA":"RationalTime.1","rate":24,"value":${length}}}`;
  const found: [string, string, string][] = [
    [
      'edl',
      'a grade before the first event, which went to that event on the way back',
      '* FROM CLIP NAME: THREE\n* ASC_SAT .5\n002  BL       V     D    012 00:00:00:00 00:00:01:00 10:00:02:00 10:00:03:00\n* FROM CLIP NAME: ONE',
    ],
    [
      'edl',
      'a note of nothing but a character that is no text',
      '001  A001     V     C        01:00:00:00 01:00:02:00 10:00:00:00 10:00:02:00\n* \u0000',
    ],
    [
      'otio',
      'speeds that multiply beyond every number',
      `{"OTIO_SCHEMA":"Track.1","kind":"Video","children":[{"OTIO_SCHEMA":"Clip.2","name":"a","source_range":${span(9)},"effects":[${Array(400).fill('{"OTIO_SCHEMA":"LinearTimeWarp.1","time_scalar":1.5}').join(',')}]}]}`,
    ],
    [
      'otio',
      'a transition longer than all it joins, which a writer counted back frame by frame',
      `{"OTIO_SCHEMA":"Track.1","kind":"Video","children":[{"OTIO_SCHEMA":"Clip.2","name":"a","source_range":${span(9)}},{"OTIO_SCHEMA":"Transition.1","in_offset":{"OTIO_SCHEMA":"RationalTime.1","rate":24,"value":900000000},"out_offset":{"OTIO_SCHEMA":"RationalTime.1","rate":24,"value":3}},{"OTIO_SCHEMA":"Clip.2","name":"b","source_range":${span(9)}}]}`,
    ],
    [
      'xmeml',
      'a fade to black, which the clip behind it came in with too',
      '<xmeml version="5"><sequence><name>x</name><rate><timebase>24</timebase></rate><media><video><track><clipitem><name>a</name><start>0</start><end>-1</end><in>0</in><out>9</out></clipitem><transitionitem><start>4</start><end>9</end><alignment>end-black</alignment></transitionitem><clipitem><name>b</name><start>9</start><end>18</end><in>0</in><out>9</out></clipitem></track></video></media></sequence></xmeml>',
    ],
    ['table', 'a cell of nothing but a character that is no text', 'Reel,Source in,Source out,Other\nA,0,9,\u0000'],
  ];
  for (const [format, what, text] of found)
    it(`${format}: ${what}`, () => {
      staysReadable(reader(format), bytes(text));
    });
  it('and the clip behind a fade to black comes in with a cut', () => {
    const [, , text] = found.find(([format]) => format === 'xmeml') as [string, string, string];
    expect(
      reader('xmeml')
        .read(bytes(text))
        .tracks[0]?.events.map((e) => [e.kind, e.transitionIn?.duration ?? 0]),
    ).toEqual([
      ['clip', 0],
      ['black', 5],
      ['clip', 0],
    ]);
  });
});
