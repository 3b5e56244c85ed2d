import { spawn } from 'node:child_process';
import { availableParallelism } from 'node:os';
import { type Failure, firstOf } from './test-failures.js';

/** What needs nothing to run. Longest first, so that none is left over at the end. */
const CHECKS = [
  ['lint', 'node_modules/.bin/eslint', '--cache', '--cache-location', 'node_modules/.cache/eslint/', '.'],
  ['format', 'node_modules/.bin/prettier', '--check', '--log-level', 'warn', '.'],
  ['weight of the watch page', 'tooling/run-bench.mjs', 'page'],
  ['types', 'node_modules/typescript7/bin/tsc', '-p', 'tsconfig.json'],
  ['layers', 'node_modules/.bin/depcruise', '--config', '.dependency-cruiser.cjs', 'packages', 'apps'],
] as const;

/** Runs all checks, as many at once as there are cores; each tells what it has to say when it is done. */
export async function staticChecks(): Promise<{ passed: number; failures: Failure[] }> {
  const waiting = [...CHECKS];
  const failures: Failure[] = [];
  const lane = async (): Promise<void> => {
    for (let check = waiting.shift(); check; check = waiting.shift()) {
      const [name, script, ...parameters] = check;
      const { ok, words } = await ran(script, parameters);
      process.stdout.write(`${words}${ok ? '✓' : '✕'} ${name}\n`);
      if (!ok) failures.push({ room: 'static', file: null, test: name, words: firstOf(words) });
    }
  };
  await Promise.all(Array.from({ length: availableParallelism() }, lane));
  return { passed: CHECKS.length - failures.length, failures };
}

function ran(script: string, parameters: readonly string[]): Promise<{ ok: boolean; words: string }> {
  return new Promise((done, reject) => {
    const child = spawn(process.execPath, [script, ...parameters], { stdio: ['ignore', 'pipe', 'pipe'] });
    const words: Buffer[] = [];
    for (const stream of [child.stdout, child.stderr])
      stream.on('data', (bytes: Buffer) => words.push(bytes));
    child.once('error', reject);
    child.once('close', (code) => done({ ok: code === 0, words: Buffer.concat(words).toString() }));
  });
}
