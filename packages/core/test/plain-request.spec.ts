import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { type KnownHeaders, readPlainRequest } from '../src/delivery/plain-request.js';

const head = (line: string, ...headers: string[]): string =>
  [line, 'Host: 127.0.0.1', ...headers, '', ''].join('\r\n');

describe('a plain request', () => {
  test('is a line and headers, as players send them', () => {
    expect(
      readPlainRequest(
        head(
          'GET /p/a/b/live.m3u8?v=1 HTTP/1.1',
          'Connection: keep-alive',
          'Accept-Encoding: gzip, br',
          'Origin: null',
          'User-Agent: a player',
        ),
      ),
    ).toEqual({
      method: 'GET',
      target: '/p/a/b/live.m3u8?v=1',
      range: undefined,
      acceptEncoding: 'gzip, br',
      userAgent: 'a player',
    });
    expect(readPlainRequest(head('HEAD /x HTTP/1.1', 'range:  bytes=0-9 '))).toMatchObject({
      method: 'HEAD',
      range: 'bytes=0-9',
    });
  });

  test.each([
    ['another method', head('POST /x HTTP/1.1')],
    ['another version', head('GET /x HTTP/1.0')],
    ['a whole address', head('GET http://other/x HTTP/1.1')],
    ['a target with a space', head('GET /x y HTTP/1.1')],
    ['a body', `${head('GET /x HTTP/1.1', 'Content-Length: 3')}`],
    ['a body in chunks', head('GET /x HTTP/1.1', 'Transfer-Encoding: chunked')],
    ['a connection to close', head('GET /x HTTP/1.1', 'Connection: close')],
    ['another protocol', head('GET /x HTTP/1.1', 'Connection: Upgrade', 'Upgrade: websocket')],
    ['a condition', head('GET /x HTTP/1.1', 'If-Range: "a"')],
    ['a promise to wait', head('GET /x HTTP/1.1', 'Expect: 100-continue')],
    ['a folded line', head('GET /x HTTP/1.1', 'A: b', ' c')],
    ['a space before the colon', head('GET /x HTTP/1.1', 'Content-Length : 3')],
    ['two hosts', head('GET /x HTTP/1.1', 'Host: b')],
    ['no host', 'GET /x HTTP/1.1\r\n\r\n'],
    ['bare line feeds', head('GET /x HTTP/1.1').replaceAll('\r\n', '\n')],
    ['a line feed inside a header', head('GET /x HTTP/1.1', 'A: b\nContent-Length: 3')],
    ['a head cut short', head('GET /x HTTP/1.1').slice(0, -2)],
    ['two requests at once', head('GET /x HTTP/1.1').repeat(2)],
    ['nothing', ''],
  ])('is not one with %s', (_, text) => {
    expect(readPlainRequest(text)).toBeNull();
  });

  test('whatever comes is read or refused, and read alike when its headers were read before', () => {
    const piece = fc.constantFrom(
      'GET /x HTTP/1.1',
      '\r\n',
      '\r\n\r\n',
      'Host: a',
      'Range: bytes=1-',
      ':',
      ' ',
    );
    const known: KnownHeaders = new Map();
    fc.assert(
      fc.property(fc.array(fc.oneof(piece, fc.string())), (pieces) => {
        const text = pieces.join('');
        const read = readPlainRequest(text);
        expect(readPlainRequest(text, known)).toEqual(read);
        expect(readPlainRequest(text, known)).toEqual(read);
        if (read) expect(text).toMatch(/^(GET|HEAD) \/[^ ]* HTTP\/1\.1\r\n(?:.+\r\n)*\r\n$/);
      }),
    );
  });
});
