import path from 'node:path';
import {
  formatTimecode,
  type Original,
  parseRate,
  RATES,
  type Rate,
  type Said,
  settleClaims,
  type Warning,
  withoutExtension,
} from '@gemello/core';
import { readWavHeader } from '../headers/bwf';
import { openHead } from '../headers/file';
import { MediaError } from '../plain';
import { ALONE, type Beside, stampOf, statedRate } from './beside';
import { probeMovie } from './movie';

/** Guide sound; `beginsAt`: when its first sample is heard, in seconds from midnight; null where it does not say. */
export interface Guide {
  readonly sound: Original;
  readonly beginsAt: number | null;
}

/**
 * Reads guide sound: a WAV file, which begins to the sample where its time reference says (EBU Tech 3285), or a movie that has sound.
 * Throws MediaError for anything else.
 */
export function probeGuide(file: string): Guide {
  const head = openHead(file);
  const header = readWavHeader(head);
  head.close();
  if (header) return { sound: probeSound(file), beginsAt: header.timeReference === null ? null : header.timeReference / header.sampleRate };
  const sound = movieOrNone(file);
  if (!sound?.sound) throw new MediaError(`${path.basename(file)} is neither a WAV file nor a movie with sound. Export the guide as WAV.`);
  return { sound, beginsAt: sound.hasTimecode ? (sound.start * sound.rate.den) / sound.rate.num : null };
}

function movieOrNone(file: string): Original | null {
  try {
    return probeMovie(file);
  } catch (error) {
    if (error instanceof MediaError) return null;
    throw error;
  }
}

/**
 * Reads a WAV file as sound of the shoot: its start from the time reference (EBU Tech 3285, samples
 * since midnight), rate and reel from iXML. `frames` are whole frames at that rate. Throws MediaError
 * when it is no WAV.
 */
export function probeSound(file: string, beside: Beside = ALONE): Original {
  const head = openHead(file);
  const header = readWavHeader(head);
  const stamped = stampOf([file], beside.papers, head.state);
  head.close();
  const fileName = path.basename(file);
  if (!header) throw new MediaError(`${fileName} is no WAV file that can be read.`);
  const warnings: Warning[] = [];
  const said: Said[] = [];
  const stated = parseRate(header.ixml.rate) ?? statedRate(beside);
  if (!stated)
    warnings.push({ code: 'rate-unknown', message: 'The sound does not say which frame rate it was recorded with; 24 was taken.' });
  const { num, den } = stated ?? RATES['24'];
  const rate: Rate = { num, den, dropFrame: header.ixml.dropFrame };
  const fps = rate.num / rate.den;
  if (header.timeReference !== null)
    said.push({
      field: 'timecode',
      value: formatTimecode(Math.floor((header.timeReference / header.sampleRate) * fps + 1e-6), rate),
      origin: 'the time reference',
    });
  if (header.ixml.rate && parseRate(header.ixml.rate)) said.push({ field: 'rate', value: header.ixml.rate, origin: 'iXML' });
  if (header.created) said.push({ field: 'created', value: header.created, origin: 'the bext chunk' });
  if (header.ixml.tape) said.push({ field: 'reel', value: header.ixml.tape, origin: 'iXML' });
  const slate = [header.ixml.scene, header.ixml.take].filter(Boolean).join('_');
  if (slate) said.push({ field: 'clipName', value: slate, origin: 'iXML' });
  for (const field of ['scene', 'take'] as const) if (header.ixml[field]) said.push({ field, value: header.ixml[field], origin: 'iXML' });
  if (header.truncated)
    warnings.push({
      code: 'truncated',
      message: `The file is cut off; ${(header.samples / header.sampleRate).toFixed(1)} s of sound can be read. Copy it again from the card.`,
    });
  for (const s of beside.said) said.push(s);
  const settled = settleClaims(said, rate, withoutExtension(fileName));
  // Every field is written out: copying objects over one another costs more than reading the header.
  return {
    path: file,
    kind: 'sound',
    reel: settled.reel,
    clipName: settled.clipName,
    fileName,
    start: settled.start,
    hasTimecode: settled.hasTimecode,
    frames: Math.floor((header.samples / header.sampleRate) * fps + 1e-6),
    rate: settled.rate,
    clock: settled.rate,
    raster: NO_RASTER,
    pixelAspect: null,
    codec: `pcm ${header.bits}`,
    sound: { channels: header.channels, sampleRate: header.sampleRate },
    files: [],
    gaps: [],
    pieces: [],
    sidecars: beside.sidecars,
    claims: settled.claims,
    checksums: beside.checksums,
    measured: [],
    grades: beside.grades,
    bytes: stamped.bytes,
    stamp: stamped.stamp,
    print: '',
    warnings: [...warnings, ...settled.warnings],
  };
}

const NO_RASTER = { width: 0, height: 0 } as const;
