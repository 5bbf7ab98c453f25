import { type Fields, plural, wording } from '../../words';

/** What is said of an AAF file as it is read. */
export const AAF_WORDS = wording({
  notWhole: ({ message }: Fields<'message'>) =>
    `This compound file is not whole (${message}). Ask for the file again; it may have been cut off.`,
  noComposition: () => 'The file holds no composition: it describes clips, but no cut of them.',
  clipAsCut: ({ clip }: Fields<'clip'>) => `The file holds no cut; the clip "${clip}" was read as one.`,
  dropRefused: ({ rate }: Fields<'rate'>) => `The cut states drop-frame, which ${rate} has not; it is counted without.`,
  severalCompositions: ({ compositions, title, others }: Fields<'compositions' | 'title' | 'others'>) =>
    `The file holds ${compositions} compositions; "${title}" was read, and not ${others}.`,
  rateAssumed: ({ rate }: Fields<'rate'>) =>
    `No picture track of the cut states its rate; ${rate} was assumed. Set the rate if that is wrong: every number depends on it.`,
  startAssumed: () => 'The cut states no start timecode; its first frame is taken for 00:00:00:00.',
  missingParts: ({ what, missing }: { readonly what: string; readonly missing: number }) =>
    `${plural(missing, 'part')} of ${what} ${missing === 1 ? 'is' : 'are'} not in the file; what follows may stand too early.`,
  unknownPart: ({ what }: Fields<'what'>) =>
    `A part of a kind that is not read (${what}) stands for so many frames; its place is left empty.`,
  effect: ({ effect, clip, values }: Fields<'effect' | 'clip' | 'values'>) =>
    `The effect "${effect}" on ${clip} is not carried${values === '' ? '' : ` (${values})`}; the clip is shown as it is.`,
  effectPartly: ({ effect, clip, values }: Fields<'effect' | 'clip' | 'values'>) =>
    `Of the effect "${effect}" on ${clip} only the size is carried, and not ${values}.`,
  inputs: ({ effect, inputs }: { readonly effect: string; readonly inputs: number }) =>
    `The effect "${effect}" takes ${plural(inputs, 'picture')}; they are shown above each other.`,
  matte: ({ effect, clip }: Fields<'effect' | 'clip'>) => `The effect "${effect}" on ${clip} has a matte, which is not applied.`,
  transition: ({ effect }: Fields<'effect'>) => `The transition "${effect}" is taken for a dissolve of its length.`,
  keyedSpeed: ({ clip }: Fields<'clip'>) => `The speed of ${clip} changes on the way; between its points it is taken to change evenly.`,
  unevenPlacement: ({ clip }: Fields<'clip'>) =>
    `The size or opacity of ${clip} changes on the way; between its points it is taken to change evenly.`,
  zeroSpeed: ({ clip }: Fields<'clip'>) => `The speed of ${clip} is stated as a ratio of 0; its first frame is held.`,
  speedInSpeed: ({ clip }: Fields<'clip'>) =>
    `${clip} changes its speed under another change of speed; the outer one could not be applied and is left out.`,
  heldPlacement: ({ clip }: Fields<'clip'>) =>
    `The size or opacity of ${clip} changes under a change of speed that cannot carry it; it is held as it begins.`,
  brokenSpeed: ({ clip }: Fields<'clip'>) => `The speed of ${clip} could not be read; natural speed was taken.`,
  scopeReference: ({ scope, slot }: { readonly scope: number; readonly slot: number }) =>
    `A part refers to layer ${slot} below it, ${plural(scope, 'nest')} further out, which is not followed; its place is left empty.`,
  alternates: ({ clip, alternates }: { readonly clip: string; readonly alternates: number }) =>
    `${clip} has ${plural(alternates, 'alternate')} that ${alternates === 1 ? 'is' : 'are'} not shown.`,
  pulldown: ({ clip, given, of }: { readonly clip: string; readonly given: number; readonly of: number }) =>
    given === of
      ? `${clip} is played through a pulldown, frame for frame.`
      : `${clip} is played through a pulldown: ${plural(given, 'frame')} for ${of} of its source.`,
  unknownPulldown: ({ clip }: Fields<'clip'>) =>
    `${clip} is played through a pulldown of a kind that is not known; its frames are counted one for one.`,
  missingMob: ({ clip }: Fields<'clip'>) => `The clip that ${clip} points at is not in the file; nothing is known of its source.`,
  circle: ({ clip }: Fields<'clip'>) => `The chain of ${clip} comes back to where it was; it was followed so far.`,
  noTimecode: ({ clip }: Fields<'clip'>) => `No timecode is known of ${clip}; its frames are counted from the start of its file.`,
  noLabel: ({ clip }: Fields<'clip'>) => `${clip} begins where its source has no timecode yet; it is counted back from where that begins.`,
  betweenFrames: ({ clip }: Fields<'clip'>) => `${clip} begins between two frames of its source; the earlier one was taken.`,
  markerElsewhere: ({ text }: Fields<'text'>) => `The marker "${text}" stands on no clip; it is kept as a note of the list.`,
  trackKind: ({ name }: Fields<'name'>) => `The track ${name} is neither picture nor sound; it is not in the conform.`,
});
