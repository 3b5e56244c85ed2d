import { describe, expect, test } from '@jest/globals';
import { describeStreams, readOffer } from '../src/ingest/whip-sdp.js';

const OFFER = [
  'v=0',
  'm=audio 9 UDP/TLS/RTP/SAVPF 111',
  'a=rtpmap:111 opus/48000/2',
  'm=video 9 UDP/TLS/RTP/SAVPF 96 97',
  'a=rtpmap:96 VP8/90000',
  'a=rtpmap:97 H264/90000',
].join('\r\n');

describe('an offer over WHIP', () => {
  test('tells what of it can be taken', () => {
    expect(readOffer(OFFER)).toEqual({ hasH264: true, hasOpus: true, offersVideo: true });
    expect(readOffer(OFFER.replace('H264', 'AV1'))).toMatchObject({ hasH264: false, offersVideo: true });
    expect(readOffer('v=0\r\nm=audio 9 UDP/TLS/RTP/SAVPF 111\r\n')).toMatchObject({ offersVideo: false });
  });

  test('is nothing where it is none', () => {
    for (const text of ['', '{}', 'm=video 9']) expect(readOffer(text)).toBeNull();
  });
});

test('streams handed on over loopback are described by port and payload', () => {
  const sdp = describeStreams([
    { kind: 'video', port: 5004, payloadType: 97 },
    { kind: 'audio', port: 5006, payloadType: 111 },
  ]);
  expect(sdp).toContain('m=video 5004 RTP/AVP 97\r\na=rtpmap:97 H264/90000\r\n');
  expect(sdp).toContain('a=fmtp:97 packetization-mode=1');
  expect(sdp).toContain('m=audio 5006 RTP/AVP 111\r\na=rtpmap:111 opus/48000/2\r\n');
  expect(sdp.match(/IN IP4 127\.0\.0\.1/g)).toHaveLength(2);
});
