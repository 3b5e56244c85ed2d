/** What a session description offers that we can take (RFC 8866, RFC 6184, RFC 7587). */
export interface WhipOffer {
  readonly hasH264: boolean;
  readonly hasOpus: boolean;
  readonly offersVideo: boolean;
}

/** Reads an offer of RFC 9725; `null` for what is no session description. */
export function readOffer(sdp: string): WhipOffer | null {
  if (!sdp.startsWith('v=0')) return null;
  const has = (pattern: RegExp): boolean => pattern.test(sdp);
  return {
    hasH264: has(/^a=rtpmap:\d+ H264\/90000/im),
    hasOpus: has(/^a=rtpmap:\d+ opus\/48000/im),
    offersVideo: has(/^m=video /m),
  };
}

/** A stream of RTP that was received and is handed on over loopback. */
export interface RelayedStream {
  readonly kind: 'video' | 'audio';
  readonly port: number;
  readonly payloadType: number;
}

/** Describes streams on loopback for whoever reads them there; packets may come fragmented (RFC 6184, mode 1). */
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
