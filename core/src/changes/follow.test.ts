import { describe, expect, it } from 'vitest';
import { bytesOf } from '../../test/make';
import { applyDecisions, type Decision, onEvent } from '../decisions';
import { type EditList, identitiesOf } from '../edit';
import { LIST_FORMATS, readDelivery, writeEdl, writeOtio } from '../lists';
import { RATES } from '../time';
import { followDecisions, followEvents } from '.';

/** An edit list of clips: reel, clip, source in and out, record in and out, as labels. */
type Row = readonly [reel: string, clip: string, sourceIn: string, sourceOut: string, recordIn: string, recordOut: string];
const rows: Row[] = [
  ['A001', 'A001C001', '01:00:00:00', '01:00:02:00', '10:00:00:00', '10:00:02:00'],
  ['A001', 'A001C002', '01:05:00:00', '01:05:01:12', '10:00:02:00', '10:00:03:12'],
  ['B002', 'B002C007', '02:00:10:00', '02:00:12:00', '10:00:03:12', '10:00:05:12'],
  ['A001', 'A001C001', '01:00:05:00', '01:00:06:00', '10:00:05:12', '10:00:06:12'],
];
const edl = (...all: Row[]) =>
  `TITLE: CUT\n${all.map(([reel, clip, ...tc], i) => `${String(i + 1).padStart(3, '0')}  ${reel}  V  C  ${tc.join(' ')}\n* FROM CLIP NAME: ${clip}\n`).join('')}`;
const read = (text: string, rate = RATES['24']): EditList => readDelivery([{ fileName: 'cut.edl', bytes: bytesOf(text) }], { rate }).list;
const keys = (list: EditList) => list.tracks.flatMap((t) => t.events.map((e) => e.key));
const grade = (key: string): Decision => ({ kind: 'grade', scope: onEvent(key), cdl: null });
const follow = (decision: Decision, before: EditList, now: EditList) =>
  followDecisions([{ decision, events: identitiesOf(before) }], identitiesOf(now));
const cut = read(edl(...rows));

describe('the key of an event', () => {
  it('is made of what it is, not of where it stands or what number it bears', () => {
    const [first, second, third, fourth] = rows as [Row, Row, Row, Row];
    const moved = read(edl(third, [...first.slice(0, 4), '10:01:00:00', '10:01:02:00'] as unknown as Row, second, fourth));
    expect(new Set(keys(moved))).toEqual(new Set(keys(cut)));
  });
  it('stays when the list is read at another rate, though every count of frames changes', () => {
    expect(keys(read(edl(...rows), RATES['25']))).toEqual(keys(cut));
    expect(keys(read(edl(...rows), RATES['29.97']))).toEqual(keys(cut));
  });
  it('does not move to the next event when a line drops out at another rate', () => {
    // At 30 it lasts a frame; at 24 it would end before it begins, since 10:00:02:29 counts on to 10:00:03:05.
    const odd: Row = ['C003', 'C003C001', '03:00:00:00', '03:00:01:00', '10:00:02:29', '10:00:03:00'];
    const withOdd = read(edl(rows[0] as Row, odd, ...rows.slice(1)), RATES['30']);
    const without = read(edl(rows[0] as Row, odd, ...rows.slice(1)), RATES['24']);
    expect(keys(without)).toHaveLength(4);
    const keyOf = (list: EditList, clip: string) => list.tracks[0]?.events.find((e) => e.clipName === clip)?.key as string;
    expect(keyOf(without, 'A001C002')).toBe(keyOf(withOdd, 'A001C002'));
    const odds = keyOf(withOdd, 'C003C001');
    expect(follow(grade(odds), withOdd, without)).toMatchObject({ standing: [], waiting: [0] });
  });
  it('stays when another layer or sound comes along', () => {
    const upper = edl(['D001', 'D001C001', '04:00:00:00', '04:00:01:00', '10:00:01:00', '10:00:02:00']);
    const both = readDelivery(
      [edl(...rows), upper].map((text, i) => ({ fileName: `cut_V${i + 1}.edl`, bytes: bytesOf(text) })),
      { rate: RATES['24'] },
    ).list;
    expect(keys(both).slice(0, 4)).toEqual(keys(cut));
    const sound = read(edl(...rows).replace('V  C', 'AA/V  C'));
    expect(sound.tracks.find((t) => t.kind === 'picture')?.events.map((e) => e.key)).toEqual(keys(cut));
  });
  it('of equals says which of how many', () => {
    const [first] = rows as [Row];
    const twice = read(edl(first, [...first.slice(0, 4), '10:00:09:00', '10:00:11:00'] as unknown as Row));
    expect(keys(twice).map((k) => k.replace(/^k\w+/, ''))).toEqual([':1of2', ':2of2']);
  });
});

describe('decisions in another version of the cut', () => {
  it('follow an event that was trimmed, and no other', () => {
    const trimmed = read(
      edl(rows[0] as Row, ['A001', 'A001C002', '01:05:00:06', '01:05:01:12', '10:00:02:00', '10:00:03:06'], ...rows.slice(2)),
    );
    const was = keys(cut)[1] as string;
    const { standing, waiting } = follow(grade(was), cut, trimmed);
    expect(waiting).toEqual([]);
    expect(standing[0]?.decision).toEqual(grade(keys(trimmed)[1] as string));
  });
  it('wait where their event is gone, though its neighbour is of the same clip', () => {
    const shorter = read(edl(...rows.slice(1)));
    expect(follow(grade(keys(cut)[0] as string), cut, shorter).waiting).toEqual([0]);
  });
  it('wait where one of several equals came or went, instead of guessing which', () => {
    const [first] = rows as [Row];
    const again = (at: string, to: string) => [...first.slice(0, 4), at, to] as unknown as Row;
    const two = read(edl(first, again('10:00:09:00', '10:00:11:00')));
    const three = read(edl(first, again('10:00:09:00', '10:00:11:00'), again('10:00:12:00', '10:00:14:00')));
    for (const key of keys(two)) expect(follow(grade(key), two, three).waiting).toEqual([0]);
    expect(follow(grade(keys(cut)[0] as string), cut, two).waiting).toEqual([0]);
  });
  it('of a source split in two uses wait: either could be meant', () => {
    const split = read(
      edl(
        ['A001', 'A001C001', '01:00:00:00', '01:00:01:00', '10:00:00:00', '10:00:01:00'],
        ['A001', 'A001C001', '01:00:01:00', '01:00:02:00', '10:00:01:00', '10:00:02:00'],
        ...rows.slice(1),
      ),
    );
    expect(follow(grade(keys(cut)[0] as string), cut, split).waiting).toEqual([0]);
  });
  it('follow the same cut into another format', () => {
    const otio = readDelivery([{ fileName: 'cut.otio', bytes: bytesOf(writeOtio(cut)) }]).list;
    const ways = followEvents(identitiesOf(cut), identitiesOf(otio));
    expect(keys(cut).map((k) => ways.get(k))).toEqual(keys(otio));
    const back = read(writeEdl(otio));
    expect(keys(back)).toEqual(keys(cut));
  });
  it('about a half of a split event go with it', () => {
    const key = keys(cut)[0] as string;
    const made = [{ kind: 'split', event: key, at: 10 } as const, grade(`${key}+10`)];
    const trimmed = read(edl(['A001', 'A001C001', '01:00:00:00', '01:00:01:23', '10:00:00:00', '10:00:01:23'], ...rows.slice(1)));
    const { standing } = followDecisions(
      made.map((decision) => ({ decision, events: identitiesOf(cut) })),
      identitiesOf(trimmed),
    );
    const now = keys(trimmed)[0] as string;
    expect(standing.map((s) => s.decision)).toEqual([{ kind: 'split', event: now, at: 10 }, grade(`${now}+10`)]);
    expect(
      applyDecisions(
        trimmed,
        standing.map((s) => s.decision),
      ).waiting,
    ).toEqual([]);
  });
  it('about reels or the cut stand whatever the cut is', () => {
    const rate: Decision = { kind: 'rate-mode', scope: { of: 'cut' }, mode: 'real-time' };
    expect(follow(rate, cut, read(edl())).standing).toEqual([{ at: 0, decision: rate }]);
  });
});

it('every format gives each event a key of its own', () => {
  for (const format of LIST_FORMATS) {
    const back = format.read(format.write(cut, `x.${format.extensions[0]}`), { rate: RATES['24'] });
    const made = keys(back);
    expect(new Set(made).size).toBe(4);
    expect(made.every((k) => /^k[0-9a-z]+(:\d+of\d+)?$/.test(k))).toBe(true);
  }
});
