import { describe, expect, it } from 'vitest';
import { dissolve, event, list } from '../../test/make';
import { compile, shotOf, sourceFrameAt } from '../conform';
import { applyDecisions, type Decision, eventOf } from '../decisions';
import { type EditList, FILLING } from '../edit';
import { readEdl, readXmeml, writeEdl, writeXmeml } from '../lists';
import { fraction, RATES } from '../time';
import { carryDecisions, layBeside } from '.';

const standing = (cut: EditList, decisions: readonly Decision[]) => applyDecisions(cut, decisions).list;

/** The same cut twice: one list kept sizes, the other speeds, grades and a dissolve; one starts at 0, one at an hour. */
const HOUR = 86_400;
const large = { ...FILLING, scaleX: 1.25, scaleY: 1.25, x: 0.06 };
const sized = list([
  event('V1/1', 0, 20, 1000, { placement: large, fileName: '' }),
  event('V1/2', 20, 20, 1100),
  event('V1/3', 40, 20, 1200),
  event('V1/4', 60, 10, 1300),
]);
const timed = list([
  event('V1/1', HOUR, 20, 1000),
  event('V1/2', HOUR + 20, 20, 1100, { retime: { kind: 'constant', speed: fraction(2) }, source: { in: 1100, out: 1140 } }),
  event('V1/3', HOUR + 40, 20, 1200, { transitionIn: dissolve(8) }),
]);

describe('two lists of the same cut', () => {
  const beside = layBeside(sized, timed);
  it('are laid on each other by place on the record, whatever their start timecode', () => {
    expect(beside.shift).toBe(-HOUR);
    expect(beside.rows.map((r) => [r.here?.key ?? null, r.there?.key ?? null])).toEqual([
      ['V1/1', 'V1/1'],
      ['V1/2', 'V1/2'],
      ['V1/3', 'V1/3'],
      ['V1/4', null],
    ]);
  });
  it('say of each event what the one has and the other lacks', () => {
    expect(beside.rows.map((r) => r.differences.map((d) => [d.aspect, d.lacks]))).toEqual([
      [
        ['names', null],
        ['placement', 'there'],
      ],
      [
        ['source', null],
        ['speed', 'here'],
      ],
      [['transition', 'here']],
      [],
    ]);
    expect(beside.rows[1]?.differences.find((d) => d.aspect === 'speed')?.there).toBe('200 %');
  });
  it('agree on a dissolve that the one begins with its event and the other centres on the cut', () => {
    const edl = list([event('V1/1', 0, 20, 100), event('V1/2', 20, 30, 200, { transitionIn: dissolve(12) })]);
    const centred = list([event('V1/1', 0, 26, 100), event('V1/2', 26, 24, 206, { transitionIn: { ...dissolve(12), before: 6 } })]);
    expect(layBeside(edl, centred).rows.flatMap((r) => r.differences)).toEqual([]);
  });
  it('written in two formats differ only in what a format lacks', () => {
    const whole = list([event('V1/1', HOUR, 20, 1000, { placement: large }), event('V1/2', HOUR + 20, 20, 1100)]);
    const found = layBeside(readEdl(writeEdl(whole), { rate: RATES['24'] }), readXmeml(writeXmeml(whole)));
    expect(found.rows.flatMap((r) => r.differences.map((d) => [r.here?.key, d.aspect, d.lacks]))).toEqual([['V1/1', 'placement', 'here']]);
  });
  it('of 20 000 events are laid beside each other without comparing each with each', () => {
    const long = list(Array.from({ length: 20_000 }, (_, i) => event(`V1/${i + 1}`, i * 10, 10, i)));
    expect(layBeside(long, long).rows.every((r) => r.differences.length === 0 && r.here?.key === r.there?.key)).toBe(true);
  });
});

describe('carrying over', () => {
  const beside = layBeside(sized, timed);
  const carry = (...aspects: Parameters<typeof carryDecisions>[2]) => carryDecisions(beside, 'timed.xml', aspects, null, true);
  it('fills in what a list lacks, and leaves the imported list as it is', () => {
    const decisions = carry('speed', 'transition', 'names');
    const cut = standing(sized, decisions);
    expect(cut.tracks[0]?.events[1]).toMatchObject({
      retime: { speed: { num: 2, den: 1 } },
      source: { in: 1100, out: 1140 },
      record: { in: 20, out: 40 },
    });
    expect(cut.tracks[0]?.events[2]?.transitionIn).toEqual(dissolve(8));
    expect(cut.tracks[0]?.events[0]?.fileName).toBe('');
    expect(sized.tracks[0]?.events[1]?.retime.kind).toBe('natural');
  });
  it('takes the other word in place of its own only when asked to', () => {
    const decisions = carryDecisions(beside, 'timed.xml', ['names', 'placement'], null, false);
    expect(standing(sized, decisions).tracks[0]?.events[0]).toMatchObject({ fileName: 'A001C001.mov', placement: large });
  });
  it('is for the events named', () => {
    expect(carryDecisions(beside, 'timed.xml', ['speed', 'transition'], new Set(['V1/3']), true).map(eventOf)).toEqual(['V1/3']);
  });
  it('is undone by leaving its decisions out, and shows in the conform while it stands', () => {
    const decisions = carry('speed');
    const frame = (taken: typeof decisions) => {
      const shot = shotOf(compile(standing(sized, taken), []), 'V1/2');
      return shot && sourceFrameAt(shot, 25);
    };
    expect([frame(decisions), frame([])]).toEqual([10, 5]);
  });
  it('a dissolve that begins ahead of the cut keeps its place on the record', () => {
    const centred = list([event('V1/1', 0, 20, 1000), event('V1/2', 20, 20, 1100, { transitionIn: { ...dissolve(12), before: 6 } })]);
    const plain = list([event('V1/1', 0, 20, 1000), event('V1/2', 20, 20, 1100)]);
    const decisions = carryDecisions(layBeside(plain, centred), 'other', ['transition'], null, true);
    expect(standing(plain, decisions).tracks[0]?.events[1]?.transitionIn).toEqual({ ...dissolve(12), before: 6 });
  });
});
