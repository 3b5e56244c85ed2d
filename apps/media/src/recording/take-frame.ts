import { spawn } from 'node:child_process';
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { initName, segmentName } from '@heliphon/core/packaging/playlist';
import type { Programme } from '../programme/programme.js';

/** Decoding is work: so many frames are taken at once, the next is asked to wait. */
const AT_ONCE = 2;
const TIMEOUT_MS = 8000;
let running = 0;

/**
 * The picture of a recording at a moment of its replay, as JPEG in full size.
 * @param atMs - on the replay's own time, from 0.
 * @returns `null` where the recording has no picture then, `'busy'` where others are being taken.
 */
export async function takeFrame(programme: Programme, atMs: number): Promise<Buffer | null | 'busy'> {
  let fromMs = 0;
  const segment = (programme.replaySegments ?? []).find(({ durationSeconds }) => {
    fromMs += durationSeconds * 1000;
    return fromMs > atMs;
  });
  if (!segment) return null;
  if (running >= AT_ONCE) return 'busy';
  running += 1;
  try {
    const { path } = programme.folder;
    const film = Buffer.concat([
      await readFile(join(path, initName(segment.initNumber))),
      await readFile(join(path, segmentName(segment.sequence))),
    ]);
    const offsetSeconds = (atMs - (fromMs - segment.durationSeconds * 1000)) / 1000;
    return await decodeFrame(film, offsetSeconds);
  } finally {
    running -= 1;
  }
}

/** The offset is applied after decoding: it is exact, whatever the keyframes. */
function decodeFrame(film: Buffer, offsetSeconds: number): Promise<Buffer | null> {
  const select = `setpts=PTS-STARTPTS,trim=start=${offsetSeconds.toFixed(3)}`;
  const child = spawn(
    'ffmpeg',
    ['-v', 'error', '-i', 'pipe:0', '-vf', select, '-frames:v', '1', '-q:v', '3', '-f', 'mjpeg', 'pipe:1'],
    { stdio: ['pipe', 'pipe', 'ignore'], timeout: TIMEOUT_MS },
  );
  return new Promise((resolve) => {
    const chunks: Buffer[] = [];
    child.stdout.on('data', (chunk: Buffer) => chunks.push(chunk));
    child.on('error', () => resolve(null));
    child.on('close', (code) => resolve(code === 0 && chunks.length > 0 ? Buffer.concat(chunks) : null));
    child.stdin.on('error', () => undefined); // ffmpeg stops reading once it has its frame
    child.stdin.end(film);
  });
}
