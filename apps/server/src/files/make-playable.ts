import { rename, rm } from 'node:fs/promises';
import sharp from 'sharp';
import type { FilmPlan } from '@heliphon/core/files/film-plan';
import { progressPercent } from '@heliphon/core/files/making-progress';
import { type InBackground, ONLY_FILES, runFfmpeg } from './run-ffmpeg.js';

const KEYFRAME_EVERY_S = 2;
const LOOK_WIDTH_PX = 640;
const LOOK_QUALITY = 80;

/** Where a film's own picture is taken from: not the first frame, which is often black. */
const LOOK_AT_MS = 3000;

interface Making extends InBackground {
  readonly original: string;
  readonly playable: string;
  readonly onPercent: (percent: number) => void;
}

/**
 * Makes of a film or a sound what every player takes; what can stay as it is stays, bit for bit.
 * @throws FfmpegError where it cannot be read to its end; AbortError when called off. Nothing half made is left.
 */
export async function makePlayable(
  plan: FilmPlan,
  { original, playable, onPercent, ...background }: Making,
): Promise<void> {
  const unfinished = `${playable}.unfinished`;
  const parameters = [
    ...['-nostdin', '-y', '-progress', 'pipe:1', '-stats_period', '0.5', '-xerror'],
    ...ONLY_FILES,
    ...['-i', original],
    ...(plan.kind === 'film' ? filmParameters(plan) : ['-map', '0:a:0', ...SOUND]),
    ...['-map_metadata', '-1', '-map_chapters', '-1', '-movflags', '+faststart', '-f', 'mp4', unfinished],
  ];
  const onLine = (line: string): void => {
    const percent = progressPercent(line, plan.durationMs);
    if (percent !== null) onPercent(percent);
  };
  try {
    await runFfmpeg('ffmpeg', parameters, {
      ...background,
      onLine,
      cpuSeconds: cpuSecondsFor(plan.durationMs),
    });
    await rename(unfinished, playable);
  } catch (error) {
    await rm(unfinished, { force: true });
    throw error;
  }
}

/** The slowest film on the slowest machine took six times as long as it plays. */
const cpuSecondsFor = (durationMs: number): number => 120 + (20 * durationMs) / 1000;

const SOUND = '-c:a aac -b:a 160k -ar 48000 -ac 2'.split(' ');

/** The picture first that is no cover: capital V. */
const filmParameters = ({
  changes,
  sound,
  widthPx,
  heightPx,
  frameRateFps,
}: Extract<FilmPlan, { kind: 'film' }>): string[] => [
  ...['-map', '0:V:0'],
  ...(changes.length === 0
    ? ['-c:v', 'copy']
    : [
        ...[
          '-vf',
          `yadif=deint=interlaced,scale=${widthPx}:${heightPx},setsar=1`,
          '-r',
          String(frameRateFps),
        ],
        ...'-c:v libx264 -preset veryfast -profile:v high -pix_fmt yuv420p -crf 21 -maxrate 6M -bufsize 12M'.split(
          ' ',
        ),
        ...['-force_key_frames', `expr:gte(t,n_forced*${KEYFRAME_EVERY_S})`],
      ]),
  ...(sound === null ? [] : ['-map', '0:a:0', ...(sound === 'copy' ? ['-c:a', 'copy'] : SOUND)]),
];

/** A small picture of a playable film. */
export async function takeFilmLook(
  playable: string,
  durationMs: number,
  look: string,
  background: InBackground,
): Promise<void> {
  const atSeconds = Math.min(LOOK_AT_MS, durationMs / 2) / 1000;
  const wish = `-frames:v 1 -vf scale=${LOOK_WIDTH_PX}:-2 -q:v 4 -f image2 -update 1`;
  await runFfmpeg(
    'ffmpeg',
    ['-nostdin', '-y', '-ss', String(atSeconds), '-i', playable, ...wish.split(' '), look],
    { ...background, onLine: () => undefined },
  );
}

/** A small picture of a picture. */
export async function takePictureLook(original: string, look: string): Promise<void> {
  await sharp(original, { failOn: 'error' })
    .rotate()
    .resize({ width: LOOK_WIDTH_PX, height: LOOK_WIDTH_PX, fit: 'inside', withoutEnlargement: true })
    .flatten({ background: '#ffffff' })
    .jpeg({ quality: LOOK_QUALITY })
    .toFile(look);
}
