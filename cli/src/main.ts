import { MediaError } from '@gemello/media';
import { Command, CommanderError } from 'commander';
import { addConvert } from './commands/convert';
import { addFrames } from './commands/frames';
import { addPair } from './commands/pair';
import { addProof } from './commands/proof';
import { addRead } from './commands/read';
import { addRender } from './commands/render';
import { addReturn } from './commands/return';
import { addScan } from './commands/scan';
import { addServe } from './commands/serve';
import { EXIT, UsageError } from './exit';

/** Runs the command line. Resolves with the exit code: 0 nothing open, 1 something open, 2 bad input or usage. */
export async function main(args: readonly string[]): Promise<number> {
  let code: number = EXIT.done;
  const finish = (result: number) => {
    code = result;
  };
  const program = new Command('gemello')
    .description('Conforms edit lists to camera originals, proves the result and returns graded clips.')
    .exitOverride()
    .configureOutput({ writeErr: (text) => process.stderr.write(text.split('\n')[0] ? `${text.split('\n')[0]}\n` : '') });
  for (const add of [addRead, addConvert, addScan, addPair, addProof, addFrames, addRender, addReturn, addServe]) add(program, finish);
  try {
    await program.parseAsync(args, { from: 'user' });
    return code;
  } catch (error) {
    if (error instanceof CommanderError) return error.exitCode === 0 ? EXIT.done : EXIT.badInput;
    if (error instanceof UsageError || error instanceof MediaError) {
      process.stderr.write(`gemello: ${error.message}\n`);
      return EXIT.badInput;
    }
    throw error;
  }
}
