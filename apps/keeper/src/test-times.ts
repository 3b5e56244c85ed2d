import { readFileSync } from 'node:fs';
import { availableParallelism } from 'node:os';
import { relative } from 'node:path';

/** How long one file of tests took. */
export interface FileTime {
  readonly room: string;
  readonly file: string;
  readonly seconds: number;
}

/** Where a room's time went, and how much of it before its first test. */
export interface RoomTime {
  readonly room: string;
  readonly seconds: number;
  readonly startSeconds: number;
}

interface JestFile {
  readonly name: string;
  readonly startTime: number;
  readonly endTime: number;
}

/** Files of a Jest report (`--json`). */
export const jestTimes = (room: string, files: readonly JestFile[]): FileTime[] =>
  files.map(({ name, startTime, endTime }) => ({
    room,
    file: relative(process.cwd(), name),
    seconds: (endTime - startTime) / 1000,
  }));

/** A suite of Playwright's JSON report. */
export interface PlaywrightSuite {
  readonly file: string;
  readonly suites?: readonly PlaywrightSuite[];
  readonly specs: readonly {
    readonly title: string;
    readonly line: number;
    readonly tests: readonly {
      readonly projectName: string;
      /** `unexpected` when it failed. */
      readonly status: string;
      readonly results: readonly {
        readonly duration: number;
        readonly error?: { readonly message?: string };
      }[];
    }[];
  }[];
}

/** Files of a Playwright report, each project's by itself. */
export function playwrightTimes(room: string, suites: readonly PlaywrightSuite[]): FileTime[] {
  const totals = new Map<string, number>();
  const add = ({ file, specs, suites: inner = [] }: PlaywrightSuite): void => {
    for (const { projectName, results } of specs.flatMap(({ tests }) => tests)) {
      const name = `${file} (${projectName})`;
      const durationMs = results.reduce((sum, { duration }) => sum + duration, 0);
      totals.set(name, (totals.get(name) ?? 0) + durationMs);
    }
    inner.forEach(add);
  };
  suites.forEach(add);
  return [...totals].map(([file, durationMs]) => ({ room, file, seconds: durationMs / 1000 }));
}

/** Processor time of this process and of all its children that have ended, in seconds (proc(5), `stat`). */
function processorSeconds(): number {
  const TICKS_PER_SECOND = 100;
  const fields = readFileSync('/proc/self/stat', 'utf8').split(') ')[1]!.split(' ');
  return fields.slice(11, 15).reduce((sum, ticks) => sum + Number(ticks), 0) / TICKS_PER_SECOND;
}

const SLOWEST = 30;

/** The table that `./heliphon test --times` prints. @param seconds - of the whole run. */
export function timesTable(rooms: readonly RoomTime[], files: readonly FileTime[], seconds: number): string {
  const figure = (seconds: number): string => seconds.toFixed(0).padStart(6);
  const slowest = [...files].sort((a, b) => b.seconds - a.seconds).slice(0, SLOWEST);
  return [
    'seconds  start  room',
    ...rooms.map((time) => `${figure(time.seconds)} ${figure(time.startSeconds)}   ${time.room}`),
    `${figure(seconds)}          altogether, on ${availableParallelism()} cores that were busy for ${figure(processorSeconds()).trim()} s`,
    '',
    'seconds  slowest files',
    ...slowest.map(({ room, file, seconds }) => `${figure(seconds)}   ${room}: ${file}`),
  ].join('\n');
}
