import { type Fields, plural, wording } from '../../words';

/** What is said of interchange XML as it is read. */
export const XMEML_WORDS = wording({
  brokenItem: ({ name, id }: Fields<'name' | 'id'>) =>
    `"${name}" (${id}) has no place on the record or no source in and out; it was left out.`,
  brokenSpeed: ({ name }: Fields<'name'>) => `"${name}" states no speed that can be; natural speed was taken.`,
  generator: ({ name }: Fields<'name'>) => `"${name}" is made by the editor's system; it has no camera original and needs none.`,
  noTimecode: ({ name }: Fields<'name'>) =>
    `The timecode of the file of "${name}" could not be read; its first frame is taken for 00:00:00:00.`,
  labelsDisagree: ({ name, label, text }: Fields<'name' | 'label' | 'text'>) =>
    `${name} states its first frame twice, as ${label} by its count and as ${text} in words; the count was taken. Check where it begins.`,
  noWipeCode: ({ effect, track }: Fields<'effect' | 'track'>) =>
    `The transition "${effect}" on ${track} states no pattern; it was read as a wipe without one.`,
  severalAngles: ({ name, angles, active }: Fields<'name' | 'angles' | 'active'>) =>
    `"${name}" holds ${angles} angles; the active one, "${active}", was read, and the others were left out.`,
  effect: ({ effect, name }: Fields<'effect' | 'name'>) =>
    `The effect "${effect}" on "${name}" has no place in a conform and was left out.`,
  brokenKey: ({ name, count }: Fields<'name' | 'count'>) =>
    `"${name}" moves by keys of which ${count} could not be read; they were left out.`,
  curvedMotion: ({ name, curves }: Fields<'name' | 'curves'>) =>
    `"${name}" moves on curves (${curves}); it was read as moving evenly from key to key.`,
  ratesCarried: ({ name, item, file, cut }: Fields<'name' | 'item' | 'file' | 'cut'>) =>
    `"${name}" counts its source at ${item}, its file runs at ${file} and the cut at ${cut}; positions were carried by real time, here and in every item like it.`,
  positionsDisagree: ({ name, frame, tick, rate }: Fields<'name' | 'frame' | 'tick' | 'rate'>) =>
    `"${name}" states where its source begins twice, as frame ${frame} and in ticks as frame ${tick}, both at ${rate}; the frame was taken. Check the shot.`,
  lengthDiffers: ({ name, length, rate, record }: Fields<'name' | 'length' | 'rate' | 'record'>) =>
    `"${name}" takes ${length} frames of source at ${rate} for ${record} frames of record and states no speed; its source in and the length of the record are used.`,
  brokenMarker: ({ marker }: Fields<'marker'>) => `A marker "${marker}" has no place that could be read; it was left out.`,
  brokenXml: ({ fault }: Fields<'fault'>) => `The XML is not whole: ${fault}. Ask for the file again; it may have been cut off.`,
  otherRoot: ({ name }: Fields<'name'>) => `The root element is ${name}, not xmeml.`,
  noSequence: () => 'The file holds no sequence.',
  severalSequences: ({ sequences, title, others }: Fields<'sequences' | 'title' | 'others'>) =>
    `The file holds ${sequences} sequences; "${title}" was read, and not ${others}.`,
  sequenceMarkers: ({ count }: { readonly count: number }) =>
    `Markers on the cut itself are kept as ${count === 1 ? 'a note' : plural(count, 'note')} of the list.`,
  rateOfFirstClip: ({ name, rate }: Fields<'name' | 'rate'>) =>
    `The sequence "${name}" does not state its frame rate; ${rate}, the rate of its first clip, was taken. Set the rate if that is wrong: every number depends on it.`,
  rateAssumed: ({ name }: Fields<'name'>) =>
    `The sequence "${name}" does not state its frame rate, nor do its clips; 24 was assumed. Set the rate if that is wrong: every number depends on it.`,
  nestedCircle: ({ name }: Fields<'name'>) => `The nested cut "${name}" shows itself; it was kept as one event and not opened.`,
  nestedTooMany: ({ name, deepest, most }: Fields<'name' | 'most'> & { readonly deepest: number | null }) =>
    `The nested cut "${name}" ${deepest === null ? `would be one of more than ${most} events in nested cuts` : `lies more than ${deepest} levels deep`}; it was kept as one event and not opened.`,
  trackOff: ({ name }: Fields<'name'>) => `${name} is switched off as a whole; its events are read as switched off.`,
  transitionWithoutLength: ({ track }: Fields<'track'>) => `A transition on ${track} has no length; a cut stands there.`,
  transitionKind: ({ effect, track }: Fields<'effect' | 'track'>) => `The transition "${effect}" on ${track} was read as a dissolve.`,
});
