import { create } from 'zustand';
import { persist } from 'zustand/middleware';
import type { CompareMode } from '../looking/ways';
import type { Channel } from '../viewing/drawing';

/** What may be chosen for a side of the viewer; a version of the cut by the id of its list. */
export type SideChoice = 'reference' | 'conform' | 'original' | 'candidate' | `version ${string}`;

/** How pictures are looked at, kept from one visit to the next. */
interface Looking {
  readonly mode: CompareMode;
  readonly a: SideChoice;
  readonly b: SideChoice;
  /** Where the line of a split crosses the middle, 0..1, and how far it is turned, in degrees. */
  readonly line: number;
  readonly angle: number;
  readonly gain: number;
  readonly blend: number;
  /** Swaps a second; 0 by hand. */
  readonly hertz: number;
  /** How strongly the reference is tinted, 0..1. */
  readonly tint: number;
  readonly channel: Channel;
  /** Record, source, reel and name over the pictures. */
  readonly names: boolean;
  /** Safe areas. */
  readonly areas: boolean;
  readonly scopes: boolean;
  readonly sound: boolean;
  /** What is heard where there is guide sound and a reference that has some. */
  readonly hears: 'guide' | 'reference';
  readonly scrubs: boolean;
  readonly volume: number;
  /** Frames before and after an event that are played with it, and whether it begins again. */
  readonly roll: number;
  readonly loops: boolean;
  readonly lower: 'lanes' | 'frames' | 'agreement';
  readonly side: 'findings' | 'values';
  readonly below: 'pair' | 'values';
  set(change: Partial<Omit<Looking, 'set'>>): void;
}

export const useLooking = create<Looking>()(
  persist(
    (set) => ({
      mode: 'beside',
      a: 'reference',
      b: 'conform',
      line: 0.5,
      angle: 0,
      gain: 1,
      blend: 0.5,
      hertz: 0,
      tint: 0,
      channel: 'colour',
      names: false,
      areas: false,
      scopes: false,
      sound: true,
      hears: 'guide',
      scrubs: false,
      volume: 0.8,
      roll: 12,
      loops: false,
      lower: 'lanes',
      side: 'findings',
      below: 'pair',
      set,
    }),
    { name: 'gemello-looking', version: 1 },
  ),
);
