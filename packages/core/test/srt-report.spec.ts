import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { readSrtLog, readSrtStatistics } from '../src/ingest/srt-report.js';

describe('what the SRT listener says', () => {
  test('names who calls, who is let in, and who has the wrong passphrase', () => {
    const calling = '04:58/SRT:RcvQ:w1.N:SRT.cn: PASSING request from: 192.0.2.7:58221 to agent:583';
    expect(readSrtLog(calling)).toEqual({ type: 'calling', address: '192.0.2.7' });
    expect(readSrtLog(calling.replace('192.0.2.7', '[2001:db8::7]'))).toEqual({
      type: 'calling',
      address: '2001:db8::7',
    });
    expect(readSrtLog('Accepted SRT source connection')).toEqual({ type: 'accepted' });
    const rejected = 'SRT.cn: processConnectRequest: rsp(REJECT): 1010 - Incorrect passphrase';
    expect(readSrtLog(rejected)).toEqual({ type: 'wrong-passphrase' });
  });

  test('of anything else is passed over', () => {
    fc.assert(fc.property(fc.string(), (line) => readSrtLog(line) === null || line.includes('request from')));
  });
});

describe('what it counts', () => {
  const line = (recv: object): string => JSON.stringify({ link: { rtt: 41.6 }, recv });

  test('tells what was lost for good from what only came later', () => {
    expect(
      readSrtStatistics(
        line({ packets: 190, packetsDropped: 10, packetsRetransmitted: 20, packetsLost: 30 }),
      ),
    ).toEqual({ roundTripMs: 42, lostShare: 0.05, retransmittedShare: 0.1 });
  });

  test('is nothing while nothing came, and nothing where the line is cut short or strange', () => {
    expect(readSrtStatistics(line({ packets: 0, packetsDropped: 0, packetsRetransmitted: 0 }))).toBeNull();
    for (const text of ['', '{"link":', '{}', 'null', line({ packets: 'many' })])
      expect(readSrtStatistics(text)).toBeNull();
  });
});
