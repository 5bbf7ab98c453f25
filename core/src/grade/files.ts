import { z } from 'zod';
import type { Cdl } from '../edit/model';

const triple = z.tuple([z.number(), z.number(), z.number()]);
const positiveTriple = z.tuple([z.number().min(0), z.number().min(0), z.number().min(0)]);

/** ASC CDL 1.2 ranges: slope, power and saturation are 0 or above; offset is free. */
export const cdlSchema: z.ZodType<Cdl> = z.object({
  slope: positiveTriple,
  offset: triple,
  power: positiveTriple,
  saturation: z.number().min(0),
});

/** A grade with the id it has in its file. */
export interface NamedCdl {
  readonly id: string;
  readonly cdl: Cdl;
}

/**
 * Reads the corrections of an ASC CDL file (`.cc`, `.ccc`, `.cdl`; ASC CDL 1.2 XML). Values that are
 * missing keep their neutral number; a correction with numbers out of range is left out and named
 * in `problems`. Entities and outside references are never followed: only plain tags are looked for.
 */
export function readCdlFile(text: string): { grades: NamedCdl[]; problems: string[] } {
  const grades: NamedCdl[] = [];
  const problems: string[] = [];
  for (const match of text.matchAll(/<ColorCorrection\b([^>]*)>([\s\S]*?)<\/ColorCorrection>/g)) {
    const id = /\bid\s*=\s*["']([^"']*)["']/.exec(match[1] ?? '')?.[1] ?? '';
    const parsed = cdlSchema.safeParse({
      slope: numbers(match[2] ?? '', 'Slope', [1, 1, 1]),
      offset: numbers(match[2] ?? '', 'Offset', [0, 0, 0]),
      power: numbers(match[2] ?? '', 'Power', [1, 1, 1]),
      saturation: numbers(match[2] ?? '', 'Saturation', [1])[0],
    });
    if (parsed.success) grades.push({ id, cdl: parsed.data });
    else problems.push(`Correction "${id}" has numbers out of range (slope, power and saturation are 0 or above).`);
  }
  if (grades.length === 0 && problems.length === 0) problems.push('No ColorCorrection was found in the file.');
  return { grades, problems };
}

function numbers(body: string, tag: string, neutral: number[]): number[] {
  const text = new RegExp(`<${tag}>([^<]*)</${tag}>`).exec(body)?.[1];
  return text === undefined ? neutral : text.trim().split(/\s+/).map(Number);
}

/** Writes grades as an ASC CDL 1.2 ColorCorrectionCollection (`.ccc`). */
export function writeCdlFile(grades: readonly NamedCdl[]): string {
  const escaped = (s: string) => s.replace(/&/g, '&amp;').replace(/</g, '&lt;').replace(/"/g, '&quot;');
  const one = ({ id, cdl }: NamedCdl) => `  <ColorCorrection id="${escaped(id)}">
    <SOPNode>
      <Slope>${cdl.slope.join(' ')}</Slope>
      <Offset>${cdl.offset.join(' ')}</Offset>
      <Power>${cdl.power.join(' ')}</Power>
    </SOPNode>
    <SatNode>
      <Saturation>${cdl.saturation}</Saturation>
    </SatNode>
  </ColorCorrection>`;
  return `<?xml version="1.0" encoding="UTF-8"?>
<ColorCorrectionCollection xmlns="urn:ASC:CDL:v1.2">
${grades.map(one).join('\n')}
</ColorCorrectionCollection>
`;
}
