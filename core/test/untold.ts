import {
  compile,
  type EditList,
  frameAt,
  type ListEvent,
  type ListFormat,
  pictureAt,
  pictureTracks,
  poseAt,
  recordSpan,
  runOf,
  standingList,
  writeList,
} from '../src';
import { ASPECTS } from '../src/lists/aspects';
import { inPlainText } from '../src/lists/plain';

/**
 * What differs between a list and what a format makes of it, found by other means than the writer's own check: field by
 * field, and picture by picture.
 */
export const back = (format: ListFormat, list: EditList, bytes: Uint8Array | undefined): EditList =>
  format.read(bytes ?? new Uint8Array(), format.statesRate ? {} : { rate: list.rate });

/** What stands at a record frame: names, source frames and how much of each is seen. */
function seenAt(list: EditList, at: number): string {
  const conform = compile(standingList(list), []);
  const picture = pictureAt(conform, at);
  const parts = picture.parts.slice(0, picture.count).map(({ shot: { event, run: _ }, sourceFrame, share, pose }) => {
    if (!event.enabled) return '';
    if (event.kind === 'black') return `black ${share}`;
    const where = [pose.scaleX, pose.scaleY, pose.x, pose.y, pose.rotation, pose.opacity].map((n) => n.toFixed(4));
    return [
      event.clipName.replace(/\s+/g, ' ').trim(),
      event.kind === 'clip' ? event.source.in + sourceFrame : '',
      share.toFixed(6),
      where,
    ].join(' ');
  });
  return parts.filter((p) => p !== '').join(' | ');
}

/** The frames of a cut at which something may change, and one beside each. */
function momentsOf(list: EditList): number[] {
  const moments = new Set<number>();
  for (const track of pictureTracks(list))
    for (const { record, transitionIn: join } of track.events)
      for (const at of [record.in, record.out, record.in - (join?.before ?? 0), record.in - (join?.before ?? 0) + (join?.duration ?? 0)])
        for (const by of [-1, 0, 1]) moments.add(at + by);
  const { in: from, out } = recordSpan(list);
  return [...moments].filter((m) => m >= from && m < out);
}

/** Notices that say that a picture is not what it was. */
const OF_PICTURES =
  /-(events|black|record|kinds|dissolves|wipes|keys|transitions|wipe-looks|mixed-rates|source|keyed-speed|speed|part-frames|placement|part-placement|switched-off|clip-names|early-transitions|added|layers|overlaps|rate)$/;

/** For each field of an event, the notices under which it may differ. */
const FIELDS: { readonly [field in keyof ListEvent]?: { code: RegExp; of: (event: ListEvent) => unknown } } = {
  kind: { code: /-(kinds|events)$/, of: (e) => e.kind },
  reel: { code: /-(reels|kinds)$/, of: (e) => (e.kind === 'clip' ? e.reel.replace(/^AX$/i, '').replace(/\s+/g, ' ').trim() : '') },
  clipName: { code: /-(clip-names|events)$/, of: (e) => e.clipName.replace(/\s+/g, ' ').trim() },
  fileName: { code: /-(file-names|events)$/, of: (e) => e.fileName },
  mediaPath: { code: /-(places|file-names|events)$/, of: (e) => e.mediaPath },
  cdl: { code: /-(cdl|events)$/, of: (e) => e.cdl && JSON.stringify(e.cdl, (_, v) => (typeof v === 'number' ? v.toFixed(5) : v)) },
  enabled: { code: /-(switched-off|events)$/, of: (e) => e.enabled },
  markers: { code: /-(markers|marker-colours|events)$/, of: (e) => e.markers.map((m) => [m.record, m.colour, m.text.trim()]) },
  notes: { code: /-(notes|events)$/, of: (e) => [...e.notes].map((n) => n.replace(/\s+/g, ' ').trim()).sort() },
  linked: { code: /-(links|events)$/, of: (e) => e.linked.length },
};

/** Frames beyond an event at which its source is asked for too, as a dissolve or a handle would. */
const BEYOND = 12;

/** Of a longer event the first frames are looked at. */
const LONGEST = 500;

/** An event in which the writer's check finds nothing that differs must show the same picture at each of its frames. */
function unseen(meant: ListEvent, read: ListEvent, list: EditList, found: EditList): string[] {
  if (meant.kind !== 'clip' || ASPECTS.some((a) => a.differs(meant, read))) return [];
  const [one, other] = [runOf(meant, list.rate), runOf(read, found.rate)];
  for (let n = -BEYOND; n < Math.min(LONGEST, meant.record.out - meant.record.in) + BEYOND; n++) {
    const [a, b] = [meant.source.in + frameAt(one, n), read.source.in + frameAt(other, n)];
    if (a !== b) return [`${meant.key} shows source frame ${b} and not ${a} at its frame ${n}`];
    const [p, q] = [poseAt(meant.placement, n), poseAt(read.placement, n)].map((pose) => [
      pose.scaleX,
      pose.scaleY,
      pose.x,
      pose.y,
      pose.rotation,
      pose.opacity,
      pose.crop.left,
    ]);
    if (p?.some((v, i) => Math.abs(v - (q?.[i] ?? 0)) > 1e-4)) return [`${meant.key} lies elsewhere at its frame ${n}`];
  }
  return [];
}

/** What differs between a list and what was read of it, and is not told. */
export function untold(given: EditList, format: ListFormat): string[] {
  const { files, notices } = writeList(given, format, `cut.${format.extensions[0]}`);
  // What is no text is left out before anything is written, which a notice of its own says.
  const { list, changed } = inPlainText(given);
  const found = back(format, list, files[0]?.bytes);
  const codes = notices.map((n) => n.code);
  const told = (pattern: RegExp) => codes.some((c) => pattern.test(c));
  const missing: string[] = changed && !told(/-no-text$/) ? ['what is no text'] : [];
  const laid = format.asLaid(list);
  for (const kind of ['picture', 'sound'] as const) {
    const [meant, read] = [laid, found].map((l) => l.tracks.filter((t) => t.kind === kind && t.events.length > 0));
    meant?.forEach((track, t) => {
      const others = read?.[t]?.events ?? [];
      if (others.length !== track.events.length) {
        if (!told(/-(events|black|added|layers)$/)) missing.push(`${track.name}: ${track.events.length} events became ${others.length}`);
        return;
      }
      track.events.forEach((event, i) => {
        const number = (others[i] as ListEvent).number;
        // What has no number may be given one.
        if (event.number !== '' && event.number !== number && !told(/-numbers$/))
          missing.push(`${event.key} number: ${event.number} became ${number}`);
        missing.push(...unseen(event, others[i] as ListEvent, laid, found));
        for (const [field, { code, of }] of Object.entries(FIELDS)) {
          const [a, b] = [of(event), of(others[i] as ListEvent)].map((v) => JSON.stringify(v));
          if (a !== b && !told(code)) missing.push(`${event.key} ${field}: ${a} became ${b}`);
        }
      });
    });
  }
  if (!told(OF_PICTURES))
    for (const at of momentsOf(list)) {
      const [a, b] = [seenAt(list, at), seenAt(found, at)];
      if (a !== b) missing.push(`at ${at} is seen "${b}", and not "${a}"`);
    }
  return missing;
}
