import path from 'node:path';
import { envelopeMaker, layMix, type MixLay, type NoLay } from '@gemello/core';
import { HEARD, listen, secondsOf } from '../engine/listen';
import { inSteps, type Report, type StopSignal, stopIfAsked } from './task';

/** A mix, and the movie whose sound is its guide. */
export interface MixPayload {
  readonly mix: string;
  readonly guide: string;
}

/** How a mix lies, and how long it is, in seconds. */
export interface MixMeasured {
  readonly laid: MixLay | NoLay;
  readonly length: number;
}

/** Lays a mix against the guide sound, both heard as a whole. Files are only read. Throws MediaError where one has no sound. */
export function measureMix({ mix, guide }: MixPayload, report: Report, signal: StopSignal): MixMeasured {
  const { within, step } = inSteps(report);
  const guided = envelopeOf(guide, within, signal);
  const mixed = envelopeOf(mix, step, signal);
  return { laid: layMix(guided.points, mixed.points), length: mixed.seconds };
}

function envelopeOf(file: string, report: Report, signal: StopSignal): { points: Float32Array; seconds: number } {
  const seconds = secondsOf(file);
  const maker = envelopeMaker(seconds, HEARD.sampleRate, HEARD.channels);
  listen(file, 0, seconds, (samples, at) => {
    stopIfAsked(signal);
    maker.take(samples, at);
    report({ done: Math.round(at / HEARD.sampleRate), total: Math.ceil(seconds), what: path.basename(file) });
  });
  return { points: maker.made(), seconds };
}
