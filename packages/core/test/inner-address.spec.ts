import { BlockList, isIP, isIPv4 } from 'node:net';
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { isInnerAddress, isIpAddress } from '../src/net/inner-address.js';

describe('an inner address', () => {
  test.each([
    '127.0.0.1',
    '10.1.2.3',
    '172.31.255.255',
    '192.168.0.1',
    '169.254.169.254',
    '0.0.0.0',
    '255.255.255.255',
    '::1',
    '::',
    'fd00::1',
    'fe80::1',
    '::ffff:10.0.0.1',
    '::ffff:7f00:1',
    '64:ff9b::a00:1',
    'localhost',
    '10.0.0.256',
    '1:2:3',
    '::1::',
    '',
  ])('is %s', (address) => expect(isInnerAddress(address)).toBe(true));

  test.each(['93.184.216.34', '172.32.0.1', '100.128.0.1', '2001:db8::1', '::ffff:93.184.216.34', '2a00::'])(
    'is not %s',
    (address) => expect(isInnerAddress(address)).toBe(false),
  );
});

test('what is an address is told as the platform tells it', () => {
  const address = fc.oneof(fc.ipV4(), fc.ipV6(), fc.domain(), fc.stringMatching(/^[0-9a-f:.]{0,20}$/));
  fc.assert(
    fc.property(address, (text) => expect(isIpAddress(text)).toBe(isIP(text) !== 0)),
    {
      numRuns: 2000,
    },
  );
});

test('a net is all of its addresses and no others', () => {
  const net = new BlockList();
  net.addSubnet('172.16.0.0', 12, 'ipv4');
  fc.assert(
    fc.property(fc.integer({ min: 0, max: 255 }), fc.ipV4(), (second, tail) => {
      const address = `172.${second}.${tail.split('.').slice(2).join('.')}`;
      expect(isIPv4(address)).toBe(true);
      expect(isInnerAddress(address)).toBe(net.check(address));
    }),
  );
});
