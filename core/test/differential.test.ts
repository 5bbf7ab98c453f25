import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import {
  decimalOf,
  type EditList,
  formatOfName,
  frameAt,
  framesUnder,
  type ListEvent,
  type ListFormat,
  lengthOf,
  RATES,
  type Rate,
  recordSpan,
  runOf,
  sameSpeed,
  speedOf,
  startOf,
  ZERO,
} from '../src';
import { ASPECTS } from '../src/lists/aspects';
import { anyCut, CUTS } from './cuts';

/**
 * The Python reference library of the open timeline format (PyPI opentimelineio, with its edit-list and xmeml adapters) and
 * we, in both directions, over cuts that use everything. Times are compared in seconds: what we lay to a frame lies within
 * half a frame of where the library says, and sources begin at the same instant. docs/formats.md names where the two differ.
 */
const here = path.dirname(fileURLToPath(import.meta.url));
const python = path.join(here, '..', '..', '.venv', 'bin', 'python');
let folder: string;
beforeAll(() => {
  folder = mkdtempSync(path.join(tmpdir(), 'gemello-'));
});
afterAll(() => rmSync(folder, { recursive: true }));

interface Clip {
  name: string;
  in: number;
  out: number;
  source: number;
  speed: number;
  enabled: boolean;
  markers: number[];
}
interface Described {
  start: number | null;
  tracks: { kind: string; clips: Clip[]; transitions: { at: number; before: number; after: number }[] }[];
}
const run = (script: string, ...args: string[]): string =>
  execFileSync(python, [path.join(here, script), ...args], { encoding: 'utf8', maxBuffer: 1 << 29, stdio: ['ignore', 'pipe', 'pipe'] });
const describedBy = (files: readonly string[]): Described[] => JSON.parse(run('otio_timelines.py', '--describe', ...files));
const format = (name: string) => formatOfName(name) as ListFormat;
const put = (name: string, bytes: Uint8Array | string) => {
  const file = path.join(folder, name);
  writeFileSync(file, bytes);
  return file;
};

/** Seconds that a frame of the record may lie off for being a whole one. */
const HALF_A_FRAME = 0.5 + 1e-6;
const CLOSE = 1e-6;
const perSecond = (r: Rate) => r.num / r.den;

interface What {
  readonly transitions: boolean;
  readonly markers: boolean;
  readonly speeds: boolean;
}
const ALL: What = { transitions: true, markers: true, speeds: true };

/** Everything the library and we say otherwise of one cut. */
function disagreements(list: EditList, theirs: Described, what: What = ALL): string[] {
  const found: string[] = [];
  const from = startOf(list);
  const off = (name: string, ours: number, seconds: number) => {
    if (Math.abs(ours - from - seconds * perSecond(list.rate)) > HALF_A_FRAME)
      found.push(`${name}: ${ours - from} is not ${seconds * perSecond(list.rate)}`);
  };
  const kinds = { picture: 'Video', sound: 'Audio' };
  const tracks = theirs.tracks.filter((t) => t.clips.length > 0);
  for (const kind of ['picture', 'sound'] as const) {
    const [mine, others] = [
      list.tracks.filter((t) => t.kind === kind && t.events.length > 0),
      tracks.filter((t) => t.kind === kinds[kind]),
    ];
    if (mine.length !== others.length) found.push(`${mine.length} ${kind} tracks, and not ${others.length}`);
    mine.forEach((track, t) => {
      const { events } = track;
      const clips = others[t]?.clips ?? [];
      if (events.length !== clips.length) found.push(`${track.name}: ${events.length} events, and not ${clips.length}`);
      events.forEach((event, i) => {
        const clip = clips[i];
        if (!clip) return;
        if (event.clipName !== clip.name) found.push(`${event.key} is called "${event.clipName}" and not "${clip.name}"`);
        off(`${event.key} in`, event.record.in, clip.in);
        off(`${event.key} out`, event.record.out, clip.out);
        const at = (event.source.in + decimalOf(event.phase)) / perSecond(event.sourceRate);
        if (event.kind === 'clip' && Math.abs(at - clip.source) > CLOSE * Math.max(1, clip.source))
          found.push(`${event.key} source: ${at} s is not ${clip.source} s`);
        if (
          what.speeds &&
          event.retime.kind !== 'keyed' &&
          Math.abs(speedOf(event.retime) - clip.speed) > CLOSE * Math.max(1, Math.abs(clip.speed))
        )
          found.push(`${event.key} speed: ${speedOf(event.retime)} is not ${clip.speed}`);
        if (event.enabled !== clip.enabled) found.push(`${event.key} enabled: ${event.enabled}`);
        if (!what.markers) return;
        if (event.markers.length !== clip.markers.length)
          found.push(`${event.key}: ${event.markers.length} markers, and not ${clip.markers.length}`);
        event.markers.forEach((m, n) => {
          off(`${event.key} marker`, m.record, clip.markers[n] ?? Number.NaN);
        });
      });
      if (!what.transitions) return;
      const joins = track.events.filter((e) => e.transitionIn);
      const transitions = others[t]?.transitions ?? [];
      if (joins.length !== transitions.length) found.push(`${track.name}: ${joins.length} transitions, and not ${transitions.length}`);
      joins.forEach((e, i) => {
        const [join, their] = [e.transitionIn, transitions[i]];
        if (!join || !their) return;
        off(`${e.key} transition in`, e.record.in - join.before, their.at - their.before);
        off(`${e.key} transition out`, e.record.in - join.before + join.duration, their.at + their.after);
      });
    });
  }
  return found;
}

const cutsOf = (seed: number, filter: (cut: EditList) => EditList = (c) => c) => fc.sample(anyCut, { numRuns: CUTS, seed }).map(filter);
/** Names and kinds as the other side keeps them, and no overlap: what stands on one of its tracks follows one another. */
const plain = (cut: EditList): EditList => ({
  ...cut,
  title: cut.title.replace(/[^ -~]/g, '') || 'CUT',
  notes: [],
  tracks: cut.tracks.map((t) => ({
    ...t,
    events: t.events
      .filter((e, i, all) => i === 0 || e.record.in >= Math.max(...all.slice(0, i).map((o) => o.record.out)))
      .map((e, i, all) => {
        const clipName = e.clipName.replace(/[^!-~]/g, '_') || 'NONE';
        const touches = i > 0 && all[i - 1]?.record.out === e.record.in;
        const kept = e.transitionIn && (touches || e.transitionIn.from === 'black') ? e.transitionIn : null;
        // The library has no transition that runs on after the event it leads to, nor two that run into each other.
        return {
          ...e,
          clipName,
          transitionIn:
            kept &&
            kept.duration <= (e.record.out - e.record.in) / 2 &&
            kept.before <= (all[i - 1] ? ((all[i - 1]?.record.out ?? 0) - (all[i - 1]?.record.in ?? 0)) / 2 : 0)
              ? kept
              : null,
        };
      }),
  })),
});

describe('timelines that the library makes', () => {
  it('mean the same to us, at every rate, with gaps, speeds, transitions, markers and what is switched off', () => {
    const theirs: Described[] = JSON.parse(run('otio_timelines.py', folder, String(CUTS), '7'));
    theirs.forEach((described, n) => {
      const list = format('a.otio').read(readFileSync(path.join(folder, `timeline-${n}.otio`)));
      expect({ n, found: disagreements(list, described) }).toEqual({ n, found: [] });
    });
  });
});

/** The transition into an event, where both sides of it run at natural speed and at the rate of the cut. */
const joinable = (came: ListEvent | undefined, before: ListEvent | undefined, event: ListEvent, rate: Rate): ListEvent['transitionIn'] =>
  came?.transitionIn &&
  came.transitionIn.type !== 'key' &&
  sameSpeed(event.sourceRate, rate) &&
  [before, event].every((e) => !e || e.retime.kind === 'natural')
    ? came.transitionIn
    : null;

describe('our cuts', () => {
  it('mean the same to the library as OpenTimelineIO', () => {
    const cuts = cutsOf(21, plain);
    const theirs = describedBy(cuts.map((c, n) => put(`ours-${n}.otio`, format('a.otio').write(c))));
    cuts.forEach((cut, n) => {
      expect({ n, found: disagreements(format('a.otio').asLaid(cut), theirs[n] as Described) }).toEqual({ n, found: [] });
    });
  });
  it('come back whole when the library writes them again as OpenTimelineIO', () => {
    const cuts = cutsOf(22, plain);
    const args = cuts.flatMap((c, n) => [
      put(`again-${n}.otio`, format('a.otio').write(c)),
      '--rewrite',
      path.join(folder, `written-${n}.otio`),
    ]);
    run('otio_reference.py', '24', ...args);
    cuts.forEach((cut, n) => {
      const before = format('a.otio').read(readFileSync(path.join(folder, `again-${n}.otio`)));
      const after = format('a.otio').read(readFileSync(path.join(folder, `written-${n}.otio`)));
      const differs = before.tracks.flatMap((t, i) =>
        t.events.flatMap((e, j) =>
          ASPECTS.filter((a) => a.differs(e, after.tracks[i]?.events[j] ?? null)).map((a) => `${e.key} ${a.code}`),
        ),
      );
      expect({ n, rate: after.rate, differs }).toEqual({ n, rate: cut.rate, differs: [] });
    });
  });
  it('mean the same to the library as AAF, by its adapter (PyPI otio-aaf-adapter), speeds, freezes and reverses too', () => {
    const readable = (cut: EditList): EditList => ({
      ...cut,
      tracks: cut.tracks.map((t) => ({
        ...t,
        events: t.events
          .filter((e) => e.kind === 'clip')
          .map((e, i) => {
            // It states where the input of a speed begins: that is the event's first frame where nothing else is seen of it, and it names no keyed speed.
            const retime = i % 2 === 0 || e.retime.kind === 'keyed' ? { kind: 'natural' as const } : e.retime;
            return {
              ...e,
              enabled: true,
              markers: [],
              retime,
              phase: retime.kind === 'natural' ? e.phase : ZERO,
              source: { in: e.source.in, out: e.source.in + framesUnder({ ...e, retime }, cut.rate, lengthOf(e.record)) },
              // Where rates differ the two round what a transition takes from the head each in their way.
              transitionIn: null,
            };
          })
          .map((e, i, all) => ({
            ...e,
            transitionIn: joinable(
              t.events.find((o) => o.key === e.key),
              all[i - 1],
              e,
              cut.rate,
            ),
          })),
      })),
    });
    const cuts = cutsOf(25, (cut) => plain(readable(cut)));
    const theirs = describedBy(cuts.map((c, n) => put(`ours-${n}.aaf`, format('a.aaf').write(c))));
    cuts.forEach((cut, n) => {
      expect({ n, found: disagreements(format('a.aaf').asLaid(cut), theirs[n] as Described) }).toEqual({ n, found: [] });
    });
  });
  it('show at every frame what our time map shows, by the maps of their speeds as the reference implementation of AAF reads them', () => {
    // What transitions add to a speed's input has no place in this comparison, nor has a source at another rate, whose frames its map does not count.
    const retimed = (cut: EditList): EditList => ({
      ...cut,
      tracks: cut.tracks.map((t) => ({
        ...t,
        events: t.events
          .filter((e) => e.kind === 'clip' && sameSpeed(e.sourceRate, cut.rate))
          .map((e) => ({ ...e, enabled: true, markers: [], placement: null, transitionIn: null, rateMode: 'usual' as const })),
      })),
    });
    const cuts = cutsOf(26, (cut) => plain(retimed(cut)));
    const files = cuts.map((c, n) => put(`run-${n}.aaf`, format('a.aaf').write(c)));
    const theirs: { at: number; offsets: number[] }[][] = JSON.parse(run('aaf_offsets.py', ...files));
    let speeds = 0;
    cuts.forEach((cut, n) => {
      const laid = format('a.aaf').asLaid(cut);
      for (const event of laid.tracks.filter((t) => t.kind === 'picture').flatMap((t) => t.events)) {
        if (event.retime.kind === 'natural') continue;
        speeds++;
        const map = runOf(event, laid.rate);
        const shown = Array.from({ length: lengthOf(event.record) }, (_, i) => frameAt(map, i) - frameAt(map, 0));
        const read = (theirs[n] ?? [])
          .filter((w) => w.at === event.record.in - startOf(laid) && w.offsets.length === shown.length)
          .map(({ offsets }) => offsets.map((o) => Math.floor(o + 1e-7) - Math.floor((offsets[0] ?? 0) + 1e-7)));
        expect({ n, key: event.key, retime: event.retime, read }).toEqual({
          n,
          key: event.key,
          retime: event.retime,
          read: expect.arrayContaining([shown]),
        });
      }
    });
    expect(speeds).toBeGreaterThan(CUTS);
  });
  it('mean the same to the library as xmeml, transitions included, but for speeds and what is switched off', () => {
    // A fade to black is its transition alone there.
    const withoutBlack = (cut: EditList): EditList => ({
      ...cut,
      tracks: cut.tracks.map((t) => ({ ...t, events: t.events.filter((e) => e.kind !== 'black') })),
    });
    const cuts = cutsOf(23, (cut) => plain(withoutBlack(cut)));
    const theirs = describedBy(cuts.map((c, n) => put(`ours-${n}.xml`, format('a.xml').write(c))));
    cuts.forEach((cut, n) => {
      const laid = format('a.xml').asLaid(cut);
      // It reads no time remaps, and takes `in` under one for a frame of the file.
      const natural = laid.tracks.every((t) => t.events.every((e) => e.retime.kind === 'natural' || e.kind !== 'clip'));
      const found = disagreements(laid, theirs[n] as Described, { transitions: true, markers: false, speeds: false });
      // Nor does it read what is switched off.
      expect({ n, found: found.filter((f) => !/ enabled:/.test(f) && (natural || !/ source:/.test(f))) }).toEqual({ n, found: [] });
    });
  });
  it('mean the same to the library as an edit list: one layer of cuts at its rate, with speeds above zero', () => {
    const oneLayer = (cut: EditList): EditList => {
      const made = plain(cut);
      const events = (made.tracks[0]?.events ?? []).filter((e) => e.kind === 'clip');
      return {
        ...made,
        rate: RATES['24'],
        tracks: [
          {
            name: 'V1',
            kind: 'picture',
            events: events.map((e) => ({
              ...e,
              sourceRate: RATES['24'],
              // Its labels end with the day.
              source: { in: e.source.in % 1_000_000, out: (e.source.in % 1_000_000) + (e.record.out - e.record.in) },
              record: { in: e.record.in % 1_000_000, out: (e.record.in % 1_000_000) + e.record.out - e.record.in },
              retime: { kind: 'natural' as const },
              transitionIn: null,
              reel: 'A001',
              // Two events in a row of one number are a transition to it.
              number: '',
              enabled: true,
              notes: [],
              markers: [],
            })),
          },
        ],
      };
    };
    const cuts = cutsOf(24, oneLayer).filter((c) => (c.tracks[0]?.events.length ?? 0) > 0);
    const read = JSON.parse(run('otio_reference.py', '24', ...cuts.map((c, n) => put(`ours-${n}.edl`, format('a.edl').write(c)))));
    cuts.forEach((cut, n) => {
      const from = recordSpan(cut).in;
      const ours = cut.tracks[0]?.events.map((e) => [e.clipName, e.source.in, e.record.in - from, e.record.out - e.record.in]);
      expect({
        n,
        found: read[n][0].map((e: { name: string; start: number; record: number; duration: number }) => [
          e.name,
          e.start,
          e.record,
          e.duration,
        ]),
      }).toEqual({ n, found: ours });
    });
  });
});

describe('xmeml of mixed rates, each item at its own and each file at another', () => {
  const rate = fc.constantFrom(...(['23.976', '24', '25', '29.97', '30', '50', '59.94'] as const).map((name) => RATES[name] as Rate));
  const element = ({ num, den }: Rate) =>
    `<rate><timebase>${Math.round(num / den)}</timebase><ntsc>${den === 1001 ? 'TRUE' : 'FALSE'}</ntsc></rate>`;
  const item = fc.record({
    item: rate,
    file: rate,
    at: fc.nat({ max: 200_000 }),
    length: fc.integer({ min: 1, max: 200 }),
    gap: fc.constantFrom(0, 0, 7),
    tc: fc.nat({ max: 2_000_000 }),
  });
  it('begin at the same instant of their source as the library finds', () => {
    const files = fc
      .sample(fc.record({ sequence: rate, items: fc.array(item, { minLength: 1, maxLength: 8 }) }), { numRuns: CUTS, seed: 31 })
      .map(({ sequence, items }, n) => {
        let at = 0;
        const clips = items.map((c, i) => {
          const start = at + c.gap;
          at = start + c.length;
          const frames = Math.max(1, Math.round((c.length * perSecond(c.item)) / perSecond(sequence)));
          return `<clipitem id="c${i}"><name>c${i}</name>${element(c.item)}<start>${start}</start><end>${at}</end><in>${c.at}</in><out>${c.at + frames}</out><file id="f${i}"><name>f${i}.mov</name><pathurl>file:///f${i}.mov</pathurl>${element(c.file)}<timecode>${element(c.file)}<frame>${c.tc}</frame><displayformat>NDF</displayformat></timecode></file></clipitem>`;
        });
        return put(
          `mixed-${n}.xml`,
          `<?xml version="1.0"?><!DOCTYPE xmeml><xmeml version="5"><sequence><name>CUT</name><duration>${at}</duration>${element(sequence)}<media><video><track>${clips.join('')}</track></video></media></sequence></xmeml>`,
        );
      });
    const theirs = describedBy(files);
    files.forEach((file, n) => {
      const list = format('a.xml').read(readFileSync(file));
      expect({ n, found: disagreements(list, theirs[n] as Described) }).toEqual({ n, found: [] });
    });
  });
});
