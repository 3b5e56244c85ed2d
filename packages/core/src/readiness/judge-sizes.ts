import { type Ladder, planLadder, type RenditionChoice, renditionName } from '../ladder/renditions.js';
import type { SourceReport } from '../signal/source-report.js';

/** What is known of an event's smaller pictures. */
export interface ReadinessSizes {
  readonly choice: RenditionChoice;
  /** As they are being made now; `null` while they are not. */
  readonly ladder: Ladder | null;
  /** What the node's processor has left for them, in cores; `null` while that is not known. */
  readonly roomCores: number | null;
}

interface SizesFinding {
  readonly status: 'passed' | 'later' | 'advises' | 'warns';
  readonly detail?: Readonly<Record<string, string | number>>;
}

/** Whether the smaller pictures that were asked for will be made. */
export function judgeSizes(
  { choice, ladder, roomCores }: ReadinessSizes,
  report: SourceReport | null,
): SizesFinding {
  if (choice === 'off') return { status: 'passed' };
  const known = ladder ?? expected(choice, roomCores, report);
  if (!known) return { status: 'later' };
  const { renditions, leftOut } = known;
  const names = (why: Ladder['leftOut'][number]['why']): string =>
    leftOut
      .filter((left) => left.why === why)
      .map(({ heightPx }) => renditionName(heightPx))
      .join(', ');
  const noRoom = names('no-room');
  const made = renditions.map(({ name }) => name).join(', ');
  // By itself, it makes as many as fit; that there are none is worth knowing.
  if (noRoom && (choice !== 'auto' || renditions.length === 0))
    return { status: 'warns', detail: { kind: 'no-room', names: noRoom, made } };
  const notSmaller = names('not-smaller');
  if (notSmaller) return { status: 'advises', detail: { kind: 'not-smaller', names: notSmaller } };
  return { status: 'passed' };
}

/** What would be made of the picture that comes in; `null` where that cannot be told. */
function expected(
  choice: RenditionChoice,
  roomCores: number | null,
  report: SourceReport | null,
): Ladder | null {
  const video = report?.video;
  if (!video || video.frameRateFps <= 0 || roomCores === null) return null;
  return planLadder(choice, { ...video, videoBitrateBps: video.bitrateBps }, roomCores);
}
