import { useState } from 'react';
import type { OriginalRow } from '../../../contract';
import { Picture, STAND_IN } from '../../parts/Picture';

/** How many pictures of a clip moving across it shows. */
const STEPS = 16;

/** A clip's picture; moving across it runs through the clip. */
export function ScrubStrip({
  job,
  clip,
  className = 'w-[74px]',
  width = 148,
}: {
  job: string;
  clip: Pick<OriginalRow, 'path' | 'frames' | 'kind' | 'here' | 'proxies' | 'look'>;
  className?: string;
  width?: number;
}) {
  const [step, setStep] = useState<number | null>(null);
  if (clip.kind === 'sound') return <div className={`bg-base-200 aspect-video grid place-items-center quiet ${className}`}>sound</div>;
  const frame = step === null ? Math.floor(clip.frames / 2) : Math.min(clip.frames - 1, Math.floor(((step + 0.5) * clip.frames) / STEPS));
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: a look by the way; the page of the clip shows the same by keyboard
    <div
      className={`relative ${className}`}
      onMouseMove={(e) => {
        const box = e.currentTarget.getBoundingClientRect();
        setStep(Math.max(0, Math.min(STEPS - 1, Math.floor(((e.clientX - box.left) / box.width) * STEPS))));
      }}
      onMouseLeave={() => setStep(null)}
    >
      <Picture
        job={job}
        side="original"
        path={clip.path}
        frame={frame}
        width={width}
        look={`${clip.look}${clip.here ? '' : ' away'}`}
        mark={!clip.here && clip.proxies.length > 0 ? STAND_IN : undefined}
        alt=""
        empty={clip.here ? 'no such frame' : 'away'}
        className="w-full"
      />
      {step !== null && clip.frames > 1 && (
        <div className="absolute bottom-0 left-0 h-0.5 bg-accent" style={{ width: `${((step + 1) * 100) / STEPS}%` }} />
      )}
    </div>
  );
}
