import { execFile } from 'node:child_process';
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { promisify } from 'node:util';

const run = promisify(execFile);

const PICTURE = '-f lavfi -i testsrc2=size=320x240:rate=25:duration=4';
const SOUND = '-f lavfi -i sine=frequency=440:sample_rate=48000:duration=4';
const PLAIN = '-c:v libx264 -preset ultrafast -pix_fmt yuv420p -g 50 -bf 0 -c:a aac -ac 2';

/** Films, sounds and what pretends to be one, made by ffmpeg in a moment. */
const RECIPES = {
  /** Every player takes it as it is. */
  'bells.mp4': `${PICTURE} ${SOUND} ${PLAIN}`,
  /** Its picture and sound have to be re-encoded. */
  'old-camera.avi': `${PICTURE} ${SOUND} -c:v mpeg4 -c:a mp2`,
  /** A keyframe every four seconds and more, in a format without a length. */
  'silent.mkv': `${PICTURE.replace('duration=4', 'duration=9')} -c:v libx264 -preset ultrafast -pix_fmt yuv420p -g 1000`,
  'organ.mp3': `${SOUND} -c:a libmp3lame`,
  /** Takes longer to encode than anybody waits. */
  'long.avi': '-f lavfi -i testsrc2=size=1280x720:rate=25:duration=60 -c:v mpeg4 -q:v 20',
} as const;
export type Recipe = keyof typeof RECIPES;

/** @returns the bytes of a film that stays in the folder. */
export async function makeMedia(folder: string, name: Recipe): Promise<Buffer> {
  const path = join(folder, name);
  await run('ffmpeg', ['-v', 'error', '-y', ...RECIPES[name].split(' '), path]);
  return readFile(path);
}

/** What ffprobe says of a file's first picture and sound: `h264,aac`. */
export async function codecsOf(path: string): Promise<string> {
  const wish = '-v error -show_entries stream=codec_name -of csv=p=0'.split(' ');
  return (await run('ffprobe', [...wish, path])).stdout.trim().split('\n').join(',');
}
