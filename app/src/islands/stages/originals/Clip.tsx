import { formatRate } from '@gemello/core/time';
import { sizeText } from '@gemello/core/words';
import { toast } from 'sonner';
import type { OriginalView } from '../../../contract';
import { shown } from '../../data/api';
import { useOriginal } from '../../data/queries';
import { PathText } from '../../parts/PathText';
import { Uses } from '../../parts/Uses';
import { Claims } from './Claims';
import { Content } from './Content';
import { Copies } from './Copies';
import { Grades } from './Grades';
import { Remarks } from './Remarks';
import { ScrubStrip } from './ScrubStrip';
import { Span } from './Span';

/** One original: everything known of it and who says so, what uses it, its proxies, its checksums. */
export function Clip({
  job,
  path,
  onClose,
  onChoose,
}: {
  job: string;
  path: string;
  onClose: () => void;
  onChoose: (path: string) => void;
}) {
  const { data: clip, error } = shown(useOriginal(job, path));
  if (error) return <p className="p-3 text-error text-xs">{error.message}</p>;
  if (!clip) return <p className="p-3 quiet text-xs">…</p>;
  return (
    // Room at the foot, so that what is there can be scrolled clear of a message.
    <section aria-label="The chosen clip" className="overflow-y-auto px-3 pt-2 pb-24 text-xs flex flex-col gap-3">
      <div className="flex items-baseline gap-2">
        <h2 className="font-medium text-sm truncate" title={clip.clipName}>
          {clip.clipName}
        </h2>
        <button type="button" className="btn btn-xs btn-ghost ml-auto" onClick={onClose}>
          Close
        </button>
      </div>
      <ScrubStrip job={job} clip={clip} className="w-full" width={640} />
      <p className="flex gap-2 items-start" title={clip.path}>
        <PathText className="quiet grow" path={`${clip.volume} / ${clip.folder && `${clip.folder}/`}${clip.fileName}`} />
        <button type="button" className="btn btn-xs h-5 min-h-0" onClick={() => copy(clip.path)}>
          Copy path
        </button>
      </p>
      {clip.warnings.map((w) => (
        <p key={w.message} className="text-warning">
          {w.message}
        </p>
      ))}
      <Facts clip={clip} />
      <Claims job={job} clip={clip} />
      <Span job={job} clip={clip} onChoose={onChoose} />
      <Uses versions={clip.versions} usedBy={clip.usedBy} />
      <Copies job={job} clip={clip} onChoose={onChoose} />
      <Grades job={job} clip={clip} />
      <Content job={job} clip={clip} />
      <Remarks job={job} clip={clip} />
    </section>
  );
}

async function copy(path: string): Promise<void> {
  // Only pages of this machine may write to the clipboard; elsewhere the path stands in the message.
  await navigator.clipboard?.writeText(path).catch(() => {});
  toast(path);
}

function Facts({ clip }: { clip: OriginalView }) {
  const facts: [string, string][] = [
    ['Reel', clip.reel || 'none'],
    ['Timecode', clip.timecodeIn ? `${clip.timecodeIn} – ${clip.timecodeOut}` : 'none'],
    ['Length', clip.kind === 'still' ? 'still' : `${clip.frames} frames at ${formatRate(clip.rate)}`],
    ...(clip.kind === 'sound'
      ? []
      : ([
          [
            'Picture',
            `${clip.raster.width}×${clip.raster.height} ${clip.codec}${clip.pixelAspect && Math.abs(clip.pixelAspect - 1) > 0.001 ? `, pixels ${clip.pixelAspect.toFixed(3)}` : ''}`,
          ],
        ] as [string, string][])),
    ...(clip.sound ? ([['Sound', `${clip.sound.channels} channels, ${clip.sound.sampleRate / 1000} kHz`]] as [string, string][]) : []),
    ['On disk', `${sizeText(clip.bytes)}${clip.files > 1 ? ` in ${clip.files} files` : ''}${clip.here ? '' : ', away'}`],
    ...(clip.sidecars.length > 0 ? ([['Sidecars', clip.sidecars.join(', ')]] as [string, string][]) : []),
  ];
  return (
    <dl className="grid grid-cols-[4.5rem_1fr] gap-y-0.5">
      {facts.map(([name, value]) => (
        <div key={name} className="contents">
          <dt className="quiet">{name}</dt>
          <dd className="font-mono break-words min-w-0">{value}</dd>
        </div>
      ))}
    </dl>
  );
}
