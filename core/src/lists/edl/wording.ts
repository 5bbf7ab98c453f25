import { type Fields, wording } from '../../words';

/** What is said of an edit list as it is read. */
export const EDL_WORDS = wording({
  dropRateAssumed: ({ rate }: Fields<'rate'>) =>
    `The list does not state its frame rate, but its timecode is drop-frame, which only 29.97 and 59.94 have; ${rate} was taken. Set the rate if that is wrong: every number depends on it.`,
  rateAssumed: ({ rate }: Fields<'rate'>) =>
    `The list does not state its frame rate; ${rate} was assumed from its timecodes. Set the rate if that is wrong: every number depends on it.`,
  dropFrameAsked: ({ rate }: Fields<'rate'>) => `The list asks for drop-frame, which does not exist at ${rate}; counted as non-drop.`,
  semicolonsImpossible: ({ rate }: Fields<'rate'>) =>
    `Timecodes with a semicolon are drop-frame, which does not exist at ${rate}; counted as non-drop. Is the rate right?`,
  countingContradicts: () =>
    'The list says NON-DROP FRAME but writes record timecodes with a semicolon, as drop-frame; counted as non-drop.',
  motionWithoutEvent: ({ framesPerSecond, timecode, reel }: Fields<'framesPerSecond' | 'timecode' | 'reel'>) =>
    `A speed (M2 ${framesPerSecond} at ${timecode}) for reel ${reel} stands with no event of that reel that was read; it was left out.`,
  speedTwice: ({ event, motionAt, at, framesPerSecond, rate }: Fields<'event' | 'motionAt' | 'at' | 'framesPerSecond' | 'rate'>) =>
    `${event} is given two speeds, in lines ${motionAt} and ${at}; the later one, ${framesPerSecond} frames a second at ${rate}, was taken.`,
  namesFirst: () => 'Clip names stand before the events they speak of, throughout the list; they were read so.',
  unknownLinesLeftOut: ({ count }: Fields<'count'>) =>
    `${count} more lines that Gemello does not know were left out. Is this an edit list?`,
  unknownLine: ({ text }: Fields<'text'>) => `A line Gemello does not know was kept as a note: "${text}".`,
  brokenLine: ({ text }: Fields<'text'>) =>
    `This line looks like an event but could not be read: "${text}". The rest of the list was read without it.`,
  transitionWithoutLength: ({ event }: Fields<'event'>) => `${event} begins with a transition of no length; it was read as a cut.`,
  neitherLengthNorTransition: ({ event }: Fields<'event'>) => `${event} has no length and begins no transition; it was left out.`,
  otherReelLeft: ({ event, leaves, reel }: Fields<'event' | 'leaves' | 'reel'>) =>
    `${event} leaves reel ${leaves}, but the event before it is of reel ${reel}; that event is what is seen.`,
  noLength: ({ name }: Fields<'name'>) => `${name} has no length on the record; it was left out.`,
  recordBackwards: ({ name, recordIn, recordOut }: Fields<'name' | 'recordIn' | 'recordOut'>) =>
    `${name} ends on the record before it begins (${recordIn} to ${recordOut}); it was left out. Ask for the list again or correct the line.`,
  impossibleTimecode: ({ name, rate, dropped }: Fields<'name' | 'rate'> & { readonly dropped: boolean }) =>
    `${name} has a timecode that cannot exist at ${rate}${dropped ? ' (drop-frame skips it)' : ''}; is the rate right? It was counted on.`,
  noChannel: ({ name }: Fields<'name'>) => `${name} is on no channel; it was left out.`,
  noReel: ({ name }: Fields<'name'>) => `${name} names no reel; it can be matched by its name and timecode only.`,
  title: ({ name, clipName }: Fields<'name' | 'clipName'>) =>
    `${name} is a title ("${clipName}"); it has no camera original and needs none.`,
  lengthDiffers: ({ name, source, record }: Fields<'name' | 'source' | 'record'>) =>
    `${name} takes ${source} frames of source for ${record} frames of record and states no speed; ${record} frames from its source in are used.`,
  speedDiffers: ({ name, source, record, asked, speed }: Fields<'name' | 'source' | 'record' | 'asked' | 'speed'>) =>
    `${name} takes ${source} frames of source for ${record} frames of record, but its speed (M2, ${speed} %) asks for ${asked}; the speed was taken. Check the shot.`,
  pastDay: ({ name }: Fields<'name'>) =>
    `${name} has a timecode of 24 hours or more, which no day has; it was counted on. Is it a count from another start?`,
  otherPlaceLeft: ({ event, stated, ends }: Fields<'event' | 'stated' | 'ends'>) =>
    `${event} leaves its shot at ${stated}, but the event before it ends at ${ends}; that event is what is seen. Check the dissolve.`,
  twoNames: ({ event, kept, name }: Fields<'event' | 'kept' | 'name'>) =>
    `${event} is given two names, "${kept}" and "${name}"; the first of these was taken and the other kept as a note.`,
  secondName: ({ event, left, name }: Fields<'event' | 'left' | 'name'>) =>
    `${event} names what it leaves twice, "${left}" and "${name}"; the second was taken for the name of what comes in.`,
  transitionTooLong: ({ name, duration, record }: Fields<'name' | 'duration' | 'record'>) =>
    `${name} begins with a transition of ${duration} frames but lasts only ${record}; the transition was cut to that.`,
  sourceBackwards: ({ event, forward }: Fields<'event'> & { readonly forward: boolean }) =>
    `${event} has its source out before its source in; ${forward ? 'but its speed (M2) runs forward, which was taken' : 'it was read as running in reverse'}.`,
  transitionFromNothing: ({ event, type }: Fields<'event' | 'type'>) =>
    `${event} begins with a ${type}, but nothing stands before it; it comes from black.`,
  comment: ({ text }: Fields<'text'>) => `A comment was kept as a note: "${text}".`,
  transitionKind: ({ text, type }: Fields<'text' | 'type'>) => `The transition "${text}" is shown as a ${type}.`,
  effect: ({ text }: Fields<'text'>) => `The effect "${text}" has no place in a conform; its name is kept as a note.`,
  otherClipLeft: ({ event, left, clipName }: Fields<'event' | 'left' | 'clipName'>) =>
    `${event} names another clip, file or grade for the shot it leaves than that event itself (${left}, "${clipName}"); the event's own was kept.`,
});
