import { describeList } from '@gemello/core';
import type { Command } from 'commander';
import { EXIT } from '../exit';
import { listFile, print, rateOption } from '../input';
import { table } from '../table';

export function addRead(program: Command, finish: (code: number) => void): void {
  program
    .command('read')
    .description('the list as Gemello understands it, with notices')
    .argument('<list>')
    .option('--rate <rate>', 'frame rate of the list', rateOption)
    .option('--json', 'one JSON document', false)
    .action((file: string, options) => {
      const described = describeList(listFile(file, options.rate));
      print(options.json, described, () =>
        [
          `${described.title}  ${described.startTimecode}  ${described.durationFrames} frames`,
          ...described.tracks.map((track) =>
            table(track.events.map((e) => [track.name, e.number, e.reel, e.clipName, e.sourceIn, e.sourceOut, e.recordIn, e.recordOut])),
          ),
          ...described.notices.map((n) => `${n.severity}${n.line ? ` line ${n.line}` : ''}: ${n.message}`),
        ].join('\n'),
      );
      finish(described.notices.some((n) => n.severity === 'lost' || n.severity === 'unreadable') ? EXIT.open : EXIT.done);
    });
}
