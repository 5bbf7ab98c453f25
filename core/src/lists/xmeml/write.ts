import { type EditList, type ListEvent, recordSpan, speedOf, type Track } from '../../edit';
import { type Frames, formatTimecode, lengthOf, nominal, type Rate } from '../../time';
import { escaped } from './tree';

/** An element with text or with elements inside; null is left out. */
type Part = string | null;
const element = (name: string, inside: string | number | readonly Part[], attributes = ''): string =>
  `<${name}${attributes}>${typeof inside === 'object' ? `\n${inside.filter((p) => p !== null).join('\n')}\n` : escaped(String(inside))}</${name}>`;

const rateElement = (rate: Rate) =>
  element('rate', [element('timebase', nominal(rate)), element('ntsc', rate.den === 1001 ? 'TRUE' : 'FALSE')]);

const timecodeElement = (frame: Frames, rate: Rate, reel: string | null) =>
  element('timecode', [
    rateElement(rate),
    element('string', formatTimecode(frame, rate)),
    element('frame', frame),
    element('displayformat', rate.dropFrame ? 'DF' : 'NDF'),
    reel ? element('reel', [element('name', reel)]) : null,
  ]);

/**
 * Writes interchange XML (`xmeml` version 5). Each event names a file of its own whose timecode
 * begins at the first frame used, so that `in` counts from there; transitions stand with the
 * alignment their cut point needs. Freezes and reverses go out as time remaps.
 */
export function writeXmeml(list: EditList): string {
  const span = recordSpan(list);
  const tracks = (kind: Track['kind']) => list.tracks.filter((t) => t.kind === kind).map((t) => element('track', itemsOf(t, span.in)));
  const body = element(
    'xmeml',
    [
      element('sequence', [
        element('name', list.title),
        element('duration', lengthOf(span)),
        rateElement(list.rate),
        timecodeElement(span.in, list.rate, null),
        element('media', [element('video', tracks('picture')), element('audio', tracks('sound'))]),
      ]),
    ],
    ' version="5"',
  );
  return `<?xml version="1.0" encoding="UTF-8"?>\n<!DOCTYPE xmeml>\n${body}\n`;
}

function itemsOf(track: Track, start: Frames): string[] {
  return track.events.flatMap((event, index) => {
    const next = track.events[index + 1];
    const leaving = next?.transitionIn?.from === 'previous' && next.record.in === event.record.out ? next.transitionIn : null;
    const join = event.transitionIn;
    const items: string[] = [];
    if (join) {
      const from = event.record.in - start - join.before;
      const alignment = join.before === 0 ? 'start' : join.before === join.duration ? 'end' : 'center';
      items.push(
        element('transitionitem', [
          element('start', from),
          element('end', from + join.duration),
          element(
            'alignment',
            event.kind === 'black' ? 'end-black' : join.from === 'black' && join.before === 0 ? 'start-black' : alignment,
          ),
          element('effect', [
            element('name', join.type === 'dissolve' ? 'Cross Dissolve' : join.type),
            element('effectid', join.type),
            element('effectcategory', join.type === 'wipe' ? 'Wipe' : 'Dissolve'),
            element('effecttype', 'transition'),
          ]),
        ]),
      );
    }
    // Black has no item of its own in this format: a fade to it is the transition alone.
    if (event.kind !== 'black') items.push(itemOf(event, start, leaving ? leaving.duration - leaving.before : 0, leaving !== null));
    return items;
  });
}

function itemOf(event: ListEvent, start: Frames, tail: Frames, leaves: boolean): string {
  const speed = Math.abs(speedOf(event.retime));
  const join = event.transitionIn;
  const head = Math.round((join?.before ?? 0) * speed);
  const used = lengthOf(event.source);
  // The file begins at the first frame needed, so that no count goes below zero.
  const first = Math.max(0, event.source.in - head);
  const [cutIn, cutOut] = [event.source.in - first, event.source.out - first];
  const extra = Math.round(tail * speed);
  const reverse = event.retime.kind === 'constant' && event.retime.speed < 0;
  const shown = reverse ? { in: cutIn - Math.min(cutIn, extra), out: cutOut + head } : { in: cutIn - head, out: cutOut + extra };
  const generator = event.kind !== 'clip';
  return element(
    generator ? 'generatoritem' : 'clipitem',
    [
      element('name', event.clipName),
      element('enabled', event.enabled ? 'TRUE' : 'FALSE'),
      element('duration', used + head + extra),
      rateElement(event.sourceRate),
      element('start', join ? -1 : event.record.in - start),
      element('end', leaves ? -1 : event.record.out - start),
      element('in', Math.max(0, shown.in)),
      element('out', shown.out),
      generator
        ? element('effect', [
            element('name', event.clipName),
            element('effectid', event.kind),
            element('effectcategory', event.kind === 'title' ? 'Text' : 'Matte'),
            element('effecttype', 'generator'),
          ])
        : element(
            'file',
            [
              element('name', event.fileName || event.clipName),
              event.fileName ? element('pathurl', encodeURI(event.fileName)) : null,
              rateElement(event.sourceRate),
              timecodeElement(first, event.sourceRate, event.reel),
            ],
            ` id="file-${escaped(event.id)}"`,
          ),
      ...filters(event),
      ...event.markers.map((m) =>
        element('marker', [
          element('name', m.text),
          element('in', Math.max(0, shown.in) + m.record - event.record.in + (join?.before ?? 0)),
          element('out', -1),
        ]),
      ),
      event.notes.length > 0
        ? element(
            'comments',
            event.notes.slice(0, 4).map((n, i) => element(`mastercomment${i + 1}`, n)),
          )
        : null,
    ],
    ` id="${escaped(event.id)}"`,
  );
}

function filters({ retime, placement }: ListEvent): string[] {
  const parameter = (id: string, value: string) => element('parameter', [element('parameterid', id), element('name', id), value]);
  const filter = (id: string, parameters: string[]) =>
    element('filter', [element('effect', [element('name', id), element('effectid', id), element('effecttype', 'motion'), ...parameters])]);
  const made: string[] = [];
  if (retime.kind !== 'natural') {
    const speed = speedOf({ ...retime });
    made.push(
      filter('timeremap', [
        parameter('speed', element('value', Math.abs(speed) * 100)),
        parameter('reverse', element('value', speed < 0 ? 'TRUE' : 'FALSE')),
        parameter('variablespeed', element('value', 0)),
      ]),
    );
  }
  if (placement)
    made.push(
      filter('basic', [
        parameter('scale', element('value', placement.scale * 100)),
        parameter('rotation', element('value', placement.rotation)),
        parameter('center', element('value', [element('horiz', placement.x), element('vert', placement.y)])),
      ]),
    );
  return made;
}
