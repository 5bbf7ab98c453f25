import type { MeasuredChecksum, Original, StatedChecksum, Warning } from './model';
import { ORIGINALS_WORDS } from './wording';

/** The algorithms that manifests name and Gemello measures, as they are called in ASC MHL 2.0. */
export const ALGORITHMS = ['xxh64', 'xxh3', 'xxh128', 'md5', 'sha1', 'c4'] as const;
export type Algorithm = (typeof ALGORITHMS)[number];

/** What is measured of a file of which no manifest speaks. */
export const USUAL_ALGORITHM: Algorithm = 'xxh64';

/** Older manifests call some algorithms otherwise, and write one of them with its bytes in reverse (from memory). */
const OLDER: Record<string, Algorithm> = { xxhash64: 'xxh64', xxhash64be: 'xxh64', sha1sum: 'sha1', md5sum: 'md5' };

/** The algorithm a manifest names; null when it is none that is measured here. */
export function algorithmOf(name: string): Algorithm | null {
  const plain = name.toLowerCase();
  return ALGORITHMS.find((a) => a === plain) ?? OLDER[plain] ?? null;
}

/** One word of a manifest against what was measured: `unchecked` until it was. */
export interface ChecksumCheck extends StatedChecksum {
  readonly result: 'agrees' | 'differs' | 'unchecked';
  readonly measured: string | null;
}

/** Every word of the manifests on a clip's files, each with what was measured. */
export function checkChecksums({ checksums, measured }: Pick<Original, 'checksums' | 'measured'>): ChecksumCheck[] {
  return checksums.map((stated) => {
    const algorithm = algorithmOf(stated.algorithm);
    const found = measured.find((m) => m.file === stated.file && m.algorithm === algorithm)?.value ?? null;
    if (found === null) return { ...stated, result: 'unchecked', measured: null };
    return { ...stated, result: sameSum(stated, found) ? 'agrees' : 'differs', measured: found };
  });
}

function sameSum({ algorithm, value }: StatedChecksum, found: string): boolean {
  // C4 identifiers tell capitals from small letters; the others are hexadecimal.
  if (algorithmOf(algorithm) === 'c4') return value === found;
  const [a, b] = [value.toLowerCase(), found.toLowerCase()];
  return a === b || (algorithm.toLowerCase() === 'xxhash64' && a === reversedBytes(b));
}

const reversedBytes = (hex: string): string => (hex.match(/../g) ?? []).reverse().join('');

/** A warning for each manifest that a clip's content does not agree with. */
export function checksumWarnings(o: Pick<Original, 'checksums' | 'measured'>): Warning[] {
  if (o.checksums.length === 0) return [];
  const wrong = checkChecksums(o).filter((c) => c.result === 'differs');
  return [...new Set(wrong.map((c) => c.manifest))].map((manifest) => {
    const files = [...new Set(wrong.filter((c) => c.manifest === manifest).map((c) => c.file))];
    return {
      code: 'checksum-differs',
      message: ORIGINALS_WORDS.checksumDiffers({ manifest, files }),
    };
  });
}

/**
 * A word for the content of a clip as far as it was measured: equal words are the same content,
 * different ones are not. Null when not every file was measured by the usual algorithm.
 */
export function measuredContent({ measured, files, pieces }: Pick<Original, 'measured' | 'files' | 'pieces'>): string | null {
  const usual = measured.filter((m) => m.algorithm === USUAL_ALGORITHM);
  return usual.length > 0 && usual.length >= Math.max(1, files.length, pieces.length)
    ? usual.map((m: MeasuredChecksum) => m.value).join(' ')
    : null;
}
