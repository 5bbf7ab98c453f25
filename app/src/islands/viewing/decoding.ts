import { KEY_EVERY, SECTION, sectionOf } from '@gemello/core/viewing';
import { LRUCache } from 'lru-cache';
import type { Copies, SectionCopy } from './copies';

/** Runs of pictures, from one that stands by itself up to the next, that are held decoded; closed when they make room. */
const HELD = 14;

export interface Decoding {
  /** The picture of a frame of a clip, as it is held; undefined until it is. It must not be closed, and not be kept. */
  held(path: string, frame: number): VideoFrame | undefined;
  /** Has a frame decoded, with those around it; resolves when it is held, rejects where there is no copy. */
  ready(path: string, frame: number): Promise<void>;
  /** Lets go of what was decoded of files that are others now. */
  forget(): void;
  /** Pictures that are open now. */
  open(): number;
  close(): void;
}

/** Decodes viewing copies, run by run: one after the other, what was asked for last first. */
export function openDecoding(copies: Copies): Decoding {
  let count = 0;
  const runs = new LRUCache<string, readonly VideoFrame[]>({
    max: HELD,
    dispose: (frames) => {
      for (const frame of frames) frame.close();
      count -= frames.length;
    },
  });
  const wanted = new Map<string, Promise<void>>();
  let line: Promise<unknown> = Promise.resolve();
  let decoder: {
    readonly config: string;
    readonly video: VideoDecoder;
    take: (frame: VideoFrame) => void;
    fail: (error: unknown) => void;
  } | null = null;

  const decoderFor = (config: VideoDecoderConfig) => {
    const name = `${config.codec} ${config.codedWidth}x${config.codedHeight}`;
    if (decoder?.config === name && decoder.video.state === 'configured') return decoder;
    decoder?.video.close();
    const made = {
      config: name,
      take: (_: VideoFrame) => {},
      fail: (_: unknown) => {},
      video: new VideoDecoder({ output: (frame) => made.take(frame), error: (error) => made.fail(error) }),
    };
    made.video.configure(config);
    decoder = made;
    return made;
  };

  /** Decodes one run; the decoder gives all of it out, and begins anew with the next. */
  const decoded = async ({ config, packets }: SectionCopy, run: number): Promise<VideoFrame[]> => {
    const frames: VideoFrame[] = [];
    const one = decoderFor(config);
    const failed = new Promise<never>((_, reject) => {
      one.fail = reject;
    });
    one.take = (frame) => frames.push(frame);
    for (const packet of packets.slice(run * KEY_EVERY, (run + 1) * KEY_EVERY)) one.video.decode(packet);
    await Promise.race([one.video.flush(), failed]);
    return frames;
  };

  const keyOf = (path: string, frame: number) => `${Math.floor(frame / KEY_EVERY)} ${path}`;
  const ready = (path: string, frame: number): Promise<void> => {
    const key = keyOf(path, frame);
    if (runs.has(key)) return Promise.resolve();
    const known = wanted.get(key);
    if (known) return known;
    const section = sectionOf(frame);
    const run = Math.floor((frame - section * SECTION) / KEY_EVERY);
    const made = copies.section(path, section).then((copy) => {
      const turn = line.then(async () => {
        const frames = await decoded(copy, run);
        count += frames.length;
        runs.set(key, frames);
      });
      line = turn.catch(() => {});
      return turn;
    });
    wanted.set(key, made);
    const done = () => wanted.delete(key);
    made.then(done, done);
    return made;
  };

  return {
    held: (path, frame) => runs.get(keyOf(path, frame))?.[frame % KEY_EVERY],
    ready,
    forget: () => runs.clear(),
    open: () => count,
    close() {
      runs.clear();
      decoder?.video.close();
      decoder = null;
    },
  };
}
