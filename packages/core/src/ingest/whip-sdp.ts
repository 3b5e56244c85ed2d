/** What a session description offers that we can take (RFC 8866, RFC 6184, RFC 7587). */
export interface WhipOffer {
  readonly hasH264: boolean;
  readonly hasOpus: boolean;
  readonly offersVideo: boolean;
}

/** Reads an offer of RFC 9725; `null` for what is no session description, or offers neither picture nor sound. */
export function readOffer(sdp: string): WhipOffer | null {
  if (!/^v=0\r?\n/.test(sdp) || !/^m=(audio|video) /m.test(sdp)) return null;
  const has = (pattern: RegExp): boolean => pattern.test(sdp);
  return {
    hasH264: has(/^a=rtpmap:\d+ H264\/90000/im),
    hasOpus: has(/^a=rtpmap:\d+ opus\/48000/im),
    offersVideo: has(/^m=video /m),
  };
}

/**
 * An offer whose bundled sections stand open: `m=audio 0` with `a=bundle-only` is no refusal, as port 0 alone is, but waits
 * for the bundle (RFC 9143, 7.2.1). Encoders that ask for one bundle offer so.
 */
export const withBundledOpen = (sdp: string): string =>
  sdp
    .split(/^(?=m=)/m)
    .map((section) =>
      /^a=bundle-only\s*$/m.test(section) ? section.replace(/^(m=\S+) 0 /, '$1 9 ') : section,
    )
    .join('');

/** A stream of RTP that was received and is handed on over loopback. */
export interface RelayedStream {
  readonly kind: 'video' | 'audio';
  readonly port: number;
  readonly payloadType: number;
}

/** Describes streams on loopback for the process that reads them; packets may come fragmented (RFC 6184, mode 1). */
export function describeStreams(streams: readonly RelayedStream[]): string {
  const head = ['v=0', 'o=- 0 0 IN IP4 127.0.0.1', 's=-', 'c=IN IP4 127.0.0.1', 't=0 0'];
  const media = streams.flatMap(({ kind, port, payloadType }) => [
    `m=${kind} ${port} RTP/AVP ${payloadType}`,
    ...(kind === 'video'
      ? [`a=rtpmap:${payloadType} H264/90000`, `a=fmtp:${payloadType} packetization-mode=1`]
      : [`a=rtpmap:${payloadType} opus/48000/2`]),
  ]);
  return `${[...head, ...media].join('\r\n')}\r\n`;
}
