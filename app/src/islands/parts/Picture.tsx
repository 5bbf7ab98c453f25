import { useEffect, useState } from 'react';
import type { LedgerRow } from '../../contract';
import { pictureAddress } from '../data/api';
import { useLine } from '../data/line';

export interface PictureProps {
  readonly job: string;
  readonly side: 'event' | 'conform' | 'reference' | 'candidate' | 'original';
  readonly event?: string;
  readonly frame: number;
  readonly path?: string;
  readonly width: number;
  /** Changes whenever the picture does. */
  readonly look?: string;
  readonly cdl?: string | null;
  readonly alt: string;
  /** What stands there when there is no picture. */
  readonly empty?: string;
  readonly className?: string;
  readonly style?: React.CSSProperties;
  readonly onSettled?: () => void;
  /** A word across the picture where it is not what it stands for. */
  readonly mark?: string | undefined;
}

/** Said across a proxy that is shown while its original is away. */
export const STAND_IN = 'proxy';

/**
 * One frame. The picture before stays until the next one is there, so that nothing flickers; a
 * missing one leaves a quiet field with a word in it. While the server does not answer nobody knows whether there is one.
 */
export function Picture({
  job,
  side,
  event,
  frame,
  path,
  width,
  look,
  cdl,
  alt,
  empty = 'no picture',
  className = '',
  style,
  onSettled,
  mark,
}: PictureProps) {
  const address = pictureAddress(job, { side, event, path, frame, width, look, cdl });
  const [shown, setShown] = useState<string | null>(null);
  const [missing, setMissing] = useState(false);
  const { isDown, returns } = useLine();
  // biome-ignore lint/correctness/useExhaustiveDependencies: what could not be had while the server was away is asked for again
  useEffect(() => {
    let current = true;
    const image = new Image();
    const settle = (found: boolean) => {
      if (!current) return;
      setMissing(!found);
      if (found) setShown(address);
      onSettled?.();
    };
    image.onload = () => settle(true);
    image.onerror = () => settle(false);
    image.src = address;
    return () => {
      current = false;
    };
  }, [address, onSettled, returns]);
  return (
    <div className={`bg-black relative overflow-hidden aspect-video ${className}`} style={style}>
      {shown && !missing ? (
        <img src={shown} alt={alt} className="w-full h-full object-contain" draggable={false} />
      ) : (
        <div className="absolute inset-0 grid place-items-center text-[#a5a5a5] text-xs text-center px-2">
          {missing && !isDown ? empty : ''}
        </div>
      )}
      {shown && !missing && mark && (
        <span className="absolute bottom-0 inset-x-0 text-center text-xs leading-4 text-black" style={{ background: 'var(--state-away)' }}>
          {mark}
        </span>
      )}
    </div>
  );
}

/** What is said where an event has no picture at the playhead. */
export const withoutPicture = (state: LedgerRow['state']): string =>
  state === 'exempt' ? 'needs none' : state === 'short' ? 'no such frame' : state;

/** An event's own picture, the best candidate's while none is accepted; its state stands where there is none. */
export function ShotPicture({ job, row, ...rest }: Omit<PictureProps, 'side' | 'event' | 'look' | 'empty'> & { readonly row: LedgerRow }) {
  return (
    <Picture
      job={job}
      side="event"
      event={row.id}
      look={row.look}
      empty={withoutPicture(row.state)}
      mark={row.standIn ? STAND_IN : undefined}
      {...rest}
    />
  );
}
