import type { Fields } from '../words';

/** What is said of a final mix that is laid under a cut. */
export const MIX_WORDS = {
  silent: () => 'Nothing is heard in the mix or in the guide sound; there is nothing to lay it by.',
  'other-sound': () => 'The mix does not sound like the guide sound of this cut anywhere near its place. Is it the mix of another cut?',
  'cut-otherwise': () => 'Parts of the mix lie differently against the guide sound: it was made for another version of the cut.',
  speed: ({ percent, side }: Fields<'percent' | 'side'>) =>
    `The mix takes ${percent} % ${side} time than the cut: it was made at another rate. Ask for it at the rate of the cut.`,
  drift: ({ frames, ppm }: Fields<'frames' | 'ppm'>) =>
    `The mix runs off by ${frames} frames until the end (${ppm} parts of a million). Ask for it at the rate of the cut.`,
  short: ({ head, tail }: Fields<'head' | 'tail'>) => `The mix lacks ${head} s at the head of the cut and ${tail} s at its tail.`,
  lies: ({ side, seconds, ppm, agreeing, places }: Fields<'side' | 'seconds' | 'ppm' | 'agreeing' | 'places'>) =>
    `The mix begins ${seconds} s ${side} the cut and runs off by ${ppm} parts of a million, told at ${agreeing} of ${places} places.`,
} as const;
