import { spawnSync } from 'node:child_process';

/** Of memory as it is addressed, and of processor time, beyond which it is killed. */
export interface Bounds {
  readonly memoryBytes: number;
  readonly cpuSeconds: number;
}

/** Found out once: not every machine lets an ordinary user have a network of its own. */
let withoutNetwork: readonly string[] | null = null;

/**
 * The command line that runs a program confined: with bounds on memory and processor time, and, where the machine lets
 * us, in a network that leads nowhere.
 */
export function confined(
  program: string,
  { memoryBytes, cpuSeconds }: Bounds,
): readonly [string, readonly string[]] {
  withoutNetwork ??= networkless();
  const limits = ['prlimit', `--as=${memoryBytes}`, `--cpu=${Math.ceil(cpuSeconds)}`, '--core=0', '--'];
  const [command = program, ...parameters] = [...withoutNetwork, ...limits, program];
  return [command, parameters];
}

function networkless(): readonly string[] {
  const command = ['unshare', '--net', ...(process.getuid?.() === 0 ? [] : ['--map-current-user']), '--'];
  const { status } = spawnSync(command[0]!, [...command.slice(1), 'true'], { stdio: 'ignore' });
  return status === 0 ? command : [];
}
