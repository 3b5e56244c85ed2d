import { execFile } from 'node:child_process';
import { readFile } from 'node:fs/promises';
import { promisify } from 'node:util';

const run = promisify(execFile);
const CODE = /\.(ts|tsx|css|js|mjs)$/;
const TEST = /\.(spec|test)\.\w+$|^tests\/|\/test\//;

/** Tests as per cent of all code, by lines that are not blank. Stand-ins and benches are code. */
export async function shareOfTests(): Promise<number> {
  const { stdout } = await run('git', ['ls-files', '-co', '--exclude-standard'], { maxBuffer: 1 << 24 });
  let tests = 0;
  let all = 0;
  for (const file of stdout.split('\n').filter((name) => CODE.test(name))) {
    const text = await readFile(file, 'utf8').catch(() => ''); // listed, and deleted since
    const lines = text.split('\n').filter((line) => line.trim() !== '').length;
    all += lines;
    if (TEST.test(file)) tests += lines;
  }
  return Math.round((100 * tests) / Math.max(1, all));
}
