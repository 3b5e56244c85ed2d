/** How fast a replay can be seen. */
export const SPEEDS = [0.75, 1, 1.25, 1.5, 2] as const;
export type Speed = (typeof SPEEDS)[number];

/** Also for what is loaded next: an element that is emptied takes up its default again (HTML, `defaultPlaybackRate`). */
export function setSpeed(video: HTMLVideoElement, speed: Speed): void {
  video.defaultPlaybackRate = speed;
  video.playbackRate = speed;
}
