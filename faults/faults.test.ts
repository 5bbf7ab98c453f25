import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { marksAt, USUAL_THRESHOLD } from '@gemello/core';
import { findCuts, openThreads, probeMovie } from '@gemello/media';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { stockOfGroup } from './asked';
import type { Degradation } from './degrade';
import { cutMovie, trial } from './lab';
import type { Stock } from './stock';

/**
 * A part of the laboratory, on sources that no line was drawn by: real pictures, references rendered by other code than ours.
 * The bars stand below what was measured (docs/proof.md), so that a loss is seen and a lucky run is not needed.
 */
const EVENTS = 20;
let stock: Stock;
let made: string;
beforeAll(async () => {
  made = mkdtempSync(path.join(tmpdir(), 'gemello-faults-'));
  stock = await stockOfGroup('report');
}, 300_000);
const threads = openThreads();
afterAll(async () => {
  await threads.close();
  rmSync(made, { recursive: true, force: true });
});

describe('the proof, held against known faults in real pictures', () => {
  it('has pictures to be held against', () => {
    expect(new Set(stock.takes.map((t) => t.source)).size).toBeGreaterThanOrEqual(5);
  });
  it.each<[Degradation, number, number]>([
    ['clean', 9, 0],
    ['grey', 7, 1],
  ])(
    'names the faults of a %s reference, at least %i of 10, and finds nothing on clean events but %i',
    async (how, least, most) => {
      const { outcomes } = await trial(threads, stock, how, EVENTS, 11, made);
      const faults = outcomes.filter((o) => o.truth);
      const missed = faults.filter((o) => !o.right).map((o) => o.fault);
      const strays = outcomes.filter((o) => !o.truth && !o.right);
      console.log(
        `${how}: ${faults.length - missed.length} of ${faults.length} exact, missed ${missed.join(', ') || 'none'}; ${strays.length} strays`,
      );
      expect(faults.length - missed.length).toBeGreaterThanOrEqual(least);
      expect(strays.length).toBeLessThanOrEqual(most);
    },
    600_000,
  );
});

describe('the cut finder, on real pictures', () => {
  it.each<Degradation>(['letterbox'])(
    'finds every cut between two clips to the frame in a %s movie, and none inside of one',
    async (how) => {
      const truth = await cutMovie(stock, how, 20, 5, made);
      const found = marksAt(
        findCuts({ movie: probeMovie(truth.file), cache: null }, () => {}, { aborted: false }),
        USUAL_THRESHOLD,
      );
      const cuts = truth.marks.filter((m) => m.frames === 0);
      const told = cuts.filter((m) => found.some((f) => f.kind === 'cut' && f.frame === m.frame));
      const strays = found.filter((f) => !truth.marks.some((m) => f.frame >= m.frame - 6 && f.frame <= m.frame + m.frames + 6));
      console.log(`${how}: ${told.length} of ${cuts.length} cuts, ${strays.length} strays`);
      expect(told.length).toBeGreaterThanOrEqual(cuts.length - 1);
      expect(strays).toEqual([]);
    },
  );
});
