import { LRUCache } from 'lru-cache';
import { BufferSource, EncodedPacketSink, Input, MP4 } from 'mediabunny';
import pLimit from 'p-limit';

/** The viewing copy of one section of a clip, ready to be decoded: one packet for each of its frames, in their order. */
export interface SectionCopy {
  readonly config: VideoDecoderConfig;
  readonly packets: readonly EncodedVideoChunk[];
}

/** Sections that are held, a megabyte or two each, and how many are asked for at once: one for each side; small pictures of the page wait for none of them. */
const [HELD, AT_ONCE] = [48, 2];

export interface Copies {
  /** A section's copy; rejects where there is none. Several who ask wait for one answer. */
  section(path: string, section: number): Promise<SectionCopy>;
  /** Lets go of what was fetched of files that are others now. */
  forget(): void;
}

/** Fetches viewing copies. `address` of one names what its file was, so that the browser may keep it. */
export function openCopies(address: (path: string, section: number) => string): Copies {
  const known = new LRUCache<string, Promise<SectionCopy>>({ max: HELD });
  const turn = pLimit(AT_ONCE);
  return {
    section(path, section) {
      const where = address(path, section);
      const held = known.get(where);
      if (held) return held;
      const made = turn(() => fetched(where));
      known.set(where, made);
      // What failed may be there when it is asked for again.
      made.catch(() => known.delete(where));
      return made;
    },
    forget: () => known.clear(),
  };
}

async function fetched(address: string): Promise<SectionCopy> {
  const answer = await fetch(address);
  if (!answer.ok) throw new Error(`no viewing copy: ${answer.status}`);
  const input = new Input({ source: new BufferSource(await answer.arrayBuffer()), formats: [MP4] });
  const track = await input.getPrimaryVideoTrack();
  const config = await track?.getDecoderConfig();
  if (!track || !config) throw new Error('a viewing copy has no picture');
  const packets: EncodedVideoChunk[] = [];
  for await (const packet of new EncodedPacketSink(track).packets()) packets.push(packet.toEncodedVideoChunk());
  return { config: { ...config, optimizeForLatency: true }, packets };
}
