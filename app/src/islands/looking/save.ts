import { formatTimecode, type Rate } from '@gemello/core/time';
import { toast } from 'sonner';
import type { Pair, Told } from '../viewing/viewer';
import { namesOf } from './Over';
import type { SideShown } from './sides';
import type { CompareMode } from './ways';

/** What the server draws as it is seen, at the size of the cut; other ways are kept as they are on the screen. */
const STILL: Partial<Record<CompareMode, 'facing'>> = { beside: 'facing' };
/** Height of a line of the caption, as a share of the picture's. */
const LINE = 0.032;

interface Kept {
  readonly job: string;
  readonly at: number;
  readonly rate: Rate;
  readonly mode: CompareMode;
  readonly sides: Pair<SideShown>;
  readonly stands: Told['stands'];
  /** True where the server can draw both sides, and nothing else is done to them on the screen. */
  readonly asDrawn: boolean;
  /** What is on the screen. */
  readonly kept: () => Promise<Blob | null>;
}

/** Saves what is seen as a PNG, with names and timecodes on a strip below the picture, and its file named by record timecode. */
export async function saveStill({ job, at, rate, mode, sides, stands, asDrawn, kept }: Kept): Promise<void> {
  const show = asDrawn ? STILL[mode] : undefined;
  const picture = show ? await fromServer(`/api/jobs/${job}/still?frame=${at}&show=${show}`) : await kept();
  if (!picture) {
    toast.error('The still could not be drawn.');
    return;
  }
  const both = ([0, 1] as const).map((i) => [sides[i].says, ...namesOf({ frames: [at, at], stands }, i, sides[i], rate)].join('   '));
  const link = document.createElement('a');
  link.href = URL.createObjectURL(await captioned(picture, both));
  link.download = `${formatTimecode(at, rate).replace(/[:;]/g, '-')}.png`;
  link.click();
  setTimeout(() => URL.revokeObjectURL(link.href), 10_000);
}

async function fromServer(address: string): Promise<Blob | null> {
  const answer = await fetch(address).catch(() => null);
  return answer?.ok ? answer.blob() : null;
}

async function captioned(picture: Blob, lines: readonly string[]): Promise<Blob> {
  const image = await createImageBitmap(picture, { colorSpaceConversion: 'none' });
  const line = Math.max(16, Math.round(image.height * LINE));
  const canvas = new OffscreenCanvas(image.width, image.height + line * (lines.length + 0.6));
  const context = canvas.getContext('2d') as OffscreenCanvasRenderingContext2D;
  context.fillStyle = '#000';
  context.fillRect(0, 0, canvas.width, canvas.height);
  context.drawImage(image, 0, 0);
  image.close();
  context.fillStyle = '#e2e2e2';
  context.font = `${Math.round(line * 0.7)}px "IBM Plex Mono", monospace`;
  lines.forEach((text, i) => {
    context.fillText(text, line * 0.4, canvas.height - line * (lines.length - i - 0.6), canvas.width - line * 0.8);
  });
  return canvas.convertToBlob({ type: 'image/png' });
}
