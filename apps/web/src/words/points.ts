import type { PointView } from '@heliphon/contracts/nodes';
import { dayAndTime } from '@heliphon/contracts/time-words';

/** From here on its processors are busy enough to say so. */
const BUSY = 0.75;

/** How an ingest point is. */
export function pointWords({ presence, lastSeenAtMs }: PointView, zone: string): string {
  if (presence === 'here') return 'working';
  if (presence === 'silent') return 'not responding at the moment';
  return lastSeenAtMs === null
    ? 'not connected yet'
    : `not responding since ${dayAndTime(lastSeenAtMs, zone)}`;
}

/** What it has to do; `null` while it is away. */
export function loadWords({ now }: PointView): string | null {
  if (!now) return null;
  const room = {
    plenty: 'plenty of space to record',
    low: 'little space to record',
    full: 'no space to record',
  };
  const busy = `${now.load >= BUSY ? 'busy' : 'not busy'} (${Math.round(now.load * 100)} %)`;
  return [
    now.sources === 1 ? '1 source' : `${now.sources} sources`,
    now.programmes === 1 ? '1 event' : `${now.programmes} events`,
    `${now.viewers} watching`,
    busy,
    room[now.disk],
  ].join(', ');
}

/** The way from here to a point and back. @param ms - `undefined` while it is being measured */
export function roundTripWords(ms: number | null | undefined): string {
  if (ms === undefined) return 'measuring …';
  if (ms === null) return 'cannot be reached from here';
  return ms < 1 ? 'less than 1 ms from here' : `${Math.round(ms)} ms from here`;
}

/** What has happened to a point that was chosen, and what to do until it is back. */
export const sendElsewhereWords = (gone: string, sendTo: string): string =>
  `${gone} is not responding. Until it is back, send to ${sendTo}, using the address shown here.`;

/** Somebody else came by its name. */
export const doubleWords = (
  nodeId: string,
  { atMs, remoteAddress }: NonNullable<PointView['double']>,
  zone: string,
): string =>
  `A second machine tried to connect as ${nodeId}, from ${remoteAddress}, ${dayAndTime(atMs, zone)}. It was turned away and this one carries on. Give each machine its own name.`;
