import { rmSync } from 'node:fs';
import { marksAt, USUAL_THRESHOLD } from '@gemello/core';
import { findCuts, probeMovie } from '@gemello/media';
import { asked, FOLDER, stockOfGroup } from './asked';
import { cutMovie } from './lab';

/** How cuts and dissolves of real pictures are found: `tsx faults/cuts.ts STATES SEEDS SHOTS`. */
const { hows, seeds, count, group, verbose } = asked();
const stock = await stockOfGroup(group);
for (const how of hows)
  for (const seed of seeds) {
    const truth = await cutMovie(stock, how, count, seed, FOLDER);
    const began = performance.now();
    const cutting = findCuts({ movie: probeMovie(truth.file), cache: null }, () => {}, { aborted: false });
    const seconds = (performance.now() - began) / 1000;
    rmSync(truth.file);
    const found = marksAt(cutting, USUAL_THRESHOLD).filter((m) => m.frame > truth.leader);
    const cuts = truth.marks.filter((m) => m.frames === 0);
    const slow = truth.marks.filter((m) => m.frames > 0);
    const isCut = (frame: number) => found.some((f) => f.kind === 'cut' && f.frame === frame);
    const asSlow = (m: { frame: number; frames: number }) =>
      found.find((f) => f.kind !== 'cut' && f.frame < m.frame + m.frames && f.frame + f.frames > m.frame);
    const stray = found.filter((f) => !truth.marks.some((m) => f.frame >= m.frame - 6 && f.frame <= m.frame + m.frames + 6));
    // How far what is a cut lies from what is none.
    const scored = cuts.map((m) => cutting.change.cut[m.frame] as number).sort((a, b) => a - b);
    const others = [...cutting.change.cut].filter(
      (_, n) => n > truth.leader && !truth.marks.some((m) => n >= m.frame - 2 && n <= m.frame + m.frames + 2),
    );
    const highest = others.sort((a, b) => b - a).slice(0, 4);
    const exact = slow.filter((m) => {
      const f = asSlow(m);
      return f && Math.abs(f.frame - m.frame) <= 1 && Math.abs(f.frames - m.frames) <= 2;
    });
    console.log(
      `${how} ${seed}: ${cuts.filter((m) => isCut(m.frame)).length} of ${cuts.length} cuts to the frame, ${slow.filter(asSlow).length} of ${slow.length} dissolves (${exact.length} to the frame), ${stray.length} that are none; cuts score from ${scored.slice(0, 3).map((v) => v.toFixed(2))}, all else up to ${highest.map((v) => v.toFixed(2))}; ${cutting.change.cut.length} frames in ${seconds.toFixed(1)} s`,
    );
    if (verbose) {
      for (const m of truth.marks.filter((m) => (m.frames === 0 ? !isCut(m.frame) : !exact.includes(m))))
        console.log('   missed', JSON.stringify(m), 'score', cutting.change.cut[m.frame]?.toFixed(2), 'found', JSON.stringify(asSlow(m)));
      for (const f of stray) console.log('   stray', JSON.stringify(f));
    }
  }
