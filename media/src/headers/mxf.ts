import { canDropFrames, type Frames, formatTimecode, type Rate, rateOf } from '@gemello/core';
import type { FileHead } from './file';

/**
 * What the packages of an MXF file say (SMPTE ST 377-1): the material package is the clip as it is
 * played, the file package the essence in the file, the tape package what it was captured from. Each
 * may have a name and a timecode of its own.
 */
export interface MxfPackage {
  readonly is: 'material' | 'file' | 'tape';
  readonly name: string;
  /** The file's first frame by this package's timecode, counted at its own rate; null without one. */
  readonly timecode: { readonly start: Frames; readonly rate: Rate; readonly label: string } | null;
}

/** Header metadata beyond this is not read, in bytes; and a run-in is at most 64 KB long (ST 377-1). */
const LARGEST_HEADER = 8 * 1024 * 1024;
const LONGEST_RUN_IN = 64 * 1024;

/** Keys of SMPTE ST 336 begin so. */
const LABEL = '060e2b34';
const PARTITION = '060e2b34020501010d01020101';
/** A local set of header metadata; its kind is the last byte but one. */
const SET = '060e2b34025301010d010101010';

const KINDS = { material: 0x36, source: 0x37, track: 0x3b, sequence: 0x0f, clip: 0x11, timecode: 0x14, tape: 0x2e } as const;

/** Items by their local tags (ST 377-1, static tags). */
const TAGS = {
  instance: 0x3c0a,
  packageId: 0x4401,
  packageName: 0x4402,
  tracks: 0x4403,
  descriptor: 0x4701,
  trackId: 0x4801,
  sequence: 0x4803,
  editRate: 0x4b01,
  origin: 0x4b02,
  components: 0x1001,
  startPosition: 0x1201,
  sourcePackage: 0x1101,
  sourceTrack: 0x1102,
  startTimecode: 0x1501,
  timecodeBase: 0x1502,
  dropFrame: 0x1503,
} as const;

/** One local set: its kind and its items by tag. */
interface LocalSet {
  readonly kind: number;
  readonly items: ReadonlyMap<number, Buffer>;
}

/** Reads the packages, the material package first; empty when the file is no MXF or its header is damaged. */
export function readMxfPackages({ read }: FileHead): MxfPackage[] {
  const runIn = read(0, 16).subarray(0, 4).toString('hex') === LABEL ? 0 : read(0, LONGEST_RUN_IN).indexOf(Buffer.from(PARTITION, 'hex'));
  return runIn < 0 ? [] : packagesOf(setsOf(headerMetadata(read, runIn)));
}

type Read = FileHead['read'];

/** The bytes of the header metadata: what follows the partition pack, as long as the pack says. */
function headerMetadata(read: Read, at: number): Buffer {
  const head = read(at, 25 + 88);
  const pack = lengthOf(head, 16);
  if (!pack || head.toString('hex', 0, 13) !== PARTITION || head.length < pack.value + 56) return Buffer.alloc(0);
  // In the pack: versions 4, grid size 4, three offsets 24, then the count of header bytes at 32.
  const count = Number(head.readBigUInt64BE(pack.value + 32));
  return read(at + pack.value + pack.length, Math.min(Math.max(0, count), LARGEST_HEADER));
}

/** A BER length at a place: where the value begins, and how long it is. */
function lengthOf(bytes: Buffer, at: number): { value: number; length: number } | null {
  const first = bytes[at];
  if (first === undefined) return null;
  if (first < 0x80) return { value: at + 1, length: first };
  const places = first & 0x7f;
  if (places === 0 || places > 8 || at + 1 + places > bytes.length) return null;
  let length = 0;
  for (let i = 1; i <= places; i++) length = length * 256 + (bytes[at + i] as number);
  return { value: at + 1 + places, length };
}

/** All local sets by their instance, in file order. */
function setsOf(bytes: Buffer): Map<string, LocalSet> {
  const sets = new Map<string, LocalSet>();
  for (let at = 0; at + 17 <= bytes.length; ) {
    // What comes before the first set is fill: zeros up to the next key.
    if (bytes.toString('hex', at, at + 4) !== LABEL) break;
    const part = lengthOf(bytes, at + 16);
    if (!part || part.value + part.length > bytes.length) break;
    if (bytes.toString('hex', at, at + 14).startsWith(SET)) {
      const items = itemsOf(bytes.subarray(part.value, part.value + part.length));
      const instance = items.get(TAGS.instance)?.toString('hex');
      if (instance) sets.set(instance, { kind: bytes[at + 14] as number, items });
    }
    at = part.value + part.length;
  }
  return sets;
}

/** Items of a set with two-byte tags and two-byte lengths. */
function itemsOf(set: Buffer): Map<number, Buffer> {
  const items = new Map<number, Buffer>();
  for (let at = 0; at + 4 <= set.length; ) {
    const length = set.readUInt16BE(at + 2);
    if (at + 4 + length > set.length) break;
    items.set(set.readUInt16BE(at), set.subarray(at + 4, at + 4 + length));
    at += 4 + length;
  }
  return items;
}

const integer = (item: Buffer | undefined): number => {
  if (item?.length === 8) return Number(item.readBigInt64BE(0));
  return item?.length === 4
    ? item.readUInt32BE(0)
    : item?.length === 2
      ? item.readUInt16BE(0)
      : item?.length === 1
        ? (item[0] as number)
        : 0;
};

/** Names are UTF-16, the high byte first. */
const text = (item: Buffer | undefined): string =>
  item
    ? Buffer.from(item.subarray(0, item.length - (item.length % 2)))
        .swap16()
        .toString('utf16le')
        .replace(/\0.*$/s, '')
        .trim()
    : '';

/** A batch of references: how many, how long each, then they. */
function references(item: Buffer | undefined): string[] {
  if (!item || item.length < 8 || item.readUInt32BE(4) !== 16) return [];
  const count = Math.min(item.readUInt32BE(0), Math.floor((item.length - 8) / 16));
  return Array.from({ length: count }, (_, i) => item.toString('hex', 8 + i * 16, 24 + i * 16));
}

interface TrackView {
  readonly id: number;
  readonly rate: Rate | null;
  readonly origin: number;
  readonly first: LocalSet | null;
}

function packagesOf(sets: ReadonlyMap<string, LocalSet>): MxfPackage[] {
  const all = [...sets.values()];
  const material = all.find((s) => s.kind === KINDS.material);
  if (!material) return [];
  const sources = all.filter((s) => s.kind === KINDS.source);
  const idOf = (s: LocalSet) => s.items.get(TAGS.packageId)?.toString('hex') ?? '';
  const tracksOf = (s: LocalSet): TrackView[] =>
    references(s.items.get(TAGS.tracks)).flatMap((r) => {
      const track = sets.get(r);
      if (track?.kind !== KINDS.track) return [];
      const sequence = sets.get(track.items.get(TAGS.sequence)?.toString('hex') ?? '');
      // A track may lead to its one component without a sequence between.
      const first = sequence?.kind === KINDS.sequence ? sets.get(references(sequence.items.get(TAGS.components))[0] ?? '') : sequence;
      return [
        {
          id: integer(track.items.get(TAGS.trackId)),
          rate: rational(track.items.get(TAGS.editRate)),
          origin: integer(track.items.get(TAGS.origin)),
          first: first ?? null,
        },
      ];
    });
  /** The source of a package's essence: the clip on a track that comes from another package. */
  const sourceOf = (s: LocalSet, trackId: number | null) =>
    tracksOf(s).find(
      (t) => t.first?.kind === KINDS.clip && (trackId === null || t.id === trackId) && isSet(t.first.items.get(TAGS.sourcePackage)),
    );
  const packageOf = (track: TrackView | undefined) =>
    track?.first ? sources.find((s) => idOf(s) === track.first?.items.get(TAGS.sourcePackage)?.toString('hex')) : undefined;

  const played = sourceOf(material, null);
  const file = packageOf(played) ?? sources.find((s) => !isTape(s, sets));
  const taken = file && sourceOf(file, played?.first ? integer(played.first.items.get(TAGS.sourceTrack)) || null : null);
  const tape = packageOf(taken) ?? sources.find((s) => isTape(s, sets));
  const position = (track: TrackView | undefined) => integer(track?.first?.items.get(TAGS.startPosition));

  // The clip begins at a position of the file; the file's first frame lies that much before the clip's.
  const found: MxfPackage[] = [describe('material', material, tracksOf(material), -position(played))];
  if (file) found.push(describe('file', file, tracksOf(file), 0));
  if (tape && tape !== file) found.push(describe('tape', tape, tracksOf(tape), position(taken)));
  return found;
}

const isSet = (item: Buffer | undefined): boolean => item?.some((b) => b !== 0) ?? false;

const isTape = (s: LocalSet, sets: ReadonlyMap<string, LocalSet>): boolean =>
  sets.get(s.items.get(TAGS.descriptor)?.toString('hex') ?? '')?.kind === KINDS.tape;

function rational(item: Buffer | undefined): Rate | null {
  if (item?.length !== 8) return null;
  const [num, den] = [item.readInt32BE(0), item.readInt32BE(4)];
  return num > 0 && den > 0 && num / den <= 1000 ? rateOf(num, den) : null;
}

function describe(is: MxfPackage['is'], set: LocalSet, tracks: readonly TrackView[], frames: number): MxfPackage {
  const name = text(set.items.get(TAGS.packageName));
  const track = tracks.find((t) => t.first?.kind === KINDS.timecode);
  const items = track?.first?.items;
  const base = integer(items?.get(TAGS.timecodeBase));
  const start = integer(items?.get(TAGS.startTimecode)) + frames;
  if (!items || base < 1 || base > 240 || start < 0) return { is, name, timecode: null };
  const counted = track?.rate && Math.abs(track.rate.num / track.rate.den - base) < 0.5 ? track.rate : rateOf(base, 1);
  const rate = { ...counted, dropFrame: integer(items.get(TAGS.dropFrame)) === 1 && canDropFrames(counted) };
  return { is, name, timecode: { start, rate, label: formatTimecode(start, rate) } };
}
