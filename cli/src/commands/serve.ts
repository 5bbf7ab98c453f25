import { spawn } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import type { Command } from 'commander';

export function addServe(program: Command, finish: (code: number) => void, root: URL): void {
  program
    .command('serve')
    .description('the web application, on this machine only')
    .option('--port <port>', 'port on 127.0.0.1', '4321')
    .option('--root <dir...>', 'folders that may be browsed and added as volumes; none: any, by path', [])
    .option('--data <dir>', 'folder for the database and what Gemello makes', '.data')
    .action(async (options) => {
      const script = fileURLToPath(new URL('scripts/serve.mjs', root));
      const server = spawn(
        process.execPath,
        [script, '--port', options.port, '--data', options.data, ...options.root.flatMap((r: string) => ['--root', r])],
        { stdio: 'inherit' },
      );
      const stop = () => server.kill('SIGTERM');
      process.once('SIGINT', stop).once('SIGTERM', stop);
      finish(await new Promise<number>((resolve) => server.once('exit', (code) => resolve(code ?? 0))));
    });
}
