import { type Fields, plural, wording } from '../../words';

/** What is said of an OpenTimelineIO file as it is read. */
export const OTIO_WORDS = wording({
  frameStep: ({ name, step }: Fields<'name' | 'step'>) =>
    `"${name}" is numbered frames of which every ${step}th is there; it is read as if each frame had a picture of its own.`,
  rateAssumed: ({ rate }: Fields<'rate'>) =>
    `Nothing in the file states a frame rate; ${rate} was assumed. Set the rate if that is wrong: every number depends on it.`,
  rateOfClips: ({ start, rate }: Fields<'start' | 'rate'>) =>
    `The start of the cut is counted at ${start}, but no clip is; ${rate}, the rate of its clips, was taken.`,
  rateOfStart: ({ start, rate }: Fields<'start' | 'rate'>) =>
    `The start of the cut is counted at ${start}, but no clip is: the first is at ${rate}. ${start} was taken for the cut. Set the rate if that is wrong.`,
  brokenMetadata: ({ wrong }: Fields<'wrong'>) => `What Gemello wrote beside it could not be read in full: ${wrong}.`,
  effect: ({ effect }: Fields<'effect'>) => `The effect "${effect}" is not in the conform; it goes out as it came.`,
  brokenSpeed: ({ number }: { readonly number: string | null }) =>
    `The speed of a clip is no number that can be${number ? ` (${number})` : ''}; natural speed was taken.`,
  brokenSpeeds: () => 'The speeds of a clip multiply to none that can be; natural speed was taken.',
  brokenMarker: () => 'A marker could not be read; it goes out as it came.',
  markerElsewhere: ({ where }: Fields<'where'>) => `A marker stands ${where} and on no clip; it is kept as a note of the list.`,
  brokenJson: ({ message }: Fields<'message'>) => `This is not whole JSON (${message}). Ask for the file again; it may have been cut off.`,
  noTimeline: () => 'The file holds no timeline, stack or track.',
  brokenTimeline: ({ wrong }: Fields<'wrong'>) => `The timeline lacks what it must have: ${wrong}.`,
  severalTimelines: ({ timelines, title, others }: Fields<'timelines' | 'title' | 'others'>) =>
    `The file holds ${timelines} timelines; "${title}" was read, and not ${others}.`,
  brokenStart: () => 'The start time of the cut could not be read; its first frame is taken for 00:00:00:00.',
  countingAssumed: ({ rate, dropRate }: Fields<'rate' | 'dropRate'>) =>
    `The format does not say whether timecode at ${rate} is drop-frame; non-drop was taken. Set the rate to ${dropRate} if the labels are wrong.`,
  noSchema: () => 'it does not say what it is',
  brokenTrack: ({ index, wrong }: Fields<'index' | 'wrong'>) => `Track ${index} could not be read (${wrong}).`,
  strayAmongTracks: ({ schema }: Fields<'schema'>) => `${schema} among the tracks is not in the conform; it goes out as it came.`,
  trackKind: ({ name }: Fields<'name'>) =>
    `The track ${name} is neither picture nor sound; it is not in the conform and goes out as it came.`,
  labelAsRange: ({ name }: Fields<'name'>) =>
    `The range of ${name} begins below zero; it was taken for a label of its start, and everything is shown.`,
  shownInPart: ({ name, events, transitions }: { readonly name: string; readonly events: number; readonly transitions: number }) =>
    `${name} is shown in part only: ${plural(events, 'event')} and ${plural(transitions, 'transition')} outside were left out.`,
  brokenItem: ({ track, wrong, placed }: Fields<'track' | 'wrong'> & { readonly placed: boolean }) =>
    `An item on ${track} could not be read (${wrong}); what follows it ${placed ? 'keeps its place, which the length of the track gives' : 'may stand too early'}.`,
  transitionToGap: ({ track }: Fields<'track'>) => `A transition on ${track} leads out of the picture; a black event carries it.`,
  keptAsEvent: ({ schema }: Fields<'schema'>) => `An item of the kind ${schema} was kept as an event.`,
  zeroLength: ({ name, track }: Fields<'name' | 'track'>) =>
    `The clip "${name}" on ${track} has no length; it was left out, and goes out as it came.`,
  takesNoTime: ({ schema, track }: Fields<'schema' | 'track'>) =>
    `${schema} on ${track} takes no time; it is not in the conform and goes out as it came.`,
  transitionAtEnd: ({ track }: Fields<'track'>) => `The last transition on ${track} leads to nothing; a cut stands there.`,
  trackOff: ({ track }: Fields<'track'>) => `${track} is switched off as a whole; its events are read as switched off.`,
  noRange: ({ name, track, frames }: Fields<'name' | 'track'> & { readonly frames: number | null }) =>
    `The clip "${name}" on ${track} states no range and its media none; ${frames === null ? 'it was left out, and what follows on its track may stand too early' : `its length, ${plural(frames, 'frame')}, is what the range of the track leaves for it`}.`,
  brokenTransition: ({ track }: Fields<'track'>) => `A transition on ${track} could not be read; a cut stands there.`,
  transitionWithoutLength: ({ track }: Fields<'track'>) => `A transition on ${track} has no length; a cut stands there.`,
  transitionKind: ({ name, track }: Fields<'name' | 'track'>) => `The transition "${name}" on ${track} is shown as a dissolve.`,
});
