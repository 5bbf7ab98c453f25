import { type Fields, form, plural, type Sentence, wording } from '../words';

type Counts<Name extends string> = Readonly<Record<Name, number>>;

/** What is said of every list, whatever its format: as it arrives, and as it is written and read again. */
export const LIST_WORDS = wording({
  empty: () => 'No event of the list could be taken over; there is nothing to conform. Ask for the list again.',
  noPicture: ({ tracks }: Counts<'tracks'>) => `The list holds sound only, on ${plural(tracks, 'track')}; there is no picture to conform.`,
  overlap: ({ event, frames, running, track }: Fields<'event' | 'running' | 'track'> & Counts<'frames'>) =>
    `${event} begins ${plural(frames, 'frame')} before ${running} has ended, both on ${track}; the later one is shown.`,
  noTextLeftOut: ({ events }: Counts<'events'>) =>
    `Names or notes of ${plural(events, 'event')} or of the list held characters that are no text; those were left out.`,
  transitionTooLong: ({ event, stated, fitting }: Fields<'event'> & Counts<'stated' | 'fitting'>) =>
    `${event} begins with a transition of ${plural(stated, 'frame')}, longer than what it joins; it was cut to ${fitting}.`,
  noFile: () => 'No file was given.',
  brokenFile: ({ fileName, problem }: Fields<'fileName' | 'problem'>) => `${fileName}: ${problem}`,
  emptyFile: ({ fileName }: Fields<'fileName'>) => `${fileName} is empty.`,
  unknownFile: ({ fileName, formats }: Fields<'fileName' | 'formats'>) => `${fileName} is not a list Gemello knows. It reads ${formats}.`,
  ratesDiffer: ({ fileName, rate, below }: Fields<'fileName' | 'rate' | 'below'>) =>
    `${fileName} states ${rate}, the layer below it ${below}; all are read at ${below}.`,
  nestedKept: ({ name }: Fields<'name'>) =>
    `The nested cut "${name}" was kept as one event, since opening it would change the picture; open it in the editor's system to conform what is inside.`,
  nestedOpened: ({ name, events, layers, transitions }: Fields<'name'> & Counts<'events' | 'layers' | 'transitions'>) =>
    `The nested cut "${name}" was opened: ${plural(events, 'event')} on ${plural(layers, 'layer')}.${transitions > 0 ? ` ${plural(transitions, 'transition')} at its edges became ${form(transitions, 'a cut', 'cuts')}.` : ''}`,
  more: ({ count, last }: Fields<'count' | 'last'>) => `${count} more like those before; the last of them: ${last}`,
  tooLarge: ({ size, most }: Fields<'size' | 'most'>) => `It is ${size} long; lists above ${most} are not read. Is it a list at all?`,
  brokenArchive: ({ fault }: Fields<'fault'>) => `The archive is not whole (${fault}). Ask for the file again; it may have been cut off.`,
  noDirectory: () => 'its directory is missing',
  otherChecksum: () => 'its timeline does not have the checksum it should',
  noEnd: () => 'its end is missing',
  noBundle: ({ content }: Fields<'content'>) => `It is an archive without ${content}; only OpenTimelineIO bundles are read.`,
  tooLargeUnpacked: ({ most, packed }: Fields<'most' | 'packed'>) =>
    `Its timeline unpacks to more than ${most} from ${packed}; no list does. Ask for the file again.`,
  reelsShortened: ({ reels, length }: Counts<'reels' | 'length'>) =>
    `${plural(reels, 'reel was', 'reels were')} shortened to ${plural(length, 'character')}; a table of the originals goes with the list.`,
  dropFrameImpossible: ({ rate }: Fields<'rate'>) => `Drop-frame does not exist at ${rate}; record timecode stays non-drop.`,
});

/** What was not cleaned up before a cut was sent; `n` is how many events or other things it concerns. */
export const PREPARATION_WORDS = {
  gap: (n: number) => `${plural(n, 'gap')} on the main layer; the picture is black there.`,
  overlap: (n: number) => `${plural(n, 'event')} ${form(n, 'begins', 'begin')} before the one ahead has ended; the later one is shown.`,
  layers: (n: number, above: number) => `${plural(n, 'event')} on ${plural(above, 'layer')} above the main one.`,
  nested: (n: number, closed: number) =>
    `${plural(n, 'nested cut')}${closed > 0 ? `; what is inside ${closed} of them cannot be conformed from this list` : ', opened on arrival'}.`,
  effect: (n: number) => `${plural(n, 'event')} with effects that no conform carries.`,
  switchedOff: (n: number) => `${plural(n, 'event is', 'events are')} switched off.`,
  title: (n: number) => `${plural(n, 'title')} in the list; titles stay with the editor.`,
  retimed: (n: number) => `${plural(n, 'retimed shot')} on the main layer; on a layer of their own they are easier to find.`,
  oneFrame: (n: number) => `${plural(n, 'event')} of a single frame; often left over by accident.`,
  duplicateNumber: (n: number) => `${plural(n, 'event')} ${form(n, 'shares', 'share')} a number with another.`,
  pastReference: (n: number) => `${plural(n, 'event')} ${form(n, 'runs', 'run')} past the end of the reference.`,
  sound: (n: number) => `${plural(n, 'sound track')} in the list; picture alone is conformed.`,
} as const;

/** So many effects are told by name; the rest as a number. */
const MOST_NAMED = 20;

/** What a format, by its title, does not carry of the list as a whole. */
export const CARRYING_WORDS = wording({
  notReadBack: ({ fault }: Fields<'fault'>) => `What was written could not be read again: ${fault}`,
  noText: ({ events }: Counts<'events'>) =>
    `Characters that are no text, in names or notes of ${plural(events, 'event')} or of the list: no list can hold them.`,
  overlaps: ({ layers, title }: Counts<'layers'> & Fields<'title'>) =>
    `Events that overlap on their track go to ${plural(layers, 'further layer')}: in ${title} what stands on one track follows one another. Where the later one does not fill the frame, the earlier one shows behind it.`,
  added: ({ events, title }: Counts<'events'> & Fields<'title'>) =>
    `${plural(events, 'event')} more than the cut has: ${title} reads them where none were.`,
  layers: ({ layers, held, title }: Counts<'layers' | 'held'> & Fields<'title'>) => `${plural(layers, 'layer')}: ${title} holds ${held}.`,
  trackNames: ({ meant, found }: Fields<'meant' | 'found'>) => `The names of tracks: ${meant} come back as ${found || 'none'}.`,
  framing: ({ title }: Fields<'title'>) => `The raster of the cut: ${title} does not state it.`,
  rate: ({ title }: Fields<'title'>) => `The frame rate of the cut: ${title} states another.`,
  counting: ({ title }: Fields<'title'>) => `Whether record timecode is drop-frame: ${title} does not state it.`,
  title: ({ meant, found, title }: Fields<'meant' | 'found' | 'title'>) => `The title "${meant}": ${title} gives back "${found}".`,
  listNotes: ({ notes }: Counts<'notes'>) => `${plural(notes, 'note')} of the list as a whole.`,
  effects: ({ effects, title }: Fields<'title'> & { readonly effects: readonly { readonly name: string; readonly events: number }[] }) =>
    `${plural(effects.length, 'effect')} that ${title} has no place for: ${effects
      .slice(0, MOST_NAMED)
      .map(({ name, events }) => `"${name}" on ${plural(events, 'event')}`)
      .join(', ')}${effects.length > MOST_NAMED ? ` and ${effects.length - MOST_NAMED} more` : ''}.`,
  metadata: ({ events, format }: Counts<'events'> & Fields<'format'>) =>
    `Metadata of ${plural(events, 'event')} that only ${format} has a place for.`,
});

/** What a format, by its title `t`, does not carry of `n` events ("3 events"), by the aspect that differs. */
const ASPECT_WORDS = {
  events: (n, t) => `${n} that ${t} cannot hold as they are.`,
  black: (n, t) => `${n} of black: ${t} leaves a gap there.`,
  record: (n, t) => `${n} that stand elsewhere on the record in ${t}.`,
  kinds: (n, t) => `${n} such as titles, bars or generators: ${t} does not say what they are.`,
  dissolves: (n, t) => `${n} with a dissolve: ${t} has cuts only.`,
  wipes: (n, t) => `${n} with a wipe: ${t} has no wipes.`,
  keys: (n, t) => `${n} with a key: ${t} has none.`,
  transitions: (n, t) => `${n} whose transition begins or ends elsewhere, or leaves something else, in ${t}.`,
  'wipe-looks': (n, t) => `${n} whose wipe has another pattern, direction or edge in ${t}.`,
  'mixed-rates': (n, t) => `${n} at another rate than the cut: ${t} counts all at one rate.`,
  source: (n, t) => `${n} that begin or end at another frame of their source in ${t}.`,
  'source-counting': (n, t) => `${n} whose source timecode is counted otherwise in ${t}: drop-frame or not.`,
  'keyed-speed': (n, t) => `${n} whose speed changes on the way: ${t} gets the mean speed.`,
  speed: (n, t) => `${n} with a speed that ${t} cannot say.`,
  'rate-modes': (n, t) => `${n} for which it was settled how another rate runs: ${t} does not say it.`,
  'part-frames': (n) =>
    `${n} whose source begins on a part of a frame, as retimed ones do after a trim: single frames of them will show the one beside.`,
  placement: (n, t) => `${n} with another size or position: ${t} cannot say it.`,
  'part-placement': (n, t) => `${n} whose size or position ${t} says in part only.`,
  cdl: (n, t) => `${n} with a CDL grade: ${t} has no place for it; send a .ccc beside it.`,
  'switched-off': (n, t) => `${n} that are switched off: ${t} cannot say so, and they are left out.`,
  numbers: (n, t) => `${n} with a number: ${t} does not number them so.`,
  links: (n, t) => `${n} linked with others: ${t} does not say what belongs together.`,
  reels: (n, t) => `${n} with a reel that ${t} cannot hold as it is.`,
  'clip-names': (n, t) => `${n} with a clip name that ${t} cannot hold as it is.`,
  'file-names': (n, t) => `${n} with a file name: ${t} has no place for it.`,
  places: (n, t) => `${n} whose list says where the offline clip lay: ${t} does not.`,
  markers: (n, t) => `${n} with markers that ${t} has no place for.`,
  'marker-colours': (n, t) => `${n} whose markers have another colour in ${t}.`,
  notes: (n, t) => `${n} with notes that ${t} has no place for.`,
  'early-transitions': (n, t) => `${n} whose transition begins before the first frame of its source: in ${t} it begins with that frame.`,
  'cut-points': (n, t) =>
    `${n} whose cut lies neither at the start, the middle nor the end of its transition: ${t} puts it in the middle, and the picture is the same.`,
  'laid-mixed-rates': (n, t) =>
    `${n} at another rate than the cut: ${t} counts all at one rate; the labels of the source stay where that rate has them.`,
  'source-lengths': (n, t) =>
    `${n} whose source is longer or shorter than its speed asks for: ${t} says where it begins and how fast it runs.`,
} as const satisfies Readonly<Record<string, (events: string, title: string) => string>>;

/** What may differ between an event and what is read of it again. */
export type AspectName = keyof typeof ASPECT_WORDS;

/** What a format, by its title, does not carry of some events, by the aspect that differs. */
export const aspectSaid = (aspect: AspectName, events: number, title: string): Sentence => ({
  message: ASPECT_WORDS[aspect](plural(events, 'event'), title),
  fields: { events, title },
});
