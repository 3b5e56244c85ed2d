import { spawn } from 'node:child_process';
import { readdir } from 'node:fs/promises';

/** `./heliphon bench NAME`: one measured comparison; its last line says PASS or FAIL. */
export async function bench([name, ...options]: readonly string[]): Promise<void> {
  const names = (await readdir('bench'))
    .filter((file) => file.endsWith('.bench.ts'))
    .map((file) => file.slice(0, -9));
  if (!name || !names.includes(name)) throw new Error(`Name a bench: ${names.join(', ')}.`);
  const child = spawn(process.execPath, ['tooling/run-bench.mjs', name, ...options], { stdio: 'inherit' });
  process.exitCode = await new Promise<number>((resolve) =>
    child.once('close', (code) => resolve(code ?? 1)),
  );
}
