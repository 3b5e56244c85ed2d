import type Hls from 'hls.js';
import type { PlayerState } from './player-state.js';
import type { PlayerSigns } from './standstill.js';

/** Picture and sound need not end at one instant: who waits this near the end has seen it. */
const END_SLACK_SECONDS = 0.5;

/** How much is there to be played from where the viewer is, in seconds. */
export function aheadSeconds({ buffered, currentTime }: HTMLVideoElement): number {
  for (let index = 0; index < buffered.length; index += 1)
    if (buffered.start(index) <= currentTime && currentTime < buffered.end(index))
      return buffered.end(index) - currentTime;
  return 0;
}

/** @param hasEndList - whether the playlist says that nothing more comes. */
export function statusOf(
  video: HTMLVideoElement,
  before: PlayerState['status'],
  hasEndList: boolean,
): PlayerState['status'] {
  const isDry = video.readyState < HTMLMediaElement.HAVE_FUTURE_DATA;
  const hasSeenAll = hasEndList && isDry && video.duration - video.currentTime < END_SLACK_SECONDS;
  if (video.ended || hasSeenAll) return 'ended';
  if (before === 'blocked' && video.paused) return 'blocked';
  if (video.readyState === HTMLMediaElement.HAVE_NOTHING) return 'loading';
  if (isDry) return before === 'loading' ? 'loading' : 'waiting';
  return video.paused ? 'paused' : 'playing';
}

/** Beyond this somebody has fallen behind, or gone back on purpose. */
export const LATE_SECONDS = 5;

/** What is known of where a viewer is. */
interface Shown {
  readonly status: PlayerState['status'];
  readonly isLive: boolean;
  /** Of what is live; 0 while nobody knows. */
  readonly edgeSeconds: number;
  readonly hasEndList: boolean;
  /** Where they are being brought; `null` for everybody else. */
  readonly goingToSeconds: number | null;
  /** From where to where can be sought. */
  readonly reach: readonly [startSeconds: number, endSeconds: number];
  /** The instant that was seen last. */
  readonly seen: Date | null;
}

/** How far somebody is behind the newest there is; 0 where that means nothing. */
export const behindEdge = (
  { currentTime }: HTMLVideoElement,
  { status, isLive, edgeSeconds, hasEndList }: Shown,
): number =>
  // Before the first picture the element stands at zero, which says nothing.
  isLive && edgeSeconds > 0 && status !== 'loading' && !hasEndList
    ? Math.max(0, edgeSeconds - currentTime)
    : 0;

/** What the controls show. */
export function shownIn(video: HTMLVideoElement, shown: Shown): Partial<PlayerState> {
  const { status, isLive, edgeSeconds, goingToSeconds, reach, seen } = shown;
  const late = behindEdge(video, shown);
  const isPlaced = edgeSeconds > 0 && status !== 'loading';
  return {
    status,
    positionSeconds: goingToSeconds ?? (isLive && !isPlaced ? edgeSeconds : video.currentTime),
    startSeconds: reach[0],
    endSeconds: isLive && edgeSeconds > 0 ? Math.max(edgeSeconds, video.currentTime) : reach[1],
    lateSeconds: late > LATE_SECONDS ? late : 0,
    isMuted: video.muted,
    volume: video.volume,
    dateMs: status === 'loading' ? null : (seen?.getTime() ?? null),
    captions: captionsOf(video),
  };
}

function captionsOf({ textTracks: [track] }: HTMLVideoElement): PlayerState['captions'] {
  if (!track) return 'none';
  return track.mode === 'showing' ? 'on' : 'off';
}

export function showCaptions({ textTracks: [track] }: HTMLVideoElement, shown: boolean): void {
  if (track) track.mode = shown ? 'showing' : 'hidden';
}

/** Into a small window of its own, or back. */
export async function togglePictureInPicture(video: HTMLVideoElement): Promise<void> {
  if (document.pictureInPictureElement) await document.exitPictureInPicture();
  else await video.requestPictureInPicture().catch(() => undefined);
}

/** Signs of life of a player, for `standstill`. */
export function signsOf(hls: Hls, video: HTMLVideoElement, nowMs: number): PlayerSigns {
  const { buffered, currentTime, paused, ended } = video;
  return {
    nowMs,
    positionSeconds: currentTime,
    isMeantToPlay: !paused && !ended,
    bufferedUntilSeconds: buffered.length > 0 ? buffered.end(buffered.length - 1) : 0,
    listedUntilSeconds: hls.latestLevelDetails?.edge ?? 0,
    receivedBytes: hls.inFlightFragments.main.frag?.stats.loaded ?? 0,
  };
}
