import { say } from '../words/say.js';

/** How far behind now somebody is. */
export const lateWords = (seconds: number): string =>
  seconds < 60
    ? say('time.seconds', { seconds })
    : say('time.minutes', { minutes: Math.round(seconds / 60) });

/** `5:07`, or `1:05:07` from an hour on. */
export function stamp(seconds: number): string {
  const whole = Math.max(0, Math.floor(seconds));
  const two = (value: number): string => String(value).padStart(2, '0');
  const [h, m, s] = [Math.floor(whole / 3600), Math.floor(whole / 60) % 60, whole % 60];
  return h > 0 ? `${h}:${two(m)}:${two(s)}` : `${m}:${two(s)}`;
}
