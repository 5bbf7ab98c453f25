import { checkChecksums, type Original } from '../../originals';
import { CONFLICT, EXACT, type Grade, UNKNOWN } from './grade';

/** Whether the content of an original is what its manifests state. `manifest`: the one that spoke, empty where none did or nothing was measured. */
export type ChecksumEvidence = Grade & { readonly criterion: 'checksum'; readonly manifest: string };

export function compareChecksum(original: Pick<Original, 'checksums' | 'measured'>): ChecksumEvidence {
  if (original.checksums.length === 0 || original.measured.length === 0) return UNMEASURED;
  const checks = checkChecksums(original).filter((c) => c.result !== 'unchecked');
  const [first] = checks;
  if (!first) return UNMEASURED;
  const wrong = checks.find((c) => c.result === 'differs');
  return { criterion: 'checksum', manifest: (wrong ?? first).manifest, ...(wrong ? CONFLICT : EXACT) };
}

const UNMEASURED: ChecksumEvidence = { criterion: 'checksum', manifest: '', ...UNKNOWN.original };
