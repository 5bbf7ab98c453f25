import type { FileHead } from './file';

/**
 * The header of a WAV file: `fmt ` and `data` (RIFF WAVE), `bext` (EBU Tech 3285: description at 0,
 * originator at 256, date and time of origination at 320 and 330, time reference in samples since midnight at 338), `iXML` (scene, take, tape,
 * timecode rate), and `ds64` of RF64 (EBU Tech 3306) for files above 4 GB.
 */
export interface WavHeader {
  readonly channels: number;
  readonly sampleRate: number;
  readonly bits: number;
  /** Samples a channel that are really there: the data chunk, or what the file has of it. */
  readonly samples: number;
  /** True when the file ends before its data chunk does. */
  readonly truncated: boolean;
  /** Samples since midnight; null without a `bext` chunk. */
  readonly timeReference: number | null;
  readonly description: string;
  /** `yyyy-mm-dd hh:mm:ss`; empty when unset. */
  readonly created: string;
  /** What iXML says, field by field; empty without it. */
  readonly ixml: {
    readonly scene: string;
    readonly take: string;
    readonly tape: string;
    readonly rate: string;
    readonly dropFrame: boolean;
  };
}

/** Chunks other than data that are larger than this are passed over, in bytes. */
const LARGEST_CHUNK = 4 * 1024 * 1024;
const OUTER = ['RIFF', 'RF64', 'BW64'];
const NO_IXML = { scene: '', take: '', tape: '', rate: '', dropFrame: false } as const;

/** Reads the header chunk by chunk, without the sound; null when the file is no WAV. */
export function readWavHeader({ size: fileSize, read }: FileHead): WavHeader | null {
  const head = read(0, 12);
  if (head.length < 12 || !OUTER.includes(head.toString('latin1', 0, 4)) || head.toString('latin1', 8, 12) !== 'WAVE') return null;
  let format: { channels: number; sampleRate: number; bits: number } | null = null;
  let bext: { timeReference: number; description: string; created: string } | null = null;
  let ixml: WavHeader['ixml'] = NO_IXML;
  let data: { size: number; truncated: boolean } | null = null;
  let longSize = 0;
  for (let at = 12; at + 8 <= fileSize; ) {
    const chunk = read(at, 8);
    if (chunk.length < 8) break;
    const id = chunk.toString('latin1', 0, 4);
    const stated = chunk.readUInt32LE(4);
    const size = id === 'data' && stated === 0xffffffff ? longSize : stated;
    const inside = at + 8;
    const length = Math.min(size, LARGEST_CHUNK);
    if (id === 'ds64' && size >= 16) {
      const b = read(inside, length);
      if (b.length >= 16) longSize = Number(b.readBigUInt64LE(8));
    } else if (id === 'fmt ' && size >= 16) {
      const b = read(inside, length);
      if (b.length >= 16) format = { channels: b.readUInt16LE(2), sampleRate: b.readUInt32LE(4), bits: b.readUInt16LE(14) };
    } else if (id === 'bext' && size >= 348) {
      const b = read(inside, length);
      if (b.length >= 346)
        bext = {
          timeReference: b.readUInt32LE(338) + b.readUInt32LE(342) * 2 ** 32,
          description: textOf(b, 0, 256),
          created: originationOf(b),
        };
    } else if (id === 'iXML' && size <= LARGEST_CHUNK) ixml = readIxml(read(inside, length).toString('utf8').replace(/\0+$/, ''));
    else if (id === 'data') {
      const there = Math.min(size, fileSize - inside);
      data = { size: there, truncated: there < size };
    }
    at = inside + size + (size % 2);
  }
  if (!format || format.channels === 0 || format.sampleRate === 0) return null;
  const frame = Math.max(1, (format.channels * format.bits) / 8);
  return {
    channels: format.channels,
    sampleRate: format.sampleRate,
    bits: format.bits,
    samples: Math.floor((data?.size ?? 0) / frame),
    truncated: data === null || data.truncated,
    timeReference: bext?.timeReference ?? null,
    description: bext?.description ?? '',
    created: bext?.created ?? '',
    ixml,
  };
}

function readIxml(text: string): WavHeader['ixml'] {
  return {
    scene: element(text, 'SCENE'),
    take: element(text, 'TAKE'),
    tape: element(text, 'TAPE'),
    rate: element(text, 'TIMECODE_RATE'),
    dropFrame: element(text, 'TIMECODE_FLAG').toUpperCase() === 'DF',
  };
}

/** The words in the first element of that name, up to 200 characters; empty when it holds none, or other elements. */
function element(text: string, name: string): string {
  const from = text.indexOf(`<${name}>`) + name.length + 2;
  const to = from > name.length + 1 ? text.indexOf('<', from) : -1;
  return to >= 0 && to - from <= 200 && text.startsWith(`</${name}>`, to) ? text.slice(from, to).trim() : '';
}

/** Between the parts of date and time stands any character that is no digit (EBU Tech 3285). */
function originationOf(bext: Buffer): string {
  const found = /^(\d{4})\D(\d{2})\D(\d{2})(\d{2})\D(\d{2})\D(\d{2})$/.exec(bext.toString('latin1', 320, 338));
  return found ? `${found[1]}-${found[2]}-${found[3]} ${found[4]}:${found[5]}:${found[6]}` : '';
}

/** Text up to its first zero. */
function textOf(bytes: Buffer, at: number, length: number): string {
  const field = bytes.subarray(at, at + length);
  const end = field.indexOf(0);
  return field.toString('latin1', 0, end < 0 ? field.length : end).trim();
}
