import { z } from 'zod';
import type { Cdl } from '../edit/model';
import { escaped, type Node, parseXml } from '../xml';
import { GRADE_WORDS } from './wording';

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
 * in `problems`, with its line. Entities and outside references are never followed.
 */
export function readCdlFile(text: string): { grades: NamedCdl[]; problems: string[] } {
  const top = parseXml(text);
  if ('fault' in top) return { grades: [], problems: [GRADE_WORDS.brokenXml(top)] };
  const grades: NamedCdl[] = [];
  const problems: string[] = [];
  for (const node of corrections(top)) {
    const id = node.attributes.id ?? '';
    const sop = inside(node, 'SOPNode');
    const parsed = cdlSchema.safeParse({
      slope: numbers(sop, 'Slope', [1, 1, 1]),
      offset: numbers(sop, 'Offset', [0, 0, 0]),
      power: numbers(sop, 'Power', [1, 1, 1]),
      saturation: numbers(inside(node, 'SatNode'), 'Saturation', [1])[0],
    });
    if (parsed.success) grades.push({ id, cdl: parsed.data });
    else problems.push(GRADE_WORDS.outOfRange({ id, line: node.line }));
  }
  if (grades.length === 0 && problems.length === 0) problems.push(GRADE_WORDS.noCorrection());
  return { grades, problems };
}

/** The name of an element without its namespace's prefix. */
const plainName = ({ name }: Node): string => name.slice(name.indexOf(':') + 1);

const inside = (node: Node, name: string): Node | null => node.children.find((c) => plainName(c) === name) ?? null;

/** The corrections at any depth: alone, in a collection, or in a list of decisions. */
const corrections = (node: Node): Node[] => (plainName(node) === 'ColorCorrection' ? [node] : node.children.flatMap(corrections));

function numbers(around: Node | null, name: string, neutral: number[]): number[] {
  const found = around && inside(around, name);
  return found ? found.text.split(/\s+/).map(Number) : neutral;
}

/** The elements of an ASC CDL 1.2 file that lie around each correction, from the outermost, by the extension of the file. */
const AROUND = { ccc: ['ColorCorrectionCollection'], cdl: ['ColorDecisionList', 'ColorDecision'], cc: [] } as const;
export type CdlFileKind = keyof typeof AROUND;

/** Writes grades in an ASC CDL 1.2 file: a collection (`.ccc`), a list of decisions (`.cdl`), or one correction (`.cc`), which is the first. */
export function writeCdlFile(grades: readonly NamedCdl[], kind: CdlFileKind = 'ccc'): string {
  const [outer, inner] = AROUND[kind];
  const namespace = ' xmlns="urn:ASC:CDL:v1.2"';
  const one = ({ id, cdl }: NamedCdl) => {
    const correction = `<ColorCorrection id="${escaped(id)}"${outer ? '' : namespace}>
  <SOPNode>
    <Slope>${cdl.slope.join(' ')}</Slope>
    <Offset>${cdl.offset.join(' ')}</Offset>
    <Power>${cdl.power.join(' ')}</Power>
  </SOPNode>
  <SatNode>
    <Saturation>${cdl.saturation}</Saturation>
  </SatNode>
</ColorCorrection>`;
    return inner ? `<${inner}>\n${indented(correction)}\n</${inner}>` : correction;
  };
  const all = (outer ? grades : grades.slice(0, 1)).map(one).join('\n');
  return `<?xml version="1.0" encoding="UTF-8"?>\n${outer ? `<${outer}${namespace}>\n${indented(all)}\n</${outer}>` : all}\n`;
}

const indented = (text: string): string => text.replace(/^/gm, '  ');
