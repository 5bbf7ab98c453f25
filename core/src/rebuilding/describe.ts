import type { EditList } from '../edit';
import { describeClip } from '../pairing';
import { isReframed } from '../proof';
import { type Frames, formatTimecode, type Rate } from '../time';
import { plural, signed } from '../words';
import { type FoundPlace, frameOfPlace, type SeenShot } from './assemble';

const percent = (score: number): string => `${Math.round(score * 100)} %`;

const evidenceOf = ({ score, range: [low, high] }: FoundPlace) => [
  {
    criterion: 'picture',
    result: 'agrees',
    detail: `Its pictures agree with the reference by ${percent(score)}.${high - low > 0 ? ` It hardly moves: from ${signed(low)} to ${signed(high)} frames aside it would look the same.` : ''}`,
  },
];

/** What of the frames a place asks for its original lacks. */
function lacking(place: FoundPlace, length: Frames): { missingHead: Frames; missingTail: Frames } {
  const { source, original } = place;
  if (original.kind === 'still') return { missingHead: 0, missingTail: 0 };
  const end = frameOfPlace(place, length - 1);
  const [low, high] = [Math.min(source, end), Math.max(source, end)];
  return { missingHead: Math.max(0, -low), missingTail: Math.max(0, high + 1 - original.frames) };
}

/** The shots of a reference with where each was found, as data with words. `events` are those of the rebuilt list, in the order of the shots; `start` the record frame of the first. */
export function describeShots(list: EditList, shots: readonly SeenShot[], start: Frames, rate: Rate) {
  const events = list.tracks.flatMap((t) => t.events);
  const pairs = shots.map((shot, i) => {
    const { found, others, from, until, join } = shot;
    const event = events[i];
    const place = found && {
      speed: found.speed,
      mirrored: found.laid.flip || null,
      placement: isReframed(found.laid)
        ? { scale: found.laid.scale, x: found.laid.x, y: found.laid.y, rotation: found.laid.rotation }
        : null,
    };
    return {
      event: event?.number ?? '',
      key: event?.key ?? '',
      track: list.tracks[0]?.name ?? 'V',
      state: shot.is === 'black' ? 'exempt' : !found ? 'unpaired' : others.length > 0 ? 'contested' : 'proposed',
      recordIn: formatTimecode(start + from, rate),
      recordOut: formatTimecode(start + until, rate),
      transitionIn: join,
      original: found && describeClip(found.original),
      sourceStartFrame: found?.source ?? null,
      ...(found ? lacking(found, until - from) : { missingHead: 0, missingTail: 0 }),
      shiftFrames: 0,
      ...(place ?? { speed: 1, mirrored: null, placement: null }),
      evidence: found ? evidenceOf(found) : [],
      contenders: others.map((o) => ({ path: o.original.path, sourceStartFrame: o.source, evidence: evidenceOf(o) })),
    };
  });
  const count = (state: string) => pairs.filter((p) => p.state === state).length;
  return {
    pairs,
    summary: { proposed: count('proposed'), contested: count('contested'), unpaired: count('unpaired'), exempt: count('exempt') },
  };
}

/** What a rebuilding came to, in one sentence. */
export function rebuiltText(shots: readonly SeenShot[]): string {
  const [found, lost] = [shots.filter((s) => s.is === 'found').length, shots.filter((s) => s.is === 'lost').length];
  const of = `${plural(shots.length, 'shot')}, ${found} found in the originals`;
  return lost === 0 ? of : `${of}; ${lost} in none of them`;
}
