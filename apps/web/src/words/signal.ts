import type { DestinationReason, DestinationState } from '@heliphon/core/destinations/destination-state';
import type { LoudnessReport } from '@heliphon/core/loudness/loudness-meter';
import { judgeLoudness } from '@heliphon/core/readiness/readiness';
import type { SourceReport, TransportReport } from '@heliphon/core/signal/source-report';
import type { MarkName } from '../ui/Mark.js';
import { duration } from '@heliphon/contracts/time-words';

/** `4.4 Mbit/s`. */
export const megabits = (bps: number): string => `${(bps / 1_000_000).toFixed(1)} Mbit/s`;

/** What is coming in from a source, in a few words. */
export function reportWords(report: SourceReport): string {
  const { video, audio } = report;
  if (!video) return audio ? 'sound, no picture' : 'nothing yet';
  const picture = `${video.heightPx}p${Math.round(video.frameRateFps)}, ${megabits(video.bitrateBps)}`;
  return audio ? `${picture}, with sound` : `${picture}, no sound`;
}

const SILENT_MS = 5000;
const LOUDNESS_WORDS: Readonly<Record<string, string>> = {
  silent: 'no sound',
  clipping: 'far too loud, it is distorting',
  loud: 'too loud',
  quiet: 'very quiet',
  right: 'just right',
};

/** `just right, −22.6 LUFS`: words first, the figure behind them. */
export function loudnessWords(heard: LoudnessReport): string {
  if (heard.silentMs >= SILENT_MS) return `no sound for ${duration(heard.silentMs)}`;
  const lufs = heard.integratedLufs;
  if (lufs === null) return 'listening …';
  const peak = heard.truePeakDbtp === null ? '' : `, peak ${minus(heard.truePeakDbtp)} dBTP`;
  return `${LOUDNESS_WORDS[judgeLoudness(heard).kind] ?? ''}, ${minus(lufs)} LUFS${peak}`;
}

const minus = (value: number): string => value.toFixed(1).replace('-', '−');

const REASONS: Readonly<Record<DestinationReason, string>> = {
  refused: 'did not accept our key',
  unreachable: 'cannot be reached',
  'not-secure': 'could not prove its identity',
  'inner-address': 'is in our own network',
  'broke-off': 'closed the connection',
  stalled: 'is no longer taking the stream',
};

/** A place's state as mark and words. */
export function placeWords(state: DestinationState, nowMs: number): { mark: MarkName; words: string } {
  switch (state.state) {
    case 'waiting':
      return { mark: 'planned', words: 'waiting for the picture' };
    case 'connecting':
      return { mark: 'doors', words: 'connecting' };
    case 'going-out':
      return { mark: 'out', words: 'going out' };
    case 'stopped':
      return { mark: 'kept', words: 'stopped' };
    case 'troubled': {
      const waitMs = state.nextTryAtMs - nowMs;
      const next = waitMs > 1500 ? `tries again in ${duration(waitMs)}` : 'tries again now';
      const said = state.said ? ` (“${state.said}”)` : '';
      return { mark: 'trouble', words: `${REASONS[state.reason]}${said}, ${next}` };
    }
  }
}

export const reasonWords = (reason: DestinationReason): string => REASONS[reason];

const PROTOCOL_WORDS: Readonly<Record<string, string>> = {
  rtmp: 'over RTMP',
  rtmps: 'over RTMP, secured',
  srt: 'over SRT',
  camera: 'from a browser',
  whip: 'over WHIP',
  programme: 'another programme',
  file: 'a file',
};

/** Over what it comes. */
export const protocolWords = (protocol: string): string => PROTOCOL_WORDS[protocol] ?? '';

/** `41 ms round trip, nothing lost, 1.2 % sent again`. */
export function transportWords({ roundTripMs, lostShare, retransmittedShare }: TransportReport): string {
  const percent = (share: number): string => `${(share * 100).toFixed(1)} %`;
  const lost = lostShare > 0 ? `${percent(lostShare)} lost` : 'nothing lost';
  const again = retransmittedShare > 0 ? `, ${percent(retransmittedShare)} sent again` : '';
  return `${roundTripMs} ms round trip, ${lost}${again}`;
}

/** Why a source is not sending any more. */
const ENDINGS: Readonly<Record<string, string>> = {
  'encoder-stopped': 'stopped sending',
  'connection-broke': 'lost its connection',
  'turned-away': 'was turned away',
  'not-allowed-any-more': 'may not send this way any more',
  unreadable: 'sent something we could not read',
  'pieces-missing': 'lost part of what it sent',
  'never-came': 'never connected',
  'did-not-come-back': 'lost its connection and did not come back',
  'event-over': 'stopped because its event ended',
  'shows-something-else': 'switched to something else',
  'node-stopping': 'stopped because the media node was stopped',
};

export const endingWords = (reason: string | null): string => ENDINGS[reason ?? ''] ?? 'stopped sending';

/** Why an encoder was turned away. */
const REFUSALS: Readonly<Record<string, string>> = {
  'needs-password': 'An encoder connected without a name and password.',
  'wrong-password': 'An encoder connected with the wrong name or password.',
  'wrong-passphrase': 'An encoder connected over SRT with the wrong passphrase.',
  'unknown-line': 'Somebody used a link we do not recognise.',
  'line-over': 'Somebody used a link that has expired.',
  container: 'A browser sent something we could not read.',
  'already-sending': 'A second encoder tried this key and was turned away.',
  'video-codec': 'An encoder sent video that is not H.264.',
  'audio-codec': 'An encoder sent sound that is not AAC.',
  'too-many-tries': 'Too many wrong keys or passwords came from one address, which now has to wait.',
  'key-renewed': 'An encoder was still using the old key.',
};

export const refusalWords = (reason: string): string => REFUSALS[reason] ?? 'An encoder was turned away.';
