import path from 'node:path';
import { describeList, type NoticeDescription, SEVERITIES } from '@gemello/core';
import type { Command } from 'commander';
import { EXIT } from '../exit';
import { listFiles, print, readsList } from '../input';
import { table } from '../table';

export function addRead(program: Command, finish: (code: number) => void): void {
  readsList(program.command('read').description('the list as Gemello understands it, with notices'))
    .argument('<list...>', 'one file, or several that are the layers of one cut, the lowest first')
    .option('--json', 'one JSON document', false)
    .action((files: string[], options) => {
      const described = describeList(listFiles(files, options));
      print(options.json, described, () =>
        [
          `${described.title}  ${described.startTimecode}  ${described.durationFrames} frames`,
          ...described.tracks.map((track) =>
            table(track.events.map((e) => [track.name, e.number, e.reel, e.clipName, e.sourceIn, e.sourceOut, e.recordIn, e.recordOut])),
          ),
          ...described.notices.map(
            (n) =>
              `${n.severity}${n.part === undefined ? '' : ` ${path.basename(files[n.part] ?? '')}`}${n.place ? ` ${n.place}` : ''}: ${n.message}`,
          ),
          severityLine(described.notices),
        ].join('\n'),
      );
      finish(described.notices.some((n) => n.severity === 'lost' || n.severity === 'unreadable') ? EXIT.open : EXIT.done);
    });
}

/** How many notices there are of each weight; a clean list says so. */
function severityLine(notices: readonly NoticeDescription[]): string {
  if (notices.length === 0) return 'clean: everything in the list was understood';
  const counted = SEVERITIES.map((s) => [notices.filter((n) => n.severity === s).length, s] as const);
  return counted
    .filter(([n]) => n > 0)
    .map(([n, s]) => `${n} ${s}`)
    .join(', ');
}
