import { expect, test } from '@jest/globals';
import { reportOfSrt, strangerIn } from '../src/ingest/srt-report.js';

test('what a line of SRT counts tells what was lost for good from what only came later', () => {
  const counts = { roundTripMs: 41.6, packets: 190, packetsDropped: 10, packetsRetransmitted: 20 };
  expect(reportOfSrt(counts)).toEqual({ roundTripMs: 42, lostShare: 0.05, retransmittedShare: 0.1 });
  expect(reportOfSrt({ ...counts, packets: 0, packetsDropped: 0 })).toBeNull();
});

test.each([
  ['mpeg2video', 'mp2', { kind: 'video', codec: 'mpeg2video' }],
  ['h264', 'mp2', { kind: 'audio', codec: 'mp2' }],
  ['h264', 'aac', null],
])('of %s with %s what is not ours is named', (video, audio, found) => {
  const words = `Input #0, mpegts, from 'pipe:0':
    Stream #0:0[0x100]: Video: ${video} (Main) ([2][0][0][0] / 0x0002), yuv420p(tv), 320x180, 25 fps
    Stream #0:1[0x101]: Audio: ${audio} ([3][0][0][0] / 0x0003), 44100 Hz, mono, fltp, 128 kb/s`;
  expect(strangerIn(words)).toEqual(found);
});
