// Bundles one bench with what it needs and runs it: `node tooling/run-bench.mjs latency [--runs 1] [--seconds 60]`.
import { spawn } from 'node:child_process';
import { rolldown } from 'rolldown';

const [name, ...options] = process.argv.slice(2);
const outside = (id) => /^(node:|[^./@]|@(?!heliphon|oxc-project))/.test(id);

/** What is measured, and what measures it, run in processes of their own. */
const PROCESSES = ['media-node', 'load', 'chat-house', 'week-house', 'bare-room', 'readers', 'receiver'];

async function bundle(input, settings, output) {
  const build = await rolldown({ input, tsconfig: 'tsconfig.json', ...settings });
  await build.write({ sourcemap: true, ...output });
  await build.close();
}

const node = { platform: 'node', external: outside };
await bundle(
  {
    [name]: `bench/${name}.bench.ts`,
    ...Object.fromEntries(PROCESSES.map((process) => [process, `bench/support/${process}.ts`])),
  },
  node,
  {
    dir: 'dist/bench',
    format: 'esm',
  },
);
for (const page of ['player', 'camera'])
  await bundle(
    { [page]: `bench/support/${page}.ts` },
    { platform: 'browser' },
    { dir: 'dist/bench/page', format: 'iife', name: 'bench', codeSplitting: false },
  );

const child = spawn(process.execPath, ['--enable-source-maps', `dist/bench/${name}.js`, ...options], {
  stdio: 'inherit',
});
child.once('close', (code) => process.exit(code ?? 1));
