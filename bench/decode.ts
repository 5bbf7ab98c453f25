import { execFileSync } from 'node:child_process';
import path from 'node:path';
import { probeMovie, readLuma } from '@gemello/media';
import { type Figure, inFolder, inTurn } from './measure';

const CLIPS = [
  { name: 'H.264 long-GOP 1080p', file: 'long.mp4', frames: 240, args: ['-c:v', 'libx264', '-preset', 'fast', '-crf', '20', '-g', '48'] },
  { name: 'ProRes 1080p', file: 'intra.mov', frames: 72, args: ['-c:v', 'prores', '-profile:v', '2'] },
];

/** Decode and scale to 160 px wide through media/, against the bare decode of the same file by the ffmpeg program. */
export function decode(): Promise<Figure[]> {
  return inFolder(async (folder) => {
    const figures: Figure[] = [];
    for (const clip of CLIPS) {
      const file = path.join(folder, clip.file);
      const source = [
        '-f',
        'lavfi',
        '-i',
        'testsrc2=size=1920x1080:rate=24',
        '-frames:v',
        String(clip.frames),
        '-pix_fmt',
        clip.file.endsWith('mov') ? 'yuv422p10le' : 'yuv420p',
      ];
      execFileSync('ffmpeg', ['-v', 'error', ...source, ...clip.args, file]);
      const original = probeMovie(file);
      const { ours, yardstick } = await inTurn(
        () => {
          let seen = 0;
          readLuma(original, { width: 160, height: 90 }, 0, original.frames, () => {
            seen++;
            return undefined;
          });
          if (seen !== clip.frames) throw new Error(`${seen} of ${clip.frames} frames came`);
        },
        () => execFileSync('ffmpeg', ['-v', 'error', '-threads', '2', '-i', file, '-map', '0:v', '-f', 'null', '-']),
      );
      figures.push({
        name: `decode and scale to 160 px, ${clip.name}`,
        ours,
        yardstick,
        yardstickName: 'ffmpeg -f null',
        note: `${Math.round(clip.frames / ours)} frames/s`,
      });
    }
    return figures;
  });
}
