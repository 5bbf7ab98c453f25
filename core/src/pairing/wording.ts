import { formatRate, formatShift, formatTimecode, formatTimeOfDay } from '../time';
import { form, plural, signed } from '../words';
import type {
  Evidence,
  Grade,
  LengthEvidence,
  NameEvidence,
  Normalisation,
  PictureEvidence,
  RateEvidence,
  ReelEvidence,
  SlateEvidence,
  TimecodeEvidence,
} from './criteria';

const FREED: Readonly<Record<Normalisation, string>> = {
  case: 'letter case',
  extension: 'its extension',
  separators: 'separators',
  'proxy-tail': "a proxy's ending",
  alias: 'a further name',
  pattern: 'a pattern',
};

const OF = { reel: 'reel', 'clip-name': 'clip name', 'file-name': 'file name', folder: 'folder', alias: 'further name' } as const;

/** What a criterion says of a candidate, in words a person can check. */
export function evidenceText(evidence: Evidence): string {
  switch (evidence.criterion) {
    case 'reel':
      return reelText(evidence);
    case 'name':
      return nameText(evidence);
    case 'slate':
      return slateText(evidence);
    case 'timecode':
      return timecodeText(evidence);
    case 'picture':
      return pictureText(evidence);
    case 'length':
      return lengthText(evidence);
    case 'rate':
      return rateText(evidence);
    case 'raster':
      if (evidence.grade === 'unknown') return `${evidence.given}; the list states no raster`;
      return evidence.scaled === null
        ? `${evidence.given}, as the cut`
        : `${evidence.given} in a cut of ${evidence.asked}: ${evidence.scaled === 'larger' ? 'scaled down' : 'scaled up'}`;
    case 'folder':
      if (evidence.grade === 'unknown') return 'the list does not say where the offline clip lay';
      return evidence.grade === 'unlike'
        ? `the offline clip lay in ${evidence.asked}, this one in ${evidence.given || 'no folder'}`
        : `in ${evidence.given}, as the offline clip`;
    case 'checksum':
      if (evidence.grade === 'unknown') return 'no manifest speaks of it, or its content was not measured';
      return evidence.grade === 'exact'
        ? `its content is what ${evidence.manifest} states`
        : `its content is not what ${evidence.manifest} states`;
  }
}

function lacking({ grade, ...more }: Grade, what: string): string | null {
  if (grade !== 'unknown') return null;
  const { lacks } = more as { lacks: 'list' | 'original' | 'both' };
  if (lacks === 'both') return `neither the list nor the original names a ${what}`;
  return lacks === 'list' ? `the list names no ${what}` : `the original has no ${what}`;
}

function freed(by: readonly Normalisation[]): string {
  return by.map((b) => FREED[b]).join(' and ');
}

function reelText(e: ReelEvidence): string {
  const unknown = lacking(e, 'reel');
  if (unknown) return unknown;
  if (e.grade === 'exact') return e.given;
  if (e.grade === 'normalised') return `${e.asked} is ${e.given} but for ${freed(e.by)}`;
  if (e.grade === 'prefix')
    return e.via === 'reel'
      ? `${e.asked} and ${e.given} begin alike, ${plural(e.length, 'character')}`
      : `the reel field holds the first ${plural(e.length, 'character')} of the ${OF[e.via]} ${e.given}`;
  if (e.grade === 'contained')
    return e.via === 'folder' ? `it lies in the folder ${e.given}` : `the reel field holds the ${OF[e.via]} ${e.given}`;
  if (e.grade === 'unlike') return `${e.given} is the name of its folder, and says nothing of ${e.asked}`;
  return `${e.asked} is not ${e.given}`;
}

function nameText(e: NameEvidence): string {
  if (e.grade === 'unknown') return 'the list names no clip';
  if (e.grade === 'exact') return e.given;
  if (e.grade === 'normalised')
    return e.via === 'alias' ? `${e.given}, which counts as its name` : `${e.asked} is ${e.given} but for ${freed(e.by)}`;
  if (e.grade === 'unlike') return `${e.asked} says nothing of ${e.given}`;
  return `${e.asked} is not ${e.given}`;
}

function slateText(e: SlateEvidence): string {
  if (!e.given) return 'the original names no scene and take';
  const own = `scene ${e.given.scene.toUpperCase()}, take ${e.given.take}`;
  if (e.grade === 'exact') return own;
  return e.wanted ? `${e.asked} is not ${own}` : `the list does not call it after its slate: ${own}`;
}

function timecodeText(e: TimecodeEvidence): string {
  if (e.counts === 'nothing') return 'a still is the same at every timecode';
  const label = formatTimeOfDay(e.asked, e.rate);
  if (e.fromZero) return `the list counts from zero; ${formatTimecode(e.shift, e.rate)} must be added`;
  if (e.grade === 'unknown') return 'the original has no timecode';
  const where = e.counts === 'clip' ? `${label} from the first frame` : label;
  if (e.grade === 'overlaps') return `${where} is only partly inside: ${e.frames} of ${plural(e.of, 'frame')}`;
  if (e.grade === 'conflict') return `${where} is outside the clip`;
  return `${where} is frame ${e.start}${e.shift === 0 || e.counts === 'clip' ? '' : `, shifted by ${formatShift(e.shift, e.rate)}`}`;
}

const percent = (score: number): string => `${Math.round(score * 100)} %`;

function pictureText({ look, ...e }: PictureEvidence): string {
  if (!look) return 'not compared with the reference';
  if (look.is === 'open') return 'too dark, soft or covered in the reference to be told';
  if (look.is === 'another')
    return look.best === null
      ? `not the picture of the reference: agrees by ${percent(look.score)}`
      : `less like the reference than another original: agrees by ${percent(look.score)}, that one by ${percent(look.best)}`;
  const agrees = `agrees with the reference by ${percent(look.score)}`;
  const ways = look.altered ? ', at another speed or place in the frame' : '';
  if (e.grade === 'aside') return `${agrees}${ways}, ${plural(Math.abs(e.frames), 'frame')} ${e.frames > 0 ? 'later' : 'earlier'}`;
  const [low, high] = look.range;
  return `${agrees}${ways}${low === high ? '' : `; it looks the same from ${signed(low)} to ${signed(high)} frames aside`}`;
}

function lengthText(e: LengthEvidence): string {
  if (e.grade === 'exact') {
    const all = `has all ${e.needs} ${form(e.needs, 'frame', 'frames')} it needs`;
    return e.spare ? `${all}; ${e.spare.head} to spare at the head, ${e.spare.tail} at the tail` : all;
  }
  const inside = e.missingInside > 0 ? `, ${e.missingInside} inside` : '';
  return `lacks ${plural(e.missingHead, 'frame')} at the head, ${e.missingTail} at the tail${inside}`;
}

function rateText(e: RateEvidence): string {
  if (e.grade === 'exact') return formatRate(e.given);
  return `${formatRate(e.given)} in a ${formatRate(e.cut)} cut; pictures run ${e.runs === 'real-time' ? 'in real time' : 'frame for frame'}`;
}
