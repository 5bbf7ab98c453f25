import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { beforeAll, describe, expect, it } from 'vitest';
import { type EditList, frameAt, type ListEvent, lengthOf, readList, runOf, startOf } from '../src';
import { bytesOf, type Difference, differences, fileOf, judged, python, SAMPLES, type Sample, type Theirs } from './outside';

/**
 * Lists that nobody here made: the sample files of the open timeline library and of its adapters for edit lists, xmeml and AAF (PyPI source
 * archives). Each is read by Gemello and by the library, and compared event by event. What the two say otherwise stands in docs/formats.md, with
 * who is right and why; anything else is a fault.
 */
const formats = path.join(path.dirname(fileURLToPath(import.meta.url)), '..', '..', 'docs', 'formats.md');

const ourRate = (list: EditList | null): string => String(list ? list.rate.num / list.rate.den : 24);

/** What the library finds in each sample; edit lists are read at the rate that we read them at, since they state none. */
function theirsOf(samples: readonly Sample[]): Map<Sample, Theirs> {
  const byRate = new Map<string, Sample[]>();
  for (const sample of samples) {
    const rate = sample.extension === 'edl' ? ourRate(readList(bytesOf(sample))) : '24';
    byRate.set(rate, [...(byRate.get(rate) ?? []), sample]);
  }
  const found = new Map<Sample, Theirs>();
  for (const [rate, group] of byRate) {
    const described = judged<Theirs[]>('outside_lists.py', '--rate', rate, ...group.map((s) => fileOf(s.hash, s.extension)));
    group.forEach((sample, i) => {
      found.set(sample, described[i] as Theirs);
    });
  }
  return found;
}

interface Compared {
  readonly clips: number;
  readonly found: readonly (
    | Difference
    | { readonly what: 'refused-there' | 'refused-here'; readonly ours: string; readonly theirs: string }
  )[];
}

function compared(sample: Sample, theirs: Theirs): Compared {
  if ('failed' in theirs) return { clips: 0, found: [{ what: 'refused-there', ours: '', theirs: theirs.failed }] };
  const cuts = theirs.map((cut, i) => {
    const list = readList(bytesOf(sample), theirs.length > 1 ? { sequence: i } : {});
    const clips = cut.clips.length;
    const refused: Difference[] = [{ what: 'refused-here', ours: '', theirs: '' }];
    return { clips, found: list ? differences(list, cut) : refused };
  });
  return { clips: cuts.reduce((sum, c) => sum + c.clips, 0), found: cuts.flatMap((c) => c.found) };
}

/** The rows of the table in docs/formats.md: hash, what, and how often, as `hash what times`. */
function explained(): string[] {
  return readFileSync(formats, 'utf8')
    .split('\n')
    .flatMap((line) => {
      const row = /^\| `([0-9a-f]{8})` \| \w+ \| ([\w-]+) \| (\d+) \|/.exec(line);
      return row ? [`${row[1]} ${row[2]} ${row[3]}`] : [];
    });
}

describe('lists that others made', () => {
  it('say the same to us as to the library of their format, or the table says who is right', () => {
    expect(SAMPLES.length).toBeGreaterThan(70);
    const theirs = theirsOf(SAMPLES);
    const rows: string[] = [];
    const counts = new Map<string, { files: number; clips: number; differ: number }>();
    for (const sample of SAMPLES) {
      const { clips, found } = compared(sample, theirs.get(sample) as Theirs);
      const count = counts.get(sample.extension) ?? { files: 0, clips: 0, differ: 0 };
      counts.set(sample.extension, { files: count.files + 1, clips: count.clips + clips, differ: count.differ + found.length });
      const times = new Map<string, number>();
      for (const { what } of found) times.set(what, (times.get(what) ?? 0) + 1);
      for (const [what, n] of times) rows.push(`${sample.hash} ${what} ${n}`);
      if (process.env.OUTSIDE) for (const d of found) console.log(sample.hash, sample.extension, d.what, '|', d.ours, '|', d.theirs);
    }
    for (const [extension, { files, clips, differ }] of counts)
      console.log(`${extension}: ${files} files, ${clips} clips, ${differ} differences, each explained in docs/formats.md`);
    expect(rows.sort()).toEqual(explained().sort());
  }, 300_000);
});

/** What stands in the picture of each frame of a cut: the frame of the source, by the uppermost event. */
function shownIn(list: EditList): number[] {
  const events = list.tracks.filter((t) => t.kind === 'picture').flatMap((t) => t.events);
  const end = Math.max(...events.map((e) => e.record.out));
  return Array.from({ length: end - startOf(list) }, (_, n) => {
    const record = startOf(list) + n;
    const event = events.findLast((e) => record >= e.record.in && record < e.record.out) as ListEvent;
    return event.source.in + frameAt(runOf(event, list.rate), record - event.record.in);
  });
}

describe('movies that others rendered from their lists, with the number of each source frame in its picture', () => {
  const lists = SAMPLES.filter((s) => s.movie !== null);
  const movieOf = ({ movie }: Sample) => fileOf(movie ?? '', 'mov');
  let seen: { numbers: number[]; margin: number }[];
  beforeAll(() => {
    // Digits are learned where no speed has a say: from the events at natural speed of one list, in which all ten come up.
    const learned = lists.find((s) => new Set(Object.values(natural(s)).join('')).size === 10);
    if (!learned) return;
    seen = judged('burnt_in.py', JSON.stringify(natural(learned)), movieOf(learned), ...lists.map(movieOf));
  }, 120_000);
  const natural = (sample: Sample): Record<number, number> => {
    const list = readList(bytesOf(sample)) as EditList;
    const shown = shownIn(list);
    const events = list.tracks.flatMap((t) => t.events).filter((e) => e.retime.kind === 'natural');
    return Object.fromEntries(
      events.flatMap((e) =>
        Array.from({ length: lengthOf(e.record) }, (_, n) => e.record.in - startOf(list) + n).map((n) => [n, shown[n] ?? 0]),
      ),
    );
  };
  it('show at each frame the source frame that we read: constant speeds, freezes, reverses and curves', () => {
    expect(lists.length).toBe(2);
    lists.forEach((sample, i) => {
      const { numbers, margin } = seen[i] as (typeof seen)[number];
      console.log(`${sample.hash}: ${numbers.length} frames; the nearest wrong digit is at least ${margin.toFixed(2)} further off`);
      expect(margin).toBeGreaterThan(0.3);
      // One movie was rendered before two events were added to its list: what it shows has to be the events in their order, to its last frame.
      const list = readList(bytesOf(sample)) as EditList;
      const shown = shownIn(list);
      const absent: string[] = [];
      let at = 0;
      for (const { record, number } of list.tracks.flatMap((t) => t.events)) {
        const meant = shown.slice(record.in - startOf(list), record.out - startOf(list));
        if (JSON.stringify(numbers.slice(at, at + meant.length)) === JSON.stringify(meant)) at += meant.length;
        else absent.push(number);
      }
      expect({ hash: sample.hash, left: numbers.slice(at), absent: absent.length }).toEqual({
        hash: sample.hash,
        left: [],
        absent: (shown.length - numbers.length) / 8,
      });
    });
  });
});

describe('maps of speed effects', () => {
  it('show the same frames as the reference implementation of the format finds on them', () => {
    const samples = SAMPLES.filter((s) => s.extension === 'aaf');
    const theirs = judged<{ at: number; curved: boolean; offsets: number[] }[][]>(
      'aaf_offsets.py',
      ...samples.map((s) => fileOf(s.hash, s.extension)),
    );
    let effects = 0;
    samples.forEach((sample, i) => {
      const list = readList(bytesOf(sample)) as EditList;
      const events = list.tracks.filter((t) => t.kind === 'picture').flatMap((t) => t.events);
      // How a curve goes between its points that implementation guesses; the file states it, and the movie above shows that it is so.
      for (const { at, offsets } of (theirs[i] ?? []).filter((w) => !w.curved)) {
        const from = startOf(list) + at;
        const standing = events.filter((e) => e.record.in === from && lengthOf(e.record) === offsets.length);
        const wanted = offsets.map((o) => floorOf(o) - floorOf(offsets[0] ?? 0));
        const runs = standing.map((e) => {
          const run = runOf(e, list.rate);
          return offsets.map((_, n) => frameAt(run, n) - frameAt(run, 0));
        });
        effects++;
        expect({ hash: sample.hash, at, runs }).toEqual({ hash: sample.hash, at, runs: expect.arrayContaining([wanted]) });
      }
    });
    console.log(`${effects} speed effects`);
    expect(effects).toBeGreaterThan(80);
  }, 120_000);
});

describe('numbered frames as media', () => {
  it('lie where the library says, by base, name and number, and begin where their range does', () => {
    const made = `import json, opentimelineio as o
T, R = o.opentime.RationalTime, o.opentime.TimeRange
made = []
for base, start, pad in (("file:///cards/B%2004", 1001, 6), ("/cards/B004/", -3, 4), ("file:///x", 0, 0)):
    media = o.schema.ImageSequenceReference(target_url_base=base, name_prefix="pan.", name_suffix=".exr", start_frame=start, frame_step=1, rate=24, frame_zero_padding=pad, available_range=R(T(86400, 24), T(48, 24)))
    clip = o.schema.Clip("pan", media, R(T(86410, 24), T(24, 24)))
    line = o.schema.Timeline("x"); line.tracks.append(o.schema.Track("V1", [clip]))
    made.append([line.to_json_string(), media.target_url_for_image_number(0)])
print(json.dumps(made))`;
    const pairs: [string, string][] = JSON.parse(execFileSync(python, ['-c', made], { encoding: 'utf8' }));
    for (const [text, first] of pairs) {
      const event = readList(new TextEncoder().encode(text))?.tracks[0]?.events[0];
      expect([event?.mediaPath, event?.fileName, event?.source.in, event?.file]).toEqual([
        first,
        first.slice(first.lastIndexOf('/') + 1),
        86_410,
        { first: 86_400, frames: 48, raster: null },
      ]);
    }
  });
});

/** The frame below, but for what a decimal loses. */
const floorOf = (offset: number): number => Math.floor(offset + 1e-7);
