import sharp from 'sharp';
import { FILE_LIMITS, type FileRefusal } from '@heliphon/core/files/file-kinds';
import { type FilmPlan, planFilm } from '@heliphon/core/files/film-plan';
import { readMediaFacts } from '@heliphon/core/files/media-facts';
import { refuse, type Result, succeed } from '@heliphon/core/result';
import { PICTURE_FORMATS } from '../platform/pictures.js';
import { FfmpegError, type InBackground, ONLY_FILES, runFfmpeg } from './run-ffmpeg.js';

/** So much of a film is looked through for keyframes. */
const LOOKED_SECONDS = 30;

/** What is inside a file, whatever its name says. */
export type Inside =
  FilmPlan | { readonly kind: 'picture'; readonly widthPx: number; readonly heightPx: number };

/** Looks into a file: by its bytes alone. @throws AbortError when called off */
export async function lookInto(
  path: string,
  sizeBytes: number,
  background: InBackground,
): Promise<Result<Inside, FileRefusal>> {
  if (sizeBytes === 0) return refuse('file-empty');
  const picture = await sharp(path, { limitInputPixels: FILE_LIMITS.pictureMostPixels })
    .metadata()
    .catch(() => null);
  if (picture && PICTURE_FORMATS.has(picture.format)) {
    const { width, height } = picture.autoOrient;
    if (sizeBytes > FILE_LIMITS.bytes.picture) return refuse('file-too-large');
    if (width * height > FILE_LIMITS.pictureMostPixels) return refuse('picture-unreadable');
    if (width < FILE_LIMITS.pictureLeastPx) return refuse('picture-too-small');
    return succeed({ kind: 'picture', widthPx: width, heightPx: height });
  }
  const facts = await probe(path, background);
  if (!facts) return refuse('file-unknown');
  const plan = planFilm(facts);
  if (plan.ok && sizeBytes > FILE_LIMITS.bytes[plan.value.kind]) return refuse('file-too-large');
  return plan;
}

async function probe(path: string, background: InBackground) {
  const whole = await probeJson(path, ['-show_format', '-show_streams'], background);
  const facts = readMediaFacts(whole);
  if (!facts?.video) return facts;
  const wish = `-select_streams v:0 -show_entries packet=stream_index,pts_time,dts_time,flags -read_intervals %+${LOOKED_SECONDS}`;
  const { packets } = await probeJson(path, wish.split(' '), background);
  return readMediaFacts({ ...whole, packets });
}

/** @returns an empty object for what is no film and no sound. */
async function probeJson(
  path: string,
  wish: readonly string[],
  background: InBackground,
): Promise<Record<string, unknown>> {
  const lines: string[] = [];
  try {
    const parameters = [...ONLY_FILES, '-of', 'json', ...wish, '-i', path];
    await runFfmpeg('ffprobe', parameters, { ...background, onLine: (line) => lines.push(line) });
  } catch (error) {
    if (error instanceof FfmpegError) return {};
    throw error;
  }
  return JSON.parse(lines.join('\n')) as Record<string, unknown>;
}
