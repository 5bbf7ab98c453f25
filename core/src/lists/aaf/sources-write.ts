import { sha256 } from '@noble/hashes/sha2';
import { bytesToHex } from '@noble/hashes/utils';
import type { ListEvent } from '../../edit';
import { type Frames, nominal, type Rate, sameSpeed } from '../../time';
import { fileNameOfUrl } from '../paths';
import { DEFINED, REMARK } from './model';
import type { NewObject, Value } from './object-write';

/** When everything was made: the format wants a time, and the same cut is to be written the same way twice. */
export const MADE = [2000, 1, 1, 0, 0, 0, 0];

/** The first bytes of the identity of a mob (SMPTE ST 330, basic UMID, material not identified), before the 16 of its own. */
const UMID = '060a2b340101010501010f1013000000';

/** An identity that follows from what something is, so that the same cut has the same ones each time. */
const digestOf = (what: readonly unknown[]): string => bytesToHex(sha256(JSON.stringify(what))).slice(0, 32);
export const mobIdOf = (what: readonly unknown[]): string => UMID + digestOf(what);
export function auidFor(what: readonly unknown[]): string {
  const d = digestOf(what);
  return [d.slice(0, 8), d.slice(8, 12), d.slice(12, 16), d.slice(16, 20), d.slice(20)].join('-');
}

export type Kind = 'picture' | 'sound';

export const rational = ({ num, den }: { readonly num: number; readonly den: number }): readonly number[] => [num, den];

/** A mob; what it is follows from what it is made from. */
export const mob = (is: string, id: string, name: string, has: Record<string, Value | undefined>): NewObject => ({
  is,
  has: { MobID: id, Name: name, LastModified: MADE, CreationTime: MADE, ...has },
});

export const slot = (id: number, rate: Rate, segment: NewObject, more: Record<string, Value | undefined> = {}): NewObject => ({
  is: 'TimelineMobSlot',
  has: { SlotID: id, EditRate: rational(rate), Origin: 0, Segment: segment, ...more },
});

export const sourceClip = (
  kind: Kind,
  id: string,
  from: Frames,
  length: Frames,
  more: Record<string, Value | undefined> = {},
): NewObject => ({
  is: 'SourceClip',
  has: { DataDefinition: DEFINED[kind], Length: length, SourceID: id, SourceMobSlotID: 1, StartTime: from, ...more },
});
/** The end of a chain: a clip of no mob. */
const nowhere = (kind: Kind, length: Frames): NewObject => ({
  is: 'SourceClip',
  has: { DataDefinition: DEFINED[kind], Length: length, SourceID: '0'.repeat(64), SourceMobSlotID: 0, StartTime: 0 },
});

export const timecode = (start: Frames, rate: Rate, length: Frames): NewObject => ({
  is: 'Timecode',
  has: { DataDefinition: DEFINED.timecode, Length: length, Start: start, FPS: nominal(rate), Drop: rate.dropFrame },
});

export const taggedValue = (name: string, value: string): NewObject => ({
  is: 'TaggedValue',
  has: { Name: name, Value: { type: 'aafString', value } },
});

/** Notes as tagged values: `name: value` under its name, all else as remarks. */
export const tagged = (notes: readonly string[]): readonly NewObject[] | undefined =>
  notes.length === 0
    ? undefined
    : notes.map((note) => {
        const [, name = REMARK, value = note] = /^([^:]{1,40}): (.+)$/s.exec(note) ?? [];
        return taggedValue(name, value);
      });

/** A stretch of a source that the cut uses, in frames of its timecode at its own rate. */
export interface Use {
  readonly event: ListEvent;
  readonly kind: Kind;
  readonly in: Frames;
  readonly out: Frames;
}

export interface Sources {
  /** The clip that an event is of, and how far into it a frame of its timecode lies. */
  of(use: Use): { readonly mob: string; readonly begins: Frames };
  readonly mobs: readonly NewObject[];
}

/** What tells one source from another. Where the rates differ each place that is used is one: only there does a count of one fall on the other. */
const nameOf = ({ event: e, kind, in: from }: Use, rate: Rate): string =>
  JSON.stringify([
    kind,
    e.clipName,
    e.reel,
    e.fileName,
    e.mediaPath,
    e.sourceRate.num,
    e.sourceRate.den,
    e.sourceRate.dropFrame,
    sameSpeed(rate, e.sourceRate) ? null : from,
  ]);

/**
 * The chains of all sources: a clip, its file, and the tape that has its timecode, called by its reel. Readers look for timecode there and
 * nowhere else, so that a source without a reel has one too, without a name. Where a file begins a list does not say: the first frame of it
 * that the cut uses is taken for its first.
 */
export function sourcesOf(uses: readonly Use[], rate: Rate): Sources {
  const all = new Map<string, { first: Use; in: Frames; out: Frames }>();
  for (const use of uses) {
    const name = nameOf(use, rate);
    const known = all.get(name);
    if (known) {
      known.in = Math.min(known.in, use.in);
      known.out = Math.max(known.out, use.out);
    } else all.set(name, { first: use, in: use.in, out: use.out });
  }
  const tapes = new Map<string, NewObject>();
  const mobs: NewObject[] = [];
  const made = new Map<string, { mob: string; begins: Frames }>();
  for (const [name, { first, in: from, out }] of all) {
    const { event, kind } = first;
    const length = out - from;
    const file = fileMob(event, kind, from, length, name, tapeOf(event, kind, tapes));
    const id = mobIdOf(['clip', name, from]);
    const clip = sourceClip(kind, String(file.has.MobID), 0, length);
    mobs.push(mob('MasterMob', id, event.clipName, { Slots: [slot(1, event.sourceRate, clip)] }), file);
    made.set(name, { mob: id, begins: from });
  }
  return { of: (use) => made.get(nameOf(use, rate)) as { mob: string; begins: Frames }, mobs: [...mobs, ...tapes.values()] };
}

/** The tape of a reel: its timecode counts from midnight. */
function tapeOf({ reel, sourceRate }: ListEvent, kind: Kind, tapes: Map<string, NewObject>): string {
  const name = JSON.stringify(['tape', reel, kind, sourceRate.num, sourceRate.den, sourceRate.dropFrame]);
  const id = mobIdOf([name]);
  const twoDays = nominal(sourceRate) * 86_400 * 2;
  const slots = [slot(1, sourceRate, nowhere(kind, twoDays)), slot(2, sourceRate, timecode(0, sourceRate, twoDays))];
  tapes.set(name, mob('SourceMob', id, reel, { Slots: slots, EssenceDescription: { is: 'TapeDescriptor', has: {} } }));
  return id;
}

function fileMob(event: ListEvent, kind: Kind, from: Frames, length: Frames, name: string, tape: string): NewObject {
  const { sourceRate, mediaPath, fileName } = event;
  const linked = mediaPath !== '' && fileNameOfUrl(mediaPath) === fileName;
  const where = linked ? [{ is: 'NetworkLocator', has: { URLString: mediaPath } }] : undefined;
  const about = { SampleRate: rational(sourceRate), Length: length, Locator: where };
  const essence: NewObject =
    kind === 'sound'
      ? {
          is: 'PCMDescriptor',
          has: { ...about, AudioSamplingRate: [48_000, 1], Channels: 1, QuantizationBits: 24, BlockAlign: 3, AverageBPS: 144_000 },
        }
      : {
          is: 'CDCIDescriptor',
          has: {
            ...about,
            // A list says nothing of its originals' pixels; the format wants to know them (docs/formats.md).
            ...{ StoredHeight: 0, StoredWidth: 0, FrameLayout: 0, VideoLineMap: [0, 0], ImageAspectRatio: [16, 9] },
            ...{ ComponentWidth: 8, HorizontalSubsampling: 2 },
          },
        };
  return mob('SourceMob', mobIdOf(['file', name, from]), fileName, {
    Slots: [slot(1, sourceRate, sourceClip(kind, tape, from, length))],
    EssenceDescription: essence,
  });
}
