// npm run grading-room -- FROM TO [--version N]: a small outside grading room. Movies of a folder come back graded, with versions in their names.
import { parseArgs } from 'node:util';
import { gradeAll } from '../demo/src/room.ts';

const { values, positionals } = parseArgs({ allowPositionals: true, options: { version: { type: 'string', default: '1' } } });
const [from, to] = positionals;
const version = Number(values.version);
if (!from || !to || !Number.isInteger(version) || version < 1) {
  console.error('npm run grading-room -- FROM TO [--version N]');
  process.exit(2);
}
const made = gradeAll(from, to, version);
console.log(`${made.length} clips graded in ${to}`);
