import { mkdir, readdir, rename, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { GrantClass } from '@heliphon/core/access/grant';
import { keyframeToAnnexB } from '@heliphon/core/ingest/annex-b';
import { decodeMs, type Frame, isPicture } from '@heliphon/core/media/frame';
import type { WholeTracks } from '@heliphon/core/media/track';
import { type ChildProcesses, outputOf } from '../processes/child-processes.js';
import type { Programme } from '../programme/programme.js';
import type { ProgrammeConsumer } from '../programme/programme-consumer.js';

/** Beside the segments of a recording; `docs/recording.md` describes it. */
const FOLDER = 'pictures';
const MINUTE_MS = 60_000;
const DECODE = {
  purpose: 'thumbnail',
  command: 'ffmpeg',
  args: '-v error -f h264 -i pipe:0 -frames:v 1 -vf scale=320:180:force_original_aspect_ratio=decrease -q:v 5 -f mjpeg pipe:1'.split(
    ' ',
  ),
  timeoutMs: 5000,
} as const;

/** Takes a small picture of a programme on air once in each minute of the clock, for who looks for a place in it. */
export class MinutePictures implements ProgrammeConsumer {
  #tracks: WholeTracks | null = null;
  #minute = -1;
  #isBusy = false;

  constructor(
    private readonly programme: Programme,
    private readonly children: ChildProcesses,
  ) {}

  configure(tracks: WholeTracks): void {
    this.#tracks = tracks;
  }

  frame(frame: Frame): void {
    if (!frame.isKeyframe || !isPicture(frame) || !this.#tracks || this.#isBusy) return;
    const { rendition, startsAtUtcMs } = this.programme;
    const programmeMs = Math.round(decodeMs(frame));
    const minute = Math.floor((startsAtUtcMs + programmeMs) / MINUTE_MS);
    if (minute === this.#minute || programmeMs < (rendition.airAtMs ?? Infinity)) return;
    // Whatever else there is to do comes first: the next keyframe does as well.
    if (rendition.recordingStopped || !this.children.hasRoomFor(DECODE.purpose)) return;
    this.#minute = minute;
    this.#isBusy = true;
    const picture = keyframeToAnnexB(this.#tracks.video.config, frame.data);
    void this.#take(picture, `${minute}-${programmeMs}.jpg`)
      .catch(() => undefined) // one picture less
      .finally(() => (this.#isBusy = false));
  }

  async #take(picture: Uint8Array, name: string): Promise<void> {
    const jpeg = await outputOf(this.children.start(DECODE), picture);
    if (!jpeg) return;
    const folder = join(this.programme.folder.path, FOLDER);
    const whole = join(folder, name);
    await mkdir(folder, { recursive: true });
    // Nobody gets half of it.
    await writeFile(`${whole}.next`, jpeg);
    await rename(`${whole}.next`, whole);
  }
}

/**
 * Where the picture of a minute lies.
 * @param minute - of the clock, since 1970 in UTC
 * @returns its path; `null` where there is none, or none for this class
 */
export async function findPicture(
  { folder, rendition }: Programme,
  grantClass: GrantClass,
  minute: number,
): Promise<string | null> {
  const names = await readdir(join(folder.path, FOLDER)).catch(() => []);
  const name = names.find((known) => known.startsWith(`${minute}-`) && known.endsWith('.jpg'));
  if (!name) return null;
  const takenMs = Number(/-(\d+)\./.exec(name)![1]);
  const segment = rendition.keptSegments.findLast(({ programmeMs }) => programmeMs <= takenMs);
  const isOpen = segment && rendition.accessTo(grantClass, segment.sequence) === 'open';
  return isOpen ? join(folder.path, FOLDER, name) : null;
}
