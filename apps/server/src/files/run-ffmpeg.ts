import { spawn } from 'node:child_process';
import { setPriority } from 'node:os';
import { createInterface } from 'node:readline';
import { confined } from './confined.js';

const TOLD_CHARACTERS = 400;

/**
 * What people upload is opened as a file and as nothing else: formats that name other files or addresses (playlists,
 * concatenations) are not among them.
 */
export const ONLY_FILES = [
  '-protocol_whitelist',
  'file',
  '-format_whitelist',
  'mov,mp4,m4a,3gp,3g2,mj2,matroska,webm,avi,mpeg,mpegts,flv,asf,ogg,mp3,aac,wav,w64,flac,aiff,mxf,mpegvideo,h264',
];

export class FfmpegError extends Error {
  override readonly name = 'FfmpegError';
}

/** A look takes a fifth of this, a film of the largest size that is taken half. */
const MEMORY_BYTES = { ffprobe: 1_000_000_000, ffmpeg: 2_500_000_000 } as const;
/** For a look at a file: far more than any film needs. */
const LOOK_CPU_SECONDS = 30;

/** How work on files goes on beside everything else. */
export interface InBackground {
  readonly signal: AbortSignal;
  /** How far it stands back when processors are scarce, as of `nice`: 0 not at all, 19 the most. */
  readonly niceness: number;
}

export interface RunOptions extends InBackground {
  /** Called with each line of its answer. */
  readonly onLine: (line: string) => void;
  /** Of processor time, after which it is killed. */
  readonly cpuSeconds?: number;
}

/**
 * Runs `ffmpeg` or `ffprobe` behind everything else on the machine, confined: it reads what strangers made.
 * @throws FfmpegError with the end of what it complained about; AbortError when it was called off, and has ended.
 */
export async function runFfmpeg(
  program: 'ffmpeg' | 'ffprobe',
  parameters: readonly string[],
  { onLine, signal, niceness, cpuSeconds = LOOK_CPU_SECONDS }: RunOptions,
): Promise<void> {
  signal.throwIfAborted();
  const [command, confinement] = confined(program, { memoryBytes: MEMORY_BYTES[program], cpuSeconds });
  const child = spawn(command, [...confinement, '-v', 'error', ...parameters], {
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  let complaint = '';
  child.stderr.on('data', (data: Buffer) => (complaint = (complaint + String(data)).slice(-TOLD_CHARACTERS)));
  createInterface(child.stdout).on('line', onLine);
  const stop = (): void => void child.kill('SIGKILL');
  signal.addEventListener('abort', stop);
  try {
    const code = await new Promise<number | null>((resolve, reject) => {
      child.once('spawn', () => setPriority(child.pid!, niceness));
      child.once('error', reject);
      child.once('close', resolve);
    });
    signal.throwIfAborted();
    if (code !== 0) throw new FfmpegError(complaint.trim() || `${program} ended with ${code}`);
  } finally {
    signal.removeEventListener('abort', stop);
  }
}
