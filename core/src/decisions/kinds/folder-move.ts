import { z } from 'zod';
import { kind } from '../kind';

const folder = z.string().min(1).max(4096);

/** Says that what lay in one folder lies in another now. Every path of the job is read so (`folderMoves`). */
export const folderMove = kind({
  schema: z.object({ kind: z.literal('folder-move'), from: folder, to: folder }),
  scope: (d) => ({ of: 'folder', folder: d.to }),
  says: (d) => `what was in ${d.from} is there now`,
});
