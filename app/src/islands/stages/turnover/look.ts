/** What the lower part of the stage shows. */
export type Look = { readonly kind: 'reading' | 'writing' | 'cuts' } | { readonly kind: 'arrival' | 'beside'; readonly list: string };
