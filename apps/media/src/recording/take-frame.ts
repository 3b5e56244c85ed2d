import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { initName, segmentName } from '@heliphon/core/packaging/playlist';
import { type ChildProcesses, outputOf } from '../processes/child-processes.js';
import type { Programme } from '../programme/programme.js';

const TIMEOUT_MS = 8000;

/**
 * The picture of a recording at a moment of its replay, as JPEG in full size.
 * @param atMs - on the replay's own time, from 0.
 * @returns `null` where the recording has no picture then, `'busy'` where the machine has better things to do.
 */
export async function takeFrame(
  programme: Programme,
  atMs: number,
  children: ChildProcesses,
): Promise<Buffer | null | 'busy'> {
  let fromMs = 0;
  const segment = (programme.rendition.replaySegments ?? []).find(({ durationSeconds }) => {
    fromMs += durationSeconds * 1000;
    return fromMs > atMs;
  });
  if (!segment) return null;
  if (!children.hasRoomFor('frame')) return 'busy';
  const { path } = programme.folder;
  const film = Buffer.concat([
    await readFile(join(path, initName(segment.initNumber))),
    await readFile(join(path, segmentName(segment.sequence))),
  ]);
  const offsetSeconds = (atMs - (fromMs - segment.durationSeconds * 1000)) / 1000;
  // Applied after decoding: it is exact, whatever the keyframes.
  const select = `setpts=PTS-STARTPTS,trim=start=${offsetSeconds.toFixed(3)}`;
  const decode = `-v error -i pipe:0 -vf ${select} -frames:v 1 -q:v 3 -f mjpeg pipe:1`;
  const order = {
    purpose: 'frame',
    command: 'ffmpeg',
    args: decode.split(' '),
    timeoutMs: TIMEOUT_MS,
  } as const;
  return outputOf(children.start(order), film);
}
