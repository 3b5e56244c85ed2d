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

export function captionsOf({ textTracks: [track] }: HTMLVideoElement): PlayerState['captions'] {
  if (!track) return 'none';
  return track.mode === 'showing' ? 'on' : 'off';
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
