import { count, listedSource } from './list';
import { CUT, CUT_LENGTH, type CutEvent, offsets, TITLE, takeOf } from './scenario';

/**
 * The same cut as the editor exported it a second time, as interchange XML, written out here and not
 * by Gemello's writer. It has the size that the edit list lost, and the editor's labels; it lost every
 * speed, the grade and the marker (common practice: no two exports of a cut carry the same).
 */
const RATE = '<rate><timebase>24</timebase><ntsc>TRUE</ntsc></rate>';
const START = 3600 * 24;

const transition = (at: number, frames: number, name: string, alignment: string) =>
  `<transitionitem>${RATE}<start>${at}</start><end>${at + frames}</end><alignment>${alignment}</alignment><effect><name>${name}</name><effectid>${name}</effectid><effectcategory>${name === 'Cross Dissolve' ? 'Dissolve' : 'Wipe'}</effectcategory><effecttype>transition</effecttype></effect></transitionitem>`;

function size({ reframe }: CutEvent): string {
  if (!reframe) return '';
  const parameter = (id: string, value: string) => `<parameter><parameterid>${id}</parameterid><value>${value}</value></parameter>`;
  const centre = `<horiz>${reframe.x}</horiz><vert>${reframe.y}</vert>`;
  return `<filter><effect><name>Motion</name><effectid>basic</effectid><effecttype>motion</effecttype>${parameter('scale', String(reframe.scale * 100))}${parameter('center', centre)}</effect></filter>`;
}

function item(event: CutEvent, at: number, next: CutEvent | undefined): string {
  const source = listedSource(event);
  const tail = next?.join && !next.join.fromBlack ? next.join.frames : 0;
  const name = source.clip || 'Slug';
  const edges = `<start>${event.join ? -1 : at}</start><end>${tail > 0 ? -1 : at + event.length}</end>`;
  const used = `<in>0</in><out>${event.length + tail}</out>`;
  if (event.title)
    return `<generatoritem id="e${event.number}"><name>${event.title}</name>${RATE}${edges}${used}<effect><name>Text</name><effectid>Text</effectid><effectcategory>Text</effectcategory><effecttype>generator</effecttype></effect></generatoritem>`;
  const reel = source.reel === 'AX' ? '' : `<reel><name>${source.reel}</name></reel>`;
  const label = event.clip && takeOf(event.clip).reel.startsWith('D') ? '<labels><label2>Aerial</label2></labels>' : '';
  return `<clipitem id="e${event.number}"><name>${name}</name>${RATE}${edges}${used}<file id="f${event.number}"><name>${source.file || name}</name>${RATE}<timecode>${RATE}<string>${source.in}</string><frame>${count(source.in)}</frame><displayformat>NDF</displayformat>${reel}</timecode></file>${size(event)}${label}</clipitem>`;
}

function track(name: 'V' | 'V2'): string {
  const starts = offsets();
  const events = CUT.filter((e) => e.track === name);
  return events
    .map((event, i) => {
      const at = starts.get(event) ?? 0;
      const join = event.join;
      const lead = join
        ? transition(
            at,
            join.frames,
            join.code === 'D' ? 'Cross Dissolve' : 'Edge Wipe',
            event.clip === null ? 'end-black' : join.fromBlack ? 'start-black' : 'start',
          )
        : '';
      // Black has no item of its own: the fade stands alone.
      return event.clip === null && !event.title ? lead : lead + item(event, at, events[i + 1]);
    })
    .join('\n');
}

export function interchange(): string {
  return `<?xml version="1.0" encoding="UTF-8"?>
<!DOCTYPE xmeml>
<xmeml version="4">
<sequence id="${TITLE}"><name>${TITLE}</name><duration>${CUT_LENGTH}</duration>${RATE}
<timecode>${RATE}<string>01:00:00:00</string><frame>${START}</frame><displayformat>NDF</displayformat></timecode>
<media><video><format><samplecharacteristics><width>640</width><height>360</height><pixelaspectratio>square</pixelaspectratio><fielddominance>none</fielddominance></samplecharacteristics></format>
<track>
${track('V')}
</track>
<track>
${track('V2')}
</track>
</video></media>
</sequence>
</xmeml>
`;
}
