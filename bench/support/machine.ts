import { readFileSync } from 'node:fs';

/** What the machine did since it was last asked, as shares of its time. */
export interface MachineShares {
  readonly busy: number;
  /** Other machines on the same host had it: nothing here could run. */
  readonly stolen: number;
}

/** Watches the machine from now on; each question counts from the one before (proc(5), `/proc/stat`). */
export function watchMachine(): () => MachineShares {
  let before = ticks();
  return () => {
    const now = ticks();
    const [all, idle, stolen] = [0, 1, 2].map((index) => now[index]! - before[index]!) as [
      number,
      number,
      number,
    ];
    before = now;
    return { busy: 1 - idle / all, stolen: stolen / all };
  };
}

/** Of all processors since the start: all, idle, stolen. */
function ticks(): readonly number[] {
  const [, ...counts] = readFileSync('/proc/stat', 'utf8').split('\n')[0]!.split(/ +/);
  const numbers = counts.slice(0, 8).map(Number);
  return [numbers.reduce((sum, count) => sum + count, 0), numbers[3]! + numbers[4]!, numbers[7]!];
}
