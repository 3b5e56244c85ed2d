import { clockThere, hoursAndMinutes, timeWords, type TimeWords } from '@heliphon/contracts/time-words';
import { say, spokenLanguage } from './say.js';

/** Days and hours on a public page: in its language, and on the reader's own clock. */
const words = (): TimeWords => {
  const { tag, calendar } = spokenLanguage();
  return timeWords(tag, calendar);
};

export const timeOfDay = (ms: number): string => words().timeOfDay(ms);
export const longDay = (ms: number): string => words().longDay(ms);
export const dayOfMonth = (ms: number): string => words().dayOfMonth(ms);
export const dayAndTime = (ms: number): string => words().dayAndTime(ms);

/** `Sunday 7 March, 10:30 to 11:30`. */
export const dayFromTo = (fromMs: number, toMs: number): string =>
  say('time.dayFromTo', { day: longDay(fromMs), from: timeOfDay(fromMs), to: timeOfDay(toMs) });

/** `10:30 (11:30 in London)`: with what the clock of the house says, where that is something else. */
export function withClockThere(when: string, ms: number, houseZone: string): string {
  const there = clockThere(words(), ms, houseZone);
  return there ? say('time.inCity', { when, ...there }) : when;
}

/** `1 h 05`, `18 min`, `42 s`. */
export function duration(ms: number): string {
  const seconds = Math.max(0, Math.round(ms / 1000));
  if (seconds < 60) return say('time.seconds', { seconds });
  if (seconds < 3600) return say('time.minutes', { minutes: Math.floor(seconds / 60) });
  const [hours = '', minutes = ''] = hoursAndMinutes(ms).split(':');
  return say('time.hoursMinutes', { hours, minutes });
}
