import { rmSync } from 'node:fs';
import path from 'node:path';
import { frameOfPlace } from '@gemello/core';
import { openThreads, probeMovie, rebuildAbreast } from '@gemello/media';
import { asked, FOLDER, stockOfGroup } from './asked';
import { cutMovie } from './lab';

/** How shots are found by their pictures alone, among all originals: `tsx faults/shots.ts STATES SEEDS SHOTS`. */
const { hows, seeds, count, group, verbose } = asked();
const stock = await stockOfGroup(group);
const threads = openThreads();
for (const how of hows)
  for (const seed of seeds) {
    const truth = await cutMovie(stock, how, count, seed, FOLDER);
    const reference = probeMovie(truth.file);
    const began = performance.now();
    const basis = { reference, originals: stock.originals, frame: null, marks: null, cache: path.join(FOLDER, 'cache') };
    const { shots } = await rebuildAbreast(threads, basis, 'SHOTS');
    const seconds = (performance.now() - began) / 1000;
    rmSync(truth.file);
    // A true shot is found where a found one covers its middle with the same original and the same frame there.
    const outcomes = truth.shots.map((t) => {
      const middle = t.from + (t.length >> 1);
      const shot = shots.find((s) => s.from <= middle && s.until > middle);
      const place = shot?.found;
      const there = place ? frameOfPlace(place, middle - (shot?.from ?? 0)) : null;
      const right = place?.original.path === t.path && there !== null && Math.abs(there - (t.source + (t.length >> 1))) <= 1;
      return { t, shot, right, exact: right && Math.abs((shot?.from ?? -99) - t.from) <= 1, found: place !== null && place !== undefined };
    });
    const wrong = outcomes.filter((o) => o.found && !o.right);
    console.log(
      `${how} ${seed}: ${outcomes.filter((o) => o.right).length} of ${outcomes.length} shots found to the frame, ${outcomes.filter((o) => o.exact).length} with their cut, ${wrong.length} wrong, ${outcomes.filter((o) => !o.found).length} not found; ${reference.frames} frames in ${seconds.toFixed(1)} s`,
    );
    if (verbose)
      for (const { t, shot } of outcomes.filter((o) => !o.exact))
        console.log(
          '   ',
          JSON.stringify({ ...t, path: path.basename(t.path) }),
          'said',
          shot &&
            JSON.stringify({
              from: shot.from,
              until: shot.until,
              join: shot.join?.durationFrames,
              found: shot.found && { ...shot.found, original: path.basename(shot.found.original.path) },
            }),
        );
  }
await threads.close();
