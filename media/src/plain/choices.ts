import type { ClipCodec } from '@gemello/core';

/** What a whole conform is written as: ten bits and every frame by itself, the same at less, or a small movie to look at. */
export const RENDER_CODECS = ['intra', 'intra-light', 'review'] as const satisfies readonly ClipCodec[];
export type RenderCodec = (typeof RENDER_CODECS)[number];

/** What a still shows: the conform, the reference, both beside each other, each in its half, or how much they differ. */
export const SHOWS = ['conform', 'reference', 'facing', 'split', 'difference'] as const;
export type Show = (typeof SHOWS)[number];
