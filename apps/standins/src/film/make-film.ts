import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { mkdir, rename, rm, stat, writeFile } from 'node:fs/promises';
import { dirname } from 'node:path';
import { FILM, FramePainter } from './frames.js';
import { renderSound } from './sound.js';

/** Makes the demo film: 720p30, a keyframe every 2 s, AAC stereo, as FLV. Kept once it is there; about half a minute. */
export async function makeFilm(path: string): Promise<void> {
  if (await stat(path).catch(() => null)) return;
  await mkdir(dirname(path), { recursive: true });
  const soundPath = `${path}.pcm`;
  const unfinished = `${path}.unfinished`;
  await writeFile(soundPath, renderSound(FILM.seconds));
  const { widthPx, heightPx, frameRateFps } = FILM;
  const input = `-f rawvideo -pix_fmt rgb24 -s ${widthPx}x${heightPx} -r ${frameRateFps} -i pipe:0 -f s16le -ar 48000 -ac 2`;
  const video =
    '-c:v libx264 -preset veryfast -pix_fmt yuv420p -b:v 2400k -maxrate 2500k -bufsize 2500k -bf 0';
  const keys = `-g ${frameRateFps * 2} -keyint_min ${frameRateFps * 2} -sc_threshold 0`;
  const child = spawn(
    'ffmpeg',
    [
      '-v',
      'error',
      '-y',
      ...input.split(' '),
      '-i',
      soundPath,
      ...video.split(' '),
      ...keys.split(' '),
      '-c:a',
      'aac',
      '-b:a',
      '128k',
      '-f',
      'flv',
      unfinished,
    ],
    { stdio: ['pipe', 'ignore', 'inherit'] },
  );
  const ended = once(child, 'close');
  const painter = await FramePainter.open();
  for (let frame = 0; frame < FILM.seconds * frameRateFps; frame += 1) {
    if (!child.stdin.write(painter.paint(frame))) await once(child.stdin, 'drain');
  }
  child.stdin.end();
  const [code] = (await ended) as [number];
  await rm(soundPath);
  if (code !== 0) throw new Error('The demo film could not be made: ffmpeg ended with an error.');
  await rename(unfinished, path);
}
