import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { dissolve, event, list } from '../../test/make';
import { frameAt, runOf } from '../conform';
import { type EditList, FILLING, NATURAL, type Retime, type StandingEvent, type Transition } from '../edit';
import { NEUTRAL_CDL } from '../grade';
import { rulesSchema } from '../pairing';
import { type Frames, fraction, RATES } from '../time';
import {
  aboutEvent,
  applyDecisions,
  type Decision,
  type DecisionInput,
  decisionSchema,
  decisionsFile,
  decisionsOf,
  decisionText,
  eventOf,
  gradeDecisions,
  halfKey,
  isAboutOriginal,
  movedDecision,
  onEvent,
  readDecisionsFile,
  type Scope,
  tryDecisions,
} from '.';
import { KINDS } from './kinds';

const A = '/mnt/CARD/A001C001.mov';
const B = '/mnt/CARD/A001C002.mov';
const cdl = { ...NEUTRAL_CDL, saturation: 0.5 };
const half: Retime = { kind: 'constant', speed: fraction(1, 2) };

/** One of each kind. */
const ALL: DecisionInput[] = [
  { kind: 'accept-finding', event: 'k1', finding: 'reframed' },
  { kind: 'look-later', event: 'k1', finding: 'reframed' },
  { kind: 'bake', event: 'k1', bake: { original: A, sourceStartFrame: 0 } },
  { kind: 'carry', event: 'k1', from: 'other.xml', carried: { reel: 'A001' } },
  { kind: 'correct', original: A, reel: 'B7' },
  { kind: 'correct-folder', folder: '/mnt/CARD/DAY1', shift: '+10' },
  { kind: 'enable', event: 'k1', enabled: false },
  { kind: 'exempt', event: 'k1', exempt: true },
  { kind: 'fit', scope: { of: 'cut' }, fit: 'fill' },
  { kind: 'folder-move', from: '/a', to: '/b' },
  { kind: 'grade', scope: onEvent('k1'), cdl },
  { kind: 'join', original: A, parts: [B] },
  { kind: 'layer', event: 'k1', layer: 'V2' },
  { kind: 'layer-order', order: ['V2', 'V1'] },
  { kind: 'lut', scope: { of: 'reel', reel: 'A001' }, lut: '/mnt/CARD/look.cube', between: 'trilinear' },
  { kind: 'group', scope: onEvent('k1'), group: 'dusk' },
  { kind: 'made-elsewhere', folder: '/v/back', is: true },
  { kind: 'marker', event: 'k1', at: 3, text: 'look', colour: null },
  { kind: 'move', event: 'k1', frames: 4 },
  { kind: 'names', event: 'k1', reel: 'B004' },
  { kind: 'name-pattern', find: '*_proxy', becomes: '*' },
  { kind: 'note', scope: { of: 'cut' }, text: 'ask again' },
  { kind: 'pair', event: 'k1', original: A, sourceStartFrame: 3, rate: RATES['24'] },
  { kind: 'placement', event: 'k1', placement: { ...FILLING, scaleX: 2, scaleY: 2 } },
  { kind: 'preference', prefer: { raster: 'smallest', folders: [] } },
  { kind: 'proxy', original: A, of: B },
  { kind: 'rate-mode', scope: onEvent('k1'), mode: 'frame-for-frame' },
  { kind: 'reference-fit', part: { left: 0, top: 0.1, right: 1, bottom: 0.9 } },
  { kind: 'reel-pattern', scope: { of: 'cut' }, takes: { of: 'file-name', length: 8 } },
  { kind: 'refuse-cause', cause: '[1]', text: 'Reel A001: an hour off.' },
  { kind: 'rejoin', event: 'k1', with: 'k1+3' },
  { kind: 'replace', event: 'k1', source: { reel: 'B', clipName: 'B1', fileName: 'B1.mov', in: 5, rate: null } },
  { kind: 'roll', event: 'k1', frames: -2 },
  { kind: 'rules', rules: rulesSchema.parse({ name: 'exact', reel: 'loose', timecode: 'must', need: 'both' }) },
  { kind: 'shift', scope: { of: 'folder', folder: '/mnt/CARD' }, frames: 86_400 },
  { kind: 'slip', event: 'k1', original: A, sourceStartFrame: 7 },
  { kind: 'source-reading', scope: { of: 'reel', reel: 'A001' }, reading: { from: 'clip', carry: null } },
  { kind: 'speed', event: 'k1', retime: half, stays: 0 },
  { kind: 'split', event: 'k1', at: 3 },
  { kind: 'transition', event: 'k1', transition: dissolve(8) },
  { kind: 'trim', event: 'k1', edge: 'out', frames: -3 },
  { kind: 'unpair', event: 'k1' },
  { kind: 'viewing', scope: { of: 'reel', reel: 'A001' }, cdl: NEUTRAL_CDL, lut: '/mnt/CARD/view.cube' },
];

describe('a decision', () => {
  const all = ALL.map((d) => decisionSchema.parse(d));
  it('is of one of these kinds, each with words of its own', () => {
    expect(new Set(all.map((d) => d.kind))).toEqual(new Set(Object.keys(KINDS)));
    for (const d of all) expect(decisionText(d)).not.toBe('');
  });
  it('comes out of the log as it went in', () => {
    for (const d of all) expect(decisionSchema.parse(JSON.parse(JSON.stringify(d)))).toEqual(d);
  });
  it('is about an event of a cut or about something wider; words about originals hold for every cut', () => {
    for (const d of all) expect(eventOf(aboutEvent(d, (k) => `${k}!`))).toBe(eventOf(d) && `${eventOf(d)}!`);
    expect(all.filter(isAboutOriginal).map((d) => d.kind)).toEqual(['correct', 'correct-folder', 'join', 'made-elsewhere', 'proxy']);
  });
  it('with numbers or words that cannot be is refused', () => {
    const refused = (d: object) => expect(decisionSchema.safeParse(d).success).toBe(false);
    refused({ kind: 'correct', original: A, start: -1 });
    refused({ kind: 'correct', original: A, rate: 'fast' });
    refused({ kind: 'join', original: '', parts: [] });
    refused({ kind: 'grade', scope: onEvent('k1'), cdl: { ...NEUTRAL_CDL, slope: [-1, 1, 1] } });
    refused({ kind: 'name-pattern', find: '*_*', becomes: '*' });
    refused({ kind: 'speed', event: 'k1', retime: { kind: 'constant', speed: { num: 0, den: 1 } } });
    refused({ kind: 'reference-fit', part: { left: 0.9, top: 0, right: 0.1, bottom: 1 } });
  });
  it('follows a volume that moved, in every path it names', () => {
    const moves = [{ from: '/mnt/CARD', to: '/media/new' }];
    for (const d of all) {
      const moved = JSON.stringify(movedDecision(d, moves));
      // A shift for a folder speaks of where pairs lie, which move too; its folder is named by people.
      if (d.kind !== 'shift') expect(moved).not.toContain('/mnt/CARD');
      expect(moved.replaceAll('/media/new', '/mnt/CARD')).toBe(JSON.stringify(d));
      expect(movedDecision(d, [])).toBe(d);
    }
  });
  it('of what pictures are looked at through, kept before it had a scope, means the whole cut', () => {
    expect(decisionSchema.parse({ kind: 'viewing', lut: '/view.cube' })).toMatchObject({ scope: { of: 'cut' }, cdl: null });
    const { list: viewed } = applyDecisions(cut, [{ kind: 'viewing', lut: '/view.cube' } as Decision]);
    expect(viewed.tracks.flatMap((t) => t.events.map((e) => e.viewing))).toEqual(
      viewed.tracks.flatMap((t) => t.events.map(() => ({ cdl: null, lut: { file: '/view.cube', between: 'tetrahedral' } }))),
    );
  });
  it('made by an earlier version, with a decimal speed and one scale, is read as what it meant', () => {
    expect(
      decisionSchema.parse({
        kind: 'carry',
        event: 'k1',
        from: 'x',
        carried: {
          retime: { kind: 'constant', speed: 0.5 },
          placement: { scale: 1.2, x: 0, y: 0, rotation: 0, crop: FILLING.crop, opacity: 1 },
        },
      }),
    ).toMatchObject({ carried: { retime: half, placement: { scaleX: 1.2, scaleY: 1.2, keys: [] } } });
  });
});

/** Two layers; V1 has a dissolve at its last cut; every event is paired and its original has 400 frames. */
const cut = list(
  [
    event('a', 100, 40, 1000),
    event('b', 140, 40, 1100, { retime: half, source: { in: 1100, out: 1120 } }),
    event('c', 180, 40, 1200, { transitionIn: { ...dissolve(10), before: 5 } }),
  ],
  [event('d', 150, 20, 1300, { number: '900' })],
);
const pairs: Decision[] = ['a', 'b', 'c', 'd'].map((key, i) => ({
  kind: 'pair',
  event: key,
  original: `/v/${key}.mov`,
  sourceStartFrame: 100 + i,
}));
const apply = (decisions: readonly Decision[], list: EditList = cut) => applyDecisions(list, [...pairs, ...decisions], () => 400);
const eventsOf = (decisions: readonly Decision[]) => apply(decisions).list.tracks.flatMap((t) => t.events);
const find = (key: string, ...decisions: Decision[]) => eventsOf(decisions).find((e) => e.key === key) as StandingEvent;
/** The frame of its original at each record frame of an event. */
const pictures = (e: StandingEvent): Map<Frames, Frames> => {
  const run = runOf(e, RATES['24']);
  return new Map(
    Array.from({ length: e.record.out - e.record.in }, (_, n) => [e.record.in + n, (e.pair?.sourceStartFrame ?? 0) + frameAt(run, n)]),
  );
};
const refusals = (...decisions: Decision[]) => apply(decisions).refused.map((r) => [r.code, r.nearest]);

describe('decisions taken into a list', () => {
  it('leave the list as it is and say which of them each value comes from', () => {
    const before = structuredClone(cut);
    const made = apply([
      { kind: 'slip', event: 'a', original: '/v/a.mov', sourceStartFrame: 90 },
      { kind: 'enable', event: 'd', enabled: false },
    ]);
    expect(cut).toEqual(before);
    expect(made.provenance.get('a')).toEqual({ pair: 4 });
    expect(made.provenance.get('d')).toEqual({ pair: 3, enabled: 5 });
    expect(made.replaced[4]).toMatchObject([{ event: 'a', field: 'pair', before: { sourceStartFrame: 100 } }]);
  });
  it('about an event that is not in the list wait, and the others are taken', () => {
    const made = apply([
      { kind: 'exempt', event: 'gone', exempt: true },
      { kind: 'exempt', event: 'a', exempt: true },
    ]);
    expect(made.waiting).toEqual([4]);
    expect(made.list.tracks[0]?.events[0]?.exempt).toBe(true);
  });
  it('the nearer counts, whichever came later: event, source span, original, folder, reel, cut', () => {
    const rate = (scope: Extract<Decision, { kind: 'rate-mode' }>['scope'], mode: 'real-time' | 'frame-for-frame'): Decision => ({
      kind: 'rate-mode',
      scope,
      mode,
    });
    expect(find('a', rate(onEvent('a'), 'frame-for-frame'), rate({ of: 'reel', reel: 'A001' }, 'real-time')).rateMode).toBe(
      'frame-for-frame',
    );
    const through = (scope: Scope, lut: string | null): Decision => ({ kind: 'viewing', scope, cdl: null, lut });
    const seen = [through(onEvent('a'), '/near.cube'), through({ of: 'reel', reel: 'A001' }, '/reel.cube')];
    expect(find('a', ...seen)).toMatchObject({ viewing: { lut: { file: '/near.cube' } }, cdl: null, lut: null });
    expect(find('b', ...seen).viewing?.lut?.file).toBe('/reel.cube');
    expect(find('a', ...seen, through(onEvent('a'), null)).viewing).toBeNull();
    expect(find('b', rate(onEvent('a'), 'frame-for-frame'), rate({ of: 'reel', reel: 'A001' }, 'real-time')).rateMode).toBe('real-time');
    const grade = (scope: Extract<Decision, { kind: 'grade' }>['scope'], saturation: number): Decision => ({
      kind: 'grade',
      scope,
      cdl: { ...NEUTRAL_CDL, saturation },
    });
    expect(find('a', grade({ of: 'original', original: '/v/a.mov' }, 2), grade({ of: 'reel', reel: 'A001' }, 3)).cdl?.saturation).toBe(2);
    expect(find('c', grade({ of: 'folder', folder: '/v' }, 2)).cdl?.saturation).toBe(2);
    expect(find('c', grade({ of: 'source', reel: 'A001', name: 'A001C001', in: 1190, out: 1230 }, 2)).cdl?.saturation).toBe(2);
    expect(find('a', grade({ of: 'source', reel: 'A001', name: 'A001C001', in: 1190, out: 1230 }, 2)).cdl).toBeNull();
  });
});

describe('a slip', () => {
  const slip = (sourceStartFrame: Frames, original = '/v/a.mov'): Decision => ({ kind: 'slip', event: 'a', original, sourceStartFrame });
  it('is absolute: the last one counts, and undoing it restores the one before', () => {
    expect(find('a', slip(90), slip(95)).pair?.sourceStartFrame).toBe(95);
    expect(find('a', slip(90)).pair?.sourceStartFrame).toBe(90);
  });
  it('speaks of its original: a pair with another is not slipped by it', () => {
    const other: Decision = { kind: 'pair', event: 'a', original: '/v/z.mov', sourceStartFrame: 5 };
    expect(find('a', slip(90), other).pair).toMatchObject({ original: '/v/z.mov', sourceStartFrame: 5 });
    expect(refusals(other, slip(90))).toEqual([['other-source', null]]);
    expect(refusals({ kind: 'unpair', event: 'a' }, slip(90))).toEqual([['not-paired', null]]);
  });
  it('changes no record frame', () => {
    expect(find('a', slip(90)).record).toEqual(find('a').record);
  });
  it('beyond what the original has is refused, with the last that is possible', () => {
    expect(refusals(slip(399))).toEqual([['source-ends', { sourceStartFrame: 360 }]]);
    expect(refusals(slip(-5))).toEqual([['source-ends', { sourceStartFrame: 0 }]]);
  });
});

describe('a roll', () => {
  it('moves one cut and two events and keeps the total; every picture stays at its record frame', () => {
    fc.assert(
      fc.property(fc.constantFrom('b', 'c'), fc.integer({ min: -34, max: 29 }), (key, frames) => {
        const decision: Decision = { kind: 'roll', event: key, frames };
        const [before, after] = [eventsOf([]), eventsOf([decision])];
        const total = (events: StandingEvent[]) => events.reduce((sum, e) => sum + e.record.out - e.record.in, 0);
        expect(refusals(decision)).toEqual([]);
        expect(total(after)).toBe(total(before));
        const was = new Map(before.flatMap((e) => [...pictures(e)].map(([n, f]) => [`${e.key} ${n}`, f] as const)));
        for (const e of after) for (const [n, f] of pictures(e)) if (was.has(`${e.key} ${n}`)) expect(f).toBe(was.get(`${e.key} ${n}`));
      }),
    );
  });
  it('that would swallow an event is refused with the nearest that leaves room for it and its dissolve', () => {
    // Five frames of b lie under c's centred dissolve, and stay.
    expect(refusals({ kind: 'roll', event: 'b', frames: 55 })).toEqual([['too-short', { frames: 35 }]]);
    expect(refusals({ kind: 'roll', event: 'a', frames: 5 })).toEqual([['no-cut-there', null]]);
  });
  it('that asks for more than the original has is refused with what it has', () => {
    const early: Decision = { kind: 'slip', event: 'b', original: '/v/b.mov', sourceStartFrame: 3 };
    expect(refusals(early, { kind: 'roll', event: 'b', frames: -20 })).toEqual([['source-ends', { frames: -6 }]]);
  });
});

describe('a trim', () => {
  it('changes no remaining picture, whatever the speed', () => {
    const speeds = fc.integer({ min: -300, max: 300 }).filter((n) => n !== 0);
    fc.assert(
      fc.property(speeds, fc.constantFrom('in' as const, 'out' as const), fc.integer({ min: -19, max: 19 }), (percent, edge, frames) => {
        const speed: Decision = { kind: 'speed', event: 'd', retime: { kind: 'constant', speed: fraction(percent, 100) }, stays: 0 };
        const trim: Decision = { kind: 'trim', event: 'd', edge, frames };
        const [before, after] = [pictures(find('d', speed)), pictures(find('d', speed, trim))];
        for (const [n, f] of after) if (before.has(n)) expect(f).toBe(before.get(n));
      }),
    );
  });
  it('into a neighbour, before zero, or away is refused with the nearest', () => {
    expect(refusals({ kind: 'trim', event: 'a', edge: 'out', frames: 9 })).toEqual([['overlap', null]]);
    expect(refusals({ kind: 'trim', event: 'a', edge: 'in', frames: -150 })).toEqual([['before-zero', { frames: -100 }]]);
    expect(refusals({ kind: 'trim', event: 'd', edge: 'in', frames: 30 })).toEqual([['too-short', { frames: 19 }]]);
  });
  it('away from the event before leaves a transition that comes out of black', () => {
    expect(find('c', { kind: 'trim', event: 'b', edge: 'out', frames: -3 }).transitionIn?.from).toBe('black');
  });
  it('moves keyed placements with their pictures', () => {
    const keys = [0, 10].map((record) => ({ ...FILLING, record, x: record / 10 }));
    const placed: Decision = { kind: 'placement', event: 'd', placement: { ...FILLING, keys } };
    expect(find('d', placed, { kind: 'trim', event: 'd', edge: 'in', frames: 4 }).placement?.keys.map((k) => k.record)).toEqual([-4, 6]);
  });
});

describe('a move', () => {
  it('takes its source along, and stops at its neighbours', () => {
    const moved = find('d', { kind: 'move', event: 'd', frames: 7 });
    expect(moved.record).toEqual({ in: 157, out: 177 });
    expect([...pictures(moved).values()]).toEqual([...pictures(find('d')).values()]);
    expect(refusals({ kind: 'move', event: 'a', frames: 10 })).toEqual([['overlap', null]]);
    expect(refusals({ kind: 'move', event: 'd', frames: -200 })).toEqual([['before-zero', { frames: -150 }]]);
  });
});

describe('a transition', () => {
  const join = (duration: Frames, before: Frames, more: Partial<Transition> = {}): Decision => ({
    kind: 'transition',
    event: 'b',
    transition: { ...dissolve(duration), before, ...more },
  });
  it('is added centred on the cut, beginning or ending at it, or at any offset; a wipe has its direction', () => {
    for (const before of [0, 4, 8, -3]) expect(find('b', join(8, before)).transitionIn).toMatchObject({ duration: 8, before });
    const wipe = { type: 'wipe', wipeCode: '001', look: { reverse: true, softness: 0.1, border: null } } as const;
    expect(find('b', join(8, 0, wipe)).transitionIn).toMatchObject(wipe);
    expect(find('c', { kind: 'transition', event: 'c', transition: null }).transitionIn).toBeNull();
  });
  it('longer than its sides is refused with the longest that is possible', () => {
    const [[code, nearest] = []] = refusals(join(90, 45));
    expect(code).toBe('transition-too-long');
    expect(nearest).toMatchObject({ transition: { duration: 71, before: 36 } });
    expect(refusals({ kind: 'transition', event: 'a', transition: dissolve(8) })).toEqual([['nothing-to-leave', null]]);
  });
});

describe('a speed', () => {
  it('keeps the picture at the frame that stays put', () => {
    const retimes = fc.oneof(
      fc.constant<Retime>(NATURAL),
      fc.constant<Retime>({ kind: 'freeze' }),
      fc
        .integer({ min: -20, max: 20 })
        .filter((n) => n !== 0)
        .map((n): Retime => ({ kind: 'constant', speed: fraction(n, 10) })),
    );
    fc.assert(
      fc.property(retimes, retimes, fc.integer({ min: 0, max: 39 }), (first, second, stays) => {
        const one: Decision = { kind: 'speed', event: 'b', retime: first, stays: 0 };
        const two: Decision = { kind: 'speed', event: 'b', retime: second, stays };
        if (refusals(one, two).length > 0) return;
        const at = find('b').record.in + stays;
        expect(pictures(find('b', one, two)).get(at)).toBe(pictures(find('b', one)).get(at));
      }),
    );
  });
  it('undone, restores the exact value, over all speeds and transitions', () => {
    const made = fc.array(
      fc.oneof(
        fc
          .integer({ min: -30, max: 30 })
          .filter((n) => n !== 0)
          .map((n): Decision => ({ kind: 'speed', event: 'b', retime: { kind: 'constant', speed: fraction(n, 10) }, stays: 0 })),
        fc.integer({ min: -30, max: 30 }).map((frames): Decision => ({ kind: 'roll', event: 'c', frames })),
        fc.integer({ min: -30, max: 30 }).map((frames): Decision => ({ kind: 'trim', event: 'd', edge: 'in', frames })),
        fc.integer({ min: 1, max: 30 }).map((n): Decision => ({ kind: 'transition', event: 'b', transition: dissolve(n) })),
        fc.integer({ min: 0, max: 390 }).map((n): Decision => ({ kind: 'slip', event: 'b', original: '/v/b.mov', sourceStartFrame: n })),
        fc.integer({ min: 1, max: 30 }).map((at): Decision => ({ kind: 'split', event: 'a', at })),
      ),
      { minLength: 1, maxLength: 8 },
    );
    fc.assert(
      fc.property(made, fc.nat(), (decisions, n) => {
        const undone = n % decisions.length;
        const all = structuredClone(apply(decisions).list);
        // Undone and done again it is as it was: nothing of it stays behind in between.
        const without = structuredClone(apply(decisions.filter((_, i) => i !== undone)).list);
        expect(apply(decisions).list).toEqual(all);
        expect(apply(decisions.filter((_, i) => i !== undone)).list).toEqual(without);
        // What the last one is said to have taken the place of is what stood before it.
        const before = new Map(
          apply(decisions.slice(0, -1))
            .list.tracks.flatMap((t) => t.events)
            .map((e) => [e.key, e]),
        );
        for (const { event, field, before: value } of apply(decisions).replaced.at(-1) ?? [])
          if (before.has(event) && value !== undefined) expect(before.get(event)?.[field as keyof StandingEvent]).toEqual(value);
        // Whatever was taken, no two events of a layer overlap and none is empty.
        for (const track of apply(decisions).list.tracks)
          track.events.forEach((e, i) => {
            expect(e.record.out).toBeGreaterThan(e.record.in);
            if (i > 0) expect(e.record.in).toBeGreaterThanOrEqual((track.events[i - 1] as StandingEvent).record.out);
          });
      }),
    );
  });
});

describe('split and rejoin', () => {
  it('a split changes no picture, and joined again it is the same cut', () => {
    fc.assert(
      fc.property(fc.constantFrom('a', 'b', 'c', 'd'), fc.integer({ min: 5, max: 19 }), (key, at) => {
        const split: Decision = { kind: 'split', event: key, at };
        const second = halfKey(key, at);
        const both = new Map([...pictures(find(key, split)), ...pictures(find(second, split))]);
        expect(both).toEqual(pictures(find(key)));
        expect(apply([split, { kind: 'rejoin', event: key, with: second }]).list).toEqual(apply([]).list);
      }),
    );
  });
  it('what was slipped after the split is not joined without a word', () => {
    const split: Decision = { kind: 'split', event: 'a', at: 10 };
    const slip: Decision = { kind: 'slip', event: halfKey('a', 10), original: '/v/a.mov', sourceStartFrame: 120 };
    expect(refusals(split, slip, { kind: 'rejoin', event: 'a', with: halfKey('a', 10) })).toEqual([['not-continuous', null]]);
    expect(refusals({ kind: 'split', event: 'a', at: 40 })).toEqual([['outside-event', { at: 39 }]]);
  });
});

describe('other kinds', () => {
  it('a layer is changed where there is room, or a new one is made on top', () => {
    expect(apply([{ kind: 'layer', event: 'a', layer: 'V2' }]).list.tracks.map((t) => t.events.length)).toEqual([2, 2]);
    expect(refusals({ kind: 'layer', event: 'd', layer: 'V1' })).toEqual([['overlap', { layer: 'V3' }]]);
    expect(apply([{ kind: 'layer', event: 'd', layer: 'V3' }]).list.tracks.map((t) => [t.name, t.events.length])).toEqual([
      ['V1', 3],
      ['V2', 0],
      ['V3', 1],
    ]);
  });
  it('another source takes the place of one, and the pair with the former goes', () => {
    const replaced = find('b', {
      kind: 'replace',
      event: 'b',
      source: { reel: 'Z9', clipName: 'Z9C1', fileName: 'Z9C1.mov', in: 500, rate: null },
    });
    expect(replaced).toMatchObject({ reel: 'Z9', source: { in: 500, out: 520 }, pair: null, retime: half, record: { in: 140, out: 180 } });
  });
  it('what holds for the whole cut stands beside it', () => {
    const {
      list: made,
      rules,
      preference,
    } = apply([
      { kind: 'fit', scope: { of: 'cut' }, fit: 'fill' },
      { kind: 'rate-mode', scope: { of: 'cut' }, mode: 'real-time' },
      { kind: 'rules', rules: rulesSchema.parse({ name: 'exact', reel: 'loose', timecode: 'must', need: 'both' }) },
      { kind: 'preference', prefer: { raster: 'smallest', folders: [] } },
    ]);
    expect([made.fit, made.rateMode, rules?.lines, preference?.raster]).toEqual([
      'fill',
      'real-time',
      [expect.objectContaining({ name: 'exact', reel: 'loose', timecode: 'overlaps' })],
      'smallest',
    ]);
  });
  it('notes, markers and accepted findings go with their event', () => {
    const noted = find(
      'a',
      { kind: 'note', scope: onEvent('a'), text: 'soft' },
      { kind: 'marker', event: 'a', at: 3, text: 'dust', colour: null },
    );
    expect(noted).toMatchObject({ remarks: ['soft'], markers: [{ record: 103, text: 'dust' }] });
    expect(find('a', { kind: 'accept-finding', event: 'a', finding: 'reframed' }).acceptedFindings).toEqual(['reframed']);
    expect(find('a', { kind: 'look-later', event: 'a', finding: 'slipped' })).toMatchObject({
      acceptedFindings: [],
      laterFindings: ['slipped'],
    });
  });
  it('a group holds the events that were put in it last, and the nearer word counts', () => {
    const put = (event: string, group: string | null): Decision => ({ kind: 'group', scope: onEvent(event), group });
    expect(find('a', put('a', 'dusk'), put('a', 'noon')).group).toBe('noon');
    expect(find('a', put('a', 'dusk'), { kind: 'group', scope: { of: 'cut' }, group: 'all' }).group).toBe('dusk');
    expect(find('a', put('a', 'dusk'), put('a', null)).group).toBeNull();
  });
  it('grades from a file go to the events they name by number, clip or file', () => {
    const two = list([event('V1/1', 0, 10, 0), event('V1/2', 10, 10, 0, { clipName: 'B002', fileName: 'B002.mxf' })]);
    expect(gradeDecisions(two, [{ id: '002', cdl }])).toEqual([{ kind: 'grade', scope: onEvent('V1/2'), cdl }]);
    expect(gradeDecisions(two, [{ id: 'B002.mov', cdl }])).toMatchObject([{ scope: { event: 'V1/2' } }]);
    expect(gradeDecisions(two, [{ id: 'nothing', cdl }])).toEqual([]);
  });
});

describe('a file of decisions', () => {
  it('holds them in order, with who the events were, and reads back the same', () => {
    const file = decisionsFile(
      cut,
      'CUT',
      pairs.map((decision) => ({ decision, who: 'editor', when: 5, why: 'by eye' })),
    );
    const read = readDecisionsFile(JSON.stringify(file));
    expect('file' in read && read.file).toEqual(file);
    expect('file' in read && decisionsOf(read.file)).toEqual(pairs);
    expect(file.events.map((e) => e.key)).toEqual(['a', 'b', 'c', 'd']);
  });
  it('may be a bare array of decisions', () => {
    const read = readDecisionsFile(JSON.stringify(pairs));
    expect('file' in read && decisionsOf(read.file)).toEqual(pairs);
  });
  it('that is none says where it fails', () => {
    expect(readDecisionsFile('{')).toMatchObject({ problem: expect.stringContaining('not whole JSON') });
    expect(readDecisionsFile('[{"kind":"pair","event":"a"}]')).toMatchObject({ problem: expect.stringContaining('decisions.0') });
  });
});

describe('the order of layers', () => {
  const two = list([event('a/1', 0, 20, 1000)], [event('b/1', 0, 20, 1040)]);
  it('is turned round, and what was decided of events holds on their layer', () => {
    const { list: then, refused } = applyDecisions(two, [
      { kind: 'layer-order', order: ['V2', 'V1'] },
      { kind: 'move', event: 'a/1', frames: 5 },
    ]);
    expect(refused).toEqual([]);
    expect(then.tracks.map((t) => [t.name, t.events[0]?.key, t.events[0]?.record.in])).toEqual([
      ['V2', 'b/1', 0],
      ['V1', 'a/1', 5],
    ]);
  });
  it('is refused of layers that the cut has not', () => {
    expect(applyDecisions(two, [{ kind: 'layer-order', order: ['V9', 'V1'] }]).refused).toMatchObject([{ code: 'no-such-layer' }]);
  });
});

describe('what is tried', () => {
  it('is what the cut becomes when it is decided, on top of what was decided before', () => {
    const delivered = list([event('a/1', 0, 20, 1000), event('a/2', 20, 20, 1040)]);
    const before: Decision[] = [{ kind: 'roll', event: 'a/2', frames: 3 }];
    const more: Decision[] = [
      { kind: 'trim', event: 'a/1', edge: 'in', frames: 2 },
      { kind: 'fit', scope: { of: 'cut' }, fit: 'fill' },
    ];
    const stands = applyDecisions(delivered, before).list;
    expect(tryDecisions(stands, more, () => undefined).list).toEqual(applyDecisions(delivered, [...before, ...more]).list);
    expect(stands).toEqual(applyDecisions(delivered, before).list);
  });
});
