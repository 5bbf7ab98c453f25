import type { EditList, ListEvent, Marker, Track } from '../edit';

/**
 * Characters that are no text: controls but for tab and line breaks, halves of characters that stand alone, and the two
 * codes that Unicode keeps from being characters.
 */
const NO_TEXT = /[^\P{Cc}\t\n\r]|[\p{Surrogate}\uFFFE\uFFFF]/u;
const ALL_OF_IT = new RegExp(NO_TEXT.source, 'gu');

const clean = (text: string): string => (NO_TEXT.test(text) ? text.replace(ALL_OF_IT, '') : text);

const isClean = ({ reel, clipName, fileName, mediaPath, number, notes, markers, sourceLabels }: ListEvent): boolean =>
  !NO_TEXT.test(reel) &&
  !NO_TEXT.test(clipName) &&
  !NO_TEXT.test(fileName) &&
  !NO_TEXT.test(mediaPath) &&
  !NO_TEXT.test(number) &&
  !NO_TEXT.test(sourceLabels) &&
  !notes.some((n) => NO_TEXT.test(n)) &&
  !markers.some((m) => NO_TEXT.test(m.text) || NO_TEXT.test(m.colour ?? ''));

/** A text on one line: whatever stands for a break in it is a blank. */
export const onOneLine = (text: string): string => text.replace(/\s*[\r\n\u2028\u2029\v\f]+\s*/g, ' ');

/** A text as it is compared: blanks and breaks at its ends and in a row say nothing. */
export const inSubstance = (text: string): string => text.replace(/\s+/g, ' ').trim();

/** A list whose texts are text throughout, whether that left something out, and the keys of the events in which it did. */
export function inPlainText(list: EditList): { readonly list: EditList; readonly changed: boolean; readonly events: readonly string[] } {
  const events: string[] = [];
  const tracks = list.tracks.map((track): Track => {
    if (track.events.every(isClean)) return track;
    return {
      ...track,
      events: track.events.map((event) => {
        if (isClean(event)) return event;
        events.push(event.key);
        return {
          ...event,
          reel: clean(event.reel),
          clipName: clean(event.clipName),
          fileName: clean(event.fileName),
          mediaPath: clean(event.mediaPath),
          number: clean(event.number),
          sourceLabels: clean(event.sourceLabels),
          notes: event.notes.map(clean).filter((n) => n.trim() !== ''),
          markers: event.markers.map((m): Marker => ({ ...m, text: clean(m.text), colour: m.colour && clean(m.colour) })),
        };
      }),
    };
  });
  const whole = events.length === 0 && !NO_TEXT.test(list.title) && !list.notes.some((n) => NO_TEXT.test(n));
  return { list: whole ? list : { ...list, tracks, title: clean(list.title), notes: list.notes.map(clean) }, changed: !whole, events };
}
