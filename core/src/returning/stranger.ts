import { standingList } from '../decisions';
import { type EditList, type ListEvent, pictureTracks } from '../edit';
import type { Original } from '../originals';
import { type Pairing, pair, rulesSchema } from '../pairing';
import { formatTimecode, framesPerDay, sameSpeed } from '../time';
import type { ReturnProblem } from './check';
import type { ReturnClip } from './plan';
import { RETURN_WORDS } from './wording';

/** By reel, name and timecode to the letter; by name and timecode where a list carries no reel. */
const RULES = rulesSchema.parse({
  lines: [
    { reel: 'exact', name: 'exact', timecode: 'covers' },
    { name: 'exact', timecode: 'covers' },
  ],
});

/**
 * Looks at a list of a return as one who knows nothing of how it was made: as it was read again, its events paired anew with clips as they
 * were scanned again. Each event that has a clip must be there, at the same record times, lead to its clip and to no other, at the planned
 * frame of it. `planned`: the list as its format lays it. `fileName`: of the list, by which problems are named.
 */
export function lookAsStranger(
  fileName: string,
  returned: EditList,
  scanned: readonly Original[],
  planned: EditList,
  clips: readonly ReturnClip[],
): ReturnProblem[] {
  const clipOf = new Map(clips.flatMap((c) => c.events.map((key) => [key, c] as const)));
  const pairings = new Map<string, Pairing[]>();
  for (const one of pair(standingList(returned), scanned, { rules: RULES })) {
    const place = placeOf(one.event);
    pairings.set(place, [...(pairings.get(place) ?? []), one]);
  }
  const problems: string[] = [];
  for (const { events } of pictureTracks(planned))
    for (const event of events) {
      const clip = clipOf.get(event.key);
      if (!clip) continue;
      const who = { number: event.number };
      const here = pairings.get(placeOf(event)) ?? [];
      // Two layers may hold events at the same times; this one is the one that is named so.
      const found = here.find((p) => p.event.clipName === event.clipName || p.event.fileName === event.fileName) ?? here[0];
      if (!found) {
        problems.push(
          RETURN_WORDS.eventNotInList({
            ...who,
            from: formatTimecode(event.record.in, planned.rate),
            to: formatTimecode(event.record.out, planned.rate),
          }),
        );
        continue;
      }
      const { chosen } = found;
      if (!chosen) problems.push(RETURN_WORDS.leadsNowhere(who));
      else if (chosen.original.fileName !== clip.fileName)
        problems.push(RETURN_WORDS.leadsElsewhere({ ...who, found: chosen.original.fileName, planned: clip.fileName }));
      else if (sameSpeed(event.sourceRate, clip.rate)) {
        const day = framesPerDay(clip.rate);
        const meant = (((event.source.in - clip.start) % day) + day) % day;
        if (chosen.sourceStartFrame !== meant)
          problems.push(RETURN_WORDS.otherFrame({ ...who, fileName: clip.fileName, found: chosen.sourceStartFrame, planned: meant }));
      }
    }
  return problems.map((message) => ({ fileName, message }));
}

/**
 * Looks at a list and the clips beside it where nothing else is known: each event that ought to have a picture must lead to one clip, which
 * holds all of its frames.
 */
export function lookAlone(fileName: string, returned: EditList, scanned: readonly Original[]): ReturnProblem[] {
  return pair(standingList(returned), scanned, { rules: RULES }).flatMap(({ event, state, chosen }) => {
    const who = { number: event.number || formatTimecode(event.record.in, returned.rate) };
    if (state === 'exempt' || state === 'proposed') return [];
    if (state === 'contested' && chosen)
      return [{ fileName, message: RETURN_WORDS.leadsToSeveral({ ...who, found: chosen.original.fileName }) }];
    if (state === 'short' && chosen) return [{ fileName, message: RETURN_WORDS.clipTooShort({ ...who, found: chosen.original.fileName }) }];
    return [{ fileName, message: RETURN_WORDS.leadsNowhere(who) }];
  });
}

const placeOf = ({ record }: Pick<ListEvent, 'record'>): string => `${record.in} ${record.out}`;
