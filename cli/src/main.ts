import { isMediaError } from '@gemello/media/plain';
import { Command, CommanderError } from 'commander';
import { EXIT, UsageError } from './exit';

/** The commands; only what is asked for is loaded, since the rest takes a moment. */
const COMMANDS: Readonly<Record<string, () => Promise<Adds>>> = {
  read: async () => (await import('./commands/read')).addRead,
  convert: async () => (await import('./commands/convert')).addConvert,
  scan: async () => (await import('./commands/scan')).addScan,
  pair: async () => (await import('./commands/pair')).addPair,
  proof: async () => (await import('./commands/proof')).addProof,
  cuts: async () => (await import('./commands/cuts')).addCuts,
  frames: async () => (await import('./commands/frames')).addFrames,
  render: async () => (await import('./commands/render')).addRender,
  return: async () => (await import('./commands/return')).addReturn,
  serve: async () => (await import('./commands/serve')).addServe,
};
type Adds = (program: Command, finish: (code: number) => void, root: URL) => void;

/** Runs the command line; `root` is the folder of the whole project. Resolves with the exit code: 0 nothing open, 1 something open, 2 bad input or usage. */
export async function main(args: readonly string[], root: URL): Promise<number> {
  let code: number = EXIT.done;
  const finish = (result: number) => {
    code = result;
  };
  const program = new Command('gemello')
    .description('Conforms edit lists to camera originals, proves the result and returns graded clips.')
    .exitOverride()
    .configureOutput({ writeErr: (text) => process.stderr.write(text.split('\n')[0] ? `${text.split('\n')[0]}\n` : '') });
  const asked = COMMANDS[args[0] ?? ''];
  for (const load of asked ? [asked] : Object.values(COMMANDS)) (await load())(program, finish, root);
  try {
    await program.parseAsync(args, { from: 'user' });
    return code;
  } catch (error) {
    if (error instanceof CommanderError) return error.exitCode === 0 ? EXIT.done : EXIT.badInput;
    if (error instanceof UsageError || isMediaError(error)) {
      process.stderr.write(`gemello: ${error.message}\n`);
      return EXIT.badInput;
    }
    throw error;
  }
}
