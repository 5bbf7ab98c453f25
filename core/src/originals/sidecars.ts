import { formatTimecode, parseRate } from '../time';
import { type Node, parseXml } from '../xml';
import { algorithmOf } from './checksums';
import type { Said } from './claims';
import { withoutExtension } from './names';
import { type PackedNote, startOfPacked } from './packed';

/** The names under which metadata files give what is asked of a clip, compared without case and separators. */
const NAMES: Record<Said['field'], readonly string[]> = {
  timecode: [
    'starttimecode',
    'timecodestart',
    'starttc',
    'tcstart',
    'starttimecodevalue',
    'timecodein',
    'tcin',
    'begintimecode',
    'recordingstarttimecode',
    'starttime',
    'timecode',
  ],
  rate: ['framerate', 'fps', 'timebase', 'capturefps', 'recordingframerate', 'editrate', 'formatfps', 'timecoderate', 'tcfps'],
  reel: ['reel', 'reelname', 'reelid', 'tape', 'tapename', 'roll', 'rollname', 'cardid', 'cardname', 'magazine', 'cassette'],
  clipName: ['clipname', 'clipid', 'originalclipname', 'shotname'],
  scene: ['scene', 'scenename', 'sceneid', 'scenenumber'],
  take: ['take', 'taketext', 'takename', 'takenumber', 'takeid'],
  proxy: ['proxy', 'proxyfile', 'proxyfilename', 'proxyname', 'proxyclip', 'proxypath', 'lowresfile', 'lowresclip'],
  proxyOf: ['proxyof', 'originalfile', 'originalfilename', 'originalpath', 'mainfile', 'masterfile', 'highresfile', 'sourcefile'],
  created: ['creationdate', 'creationtime', 'createddate', 'recordingdate', 'recorddate', 'shootdate', 'captureddate'],
  writtenBy: ['recordingsoftware', 'firmwareversion', 'softwareversion', 'writingapplication'],
};
const FIELDS = Object.keys(NAMES) as Said['field'][];
const DROP = ['dropframe', 'dropframeflag', 'isdropframe', 'timecodeflag'];

/** A name as names are compared here: letters and digits only, lower case. */
export const plain = (name: string) => name.toLowerCase().replace(/[^a-z0-9]/g, '');
const TIMECODE = /^\d{1,2}[:;.]\d{2}[:;.]\d{2}[:;.,]\d{2,3}$/;

/** What is gathered from a metadata file before it is known what it all means. */
interface Heard {
  readonly found: Map<Said['field'], string>;
  readonly packed: PackedNote[];
  /** Start as a count of frames, which needs the rate to be read. */
  count: number | null;
  drop: boolean;
  /** True when packed timecodes are called after the timecode signal, whose order is frames first. */
  signal: boolean;
}

/**
 * What a metadata file beside a clip says, found by what its elements and attributes are called and
 * hold, whoever wrote it; timecode as a label, packed in eight digits (see `startOfPacked`), or as a
 * count of frames where the file gives the rate too. Empty when it is no XML or says nothing of a clip.
 * Entities are never expanded, nothing is fetched.
 */
export function readSidecar(text: string, origin: string): Said[] {
  const root = parseXml(text.replace(/^\uFEFF/, ''));
  if ('fault' in root) return [];
  const heard: Heard = { found: new Map(), packed: [], count: null, drop: false, signal: false };
  const pending: Node[] = [root];
  for (let node = pending.pop(); node; node = pending.pop()) {
    if (node.children.length === 0) hear(heard, node.name, node.text);
    for (const [name, value] of Object.entries(node.attributes)) {
      hear(heard, name, value);
      // Some write `<StartTimecode value="…">`.
      if (/^(value|text)$/i.test(name)) hear(heard, node.name, value);
    }
    // And some `<Item name="Reel" value="A001"/>`.
    const { name, key, value } = node.attributes;
    const label = name ?? key;
    if (label && value) hear(heard, label, value);
    hearPlaced(heard, node);
    for (let i = node.children.length - 1; i >= 0; i--) pending.push(node.children[i] as Node);
  }
  const { found, drop } = heard;
  const label = found.get('timecode') ?? labelFromNumbers(heard);
  if (label !== null) found.set('timecode', drop ? label.replace(/[:.](\d{2,3})$/, ';$1') : label);
  return [...found].map(([field, value]) => ({ field, value, origin }));
}

/**
 * What a container's own tags say of a clip, by what they are called: the last part of a name such as
 * `org.example.reelname` counts. Rates are left out: systems put the speed of recording there.
 */
export function readTags(tags: Readonly<Record<string, string>>, origin: string): Said[] {
  const heard: Heard = { found: new Map(), packed: [], count: null, drop: false, signal: false };
  for (const [name, value] of Object.entries(tags)) hear(heard, name.split('.').at(-1) ?? name, value);
  heard.found.delete('rate');
  return [...heard.found].map(([field, value]) => ({ field, value, origin }));
}

function hear(heard: Heard, name: string, value: string): void {
  const called = plain(name);
  const trimmed = value.trim();
  if (DROP.includes(called) && /^(true|1|yes|df|drop)$/i.test(trimmed)) heard.drop = true;
  for (const field of FIELDS)
    if (!heard.found.has(field) && NAMES[field].includes(called) && fits(field, trimmed)) heard.found.set(field, trimmed);
  if (!NAMES.timecode.includes(called)) return;
  if (PACKED.test(trimmed)) heard.packed.push({ hex: trimmed, frame: null });
  else if (COUNT.test(trimmed)) heard.count ??= Number(trimmed);
}

/** A timecode that says which frame of the clip it is for: `<Change frameCount="0" value="…"/>`. */
function hearPlaced(heard: Heard, node: Node): void {
  const entries = Object.entries(node.attributes).map(([name, value]) => [plain(name), value.trim()] as const);
  const frame = entries.find(([name, value]) => /^(framecount|frame|framenumber|frameoffset)$/.test(name) && /^\d{1,9}$/.test(value));
  const value = entries.find(([name]) => name === 'value' || name === 'timecode')?.[1];
  if (!frame || !value) return;
  const at = Number(frame[1]);
  if (at === 0 && TIMECODE.test(value) && !heard.found.has('timecode')) heard.found.set('timecode', value);
  if (!PACKED.test(value)) return;
  heard.packed.push({ hex: value, frame: at });
  if (/ltc/.test(plain(node.name))) heard.signal = true;
}

const PACKED = /^[0-9a-f]{8}$/i;
/** Up to seven digits: a day has fewer frames than that at every rate below 115. */
const COUNT = /^[1-9]\d{0,6}$/;

function labelFromNumbers({ packed, count, found, signal }: Heard): string | null {
  const stated = found.get('rate');
  const rate = stated === undefined ? null : parseRate(stated);
  const label = startOfPacked(packed, rate, signal ? 'frames-first' : 'hours-first');
  return label ?? (count !== null && rate ? formatTimecode(count, rate) : null);
}

/** True when a value can be what a field asks for. */
export function fits(field: Said['field'], value: string): boolean {
  if (field === 'timecode') return TIMECODE.test(value);
  if (field === 'rate') return parseRate(value) !== null;
  // Another file is named with its extension.
  if (field === 'proxy' || field === 'proxyOf') return value.length <= 1024 && withoutExtension(value) !== value;
  return value !== '' && value.length <= 128;
}

/** A checksum that a manifest gives for a file. */
export interface Checksum {
  /** Path in the manifest, `/` between folders, from the manifest's own folder or its parent for ASC MHL. */
  readonly file: string;
  readonly algorithm: string;
  readonly value: string;
}

/** The checksums of a hash manifest: ASC MHL 2.0 (`path` in `hash`), or the older form (`file` in `hash`). Empty when it is none. */
export function readManifest(text: string): Checksum[] {
  const root = parseXml(text);
  if ('fault' in root || root.name !== 'hashlist') return [];
  const found: Checksum[] = [];
  const pending: Node[] = [root];
  for (let node = pending.pop(); node; node = pending.pop()) {
    for (const c of node.children) pending.push(c);
    if (node.name !== 'hash') continue;
    const file = node.children.find((c) => c.name === 'path' || c.name === 'file')?.text.trim();
    if (!file) continue;
    for (const c of node.children)
      if (algorithmOf(c.name) && c.text.trim() !== '') found.push({ file, algorithm: c.name.toLowerCase(), value: c.text.trim() });
  }
  return found;
}
