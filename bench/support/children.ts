import type { ChildProcess } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

const children = new Set<ChildProcess>();
const folders = new Set<string>();

// However a bench ends, also in the middle: what it started ends, and what it wrote goes.
process.once('exit', () => {
  for (const child of children) child.kill('SIGKILL');
  for (const folder of folders) rmSync(folder, { recursive: true, force: true });
});
for (const signal of ['SIGINT', 'SIGTERM'] as const) process.once(signal, () => process.exit(1));

/** Ends a child with the bench. */
export function tied<Child extends ChildProcess>(child: Child): Child {
  children.add(child);
  child.once('exit', () => children.delete(child));
  return child;
}

/** An empty folder that goes with the bench. */
export function ownFolder(): string {
  const folder = mkdtempSync(join(tmpdir(), 'heliphon-bench-'));
  folders.add(folder);
  return folder;
}
