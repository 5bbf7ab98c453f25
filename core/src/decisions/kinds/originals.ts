import { correctionSchema, elsewhereSchema, folderCorrectionSchema, joinSchema, proxyWordSchema } from '../../originals';
import { kind, nameOf } from '../kind';

/** Words about originals. They say nothing of events: `takenAs` takes them into the originals. */
export const correct = kind({
  schema: correctionSchema,
  scope: (d) => ({ of: 'original', original: d.original }),
  says: (d) =>
    `${correctionText(d, d.start === undefined ? undefined : d.start === null ? null : 'timecode set')}${d.source ? `, by ${d.source}` : ''}`,
  moved: (d, at) => ({ ...d, original: at(d.original) }),
});

export const correctFolder = kind({
  schema: folderCorrectionSchema,
  scope: (d) => ({ of: 'folder', folder: d.folder }),
  says: (d) => correctionText(d, d.shift && `timecode shifted by ${d.shift}`),
  moved: (d, at) => ({ ...d, folder: at(d.folder) }),
});

export const proxy = kind({
  schema: proxyWordSchema,
  scope: (d) => ({ of: 'original', original: d.original }),
  says: (d) => (d.of === null ? 'not a proxy' : `a proxy of ${nameOf(d.of)}`),
  moved: (d, at) => ({ ...d, original: at(d.original), of: d.of && at(d.of) }),
});

export const join = kind({
  schema: joinSchema,
  scope: (d) => ({ of: 'original', original: d.original }),
  says: (d) => (d.parts.length === 0 ? 'stands alone' : `continues in ${d.parts.map(nameOf).join(', ')}`),
  moved: (d, at) => ({ ...d, original: at(d.original), parts: d.parts.map(at) }),
});

export const elsewhere = kind({
  schema: elsewhereSchema,
  scope: (d) => ({ of: 'folder', folder: d.folder }),
  says: (d) => (d.is ? 'made elsewhere from shots of the cut' : 'not made elsewhere'),
  moved: (d, at) => ({ ...d, folder: at(d.folder) }),
});

/** What was corrected; null is a word taken back, undefined not stated. */
function correctionText(
  said: Partial<Record<'reel' | 'scene' | 'take' | 'rate', string | null | undefined>>,
  timecode: string | null | undefined,
): string {
  const part = (field: 'reel' | 'scene' | 'take' | 'rate') => {
    const value = said[field];
    return value === undefined ? '' : value === null ? `${field} as the file says` : `${field} ${value}`;
  };
  const when = timecode === undefined ? '' : (timecode ?? 'timecode as the file says');
  return [part('reel'), part('scene'), part('take'), when, part('rate')].filter(Boolean).join(', ');
}
