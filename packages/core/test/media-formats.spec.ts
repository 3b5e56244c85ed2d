import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { concatBytes, sameBytes, viewOf } from '../src/bytes.js';
import { keyframeToAnnexB, nalUnits } from '../src/ingest/annex-b.js';
import { BitReader } from '../src/ingest/bit-reader.js';
import {
  authFailedDescription,
  challengeDescription,
  expectedResponse,
  parseAuthQuery,
} from '../src/ingest/encoder-auth.js';
import {
  aacConfigBody,
  aacFrameBody,
  avcConfigBody,
  avcFrameBody,
  flvHeader,
  flvMetadata,
  flvTag,
  parseAudioTag,
  parseVideoTag,
  readFlvFile,
} from '../src/ingest/flv-tags.js';
import { type Sample, writeFragment } from '../src/packaging/fragment.js';
import { writeInitSegment } from '../src/packaging/init-segment.js';

/** The boxes of a piece of ISO BMFF, by their path: `moof/traf/trun`. */
function boxesOf(bytes: Uint8Array, path = ''): { path: string; body: Uint8Array }[] {
  const found: { path: string; body: Uint8Array }[] = [];
  for (let at = 0; at + 8 <= bytes.byteLength;) {
    const size = viewOf(bytes).getUint32(at);
    const type = new TextDecoder().decode(bytes.subarray(at + 4, at + 8));
    const body = bytes.subarray(at + 8, at + size);
    const here = path ? `${path}/${type}` : type;
    found.push({ path: here, body });
    if (['moov', 'trak', 'mdia', 'minf', 'stbl', 'mvex', 'moof', 'traf'].includes(type))
      found.push(...boxesOf(body, here));
    at += size;
  }
  return found;
}
const bodyOf = (bytes: Uint8Array, path: string, turn = 0): Uint8Array =>
  boxesOf(bytes).filter((box) => box.path === path)[turn]!.body;

const VIDEO = {
  config: Uint8Array.of(1, 100, 0, 31, 255),
  widthPx: 1280,
  heightPx: 720,
  codec: 'avc1.64001f',
};
const AUDIO = { config: Uint8Array.of(0x11, 0x90), sampleRateHz: 48_000, channels: 2, codec: 'mp4a.40.2' };

describe('the init segment', () => {
  const init = writeInitSegment({ video: VIDEO, audio: AUDIO });

  test('has a header, a movie with both tracks, and says that fragments follow', () => {
    const paths = boxesOf(init).map((box) => box.path);
    expect(paths.slice(0, 2)).toEqual(['ftyp', 'moov']);
    expect(paths.filter((path) => path === 'moov/trak')).toHaveLength(2);
    expect(paths.filter((path) => path === 'moov/mvex/trex')).toHaveLength(2);
  });

  test('every box is as long as it says', () => {
    const total = boxesOf(init)
      .filter((box) => !box.path.includes('/'))
      .reduce((sum, box) => sum + 8 + box.body.byteLength, 0);
    expect(total).toBe(init.byteLength);
  });

  test('carries the encoder’s own configuration, and the size of the picture', () => {
    const entry = bodyOf(init, 'moov/trak/mdia/minf/stbl/stsd');
    const text = Buffer.from(entry).toString('latin1');
    expect(text).toContain(`avcC${Buffer.from(VIDEO.config).toString('latin1')}`);
    const at = text.indexOf('avc1') + 4;
    expect([viewOf(entry).getUint16(at + 24), viewOf(entry).getUint16(at + 26)]).toEqual([1280, 720]);
  });

  test('counts picture in 1/90000 and sound in its sample rate', () => {
    const scale = (turn: number): number => viewOf(bodyOf(init, 'moov/trak/mdia/mdhd', turn)).getUint32(12);
    expect([scale(0), scale(1)]).toEqual([90_000, 48_000]);
  });

  test('a picture without sound has one track', () => {
    const silent = writeInitSegment({ video: VIDEO, audio: null });
    expect(boxesOf(silent).filter((box) => box.path === 'moov/trak')).toHaveLength(1);
  });
});

describe('a fragment', () => {
  const sample = (decodeTime: number, data: number[], over: Partial<Sample> = {}): Sample => ({
    decodeTime,
    duration: 3000,
    compositionOffset: 0,
    isKeyframe: false,
    data: Uint8Array.from(data),
    ...over,
  });
  const video = [
    sample(900_000, [1, 2, 3], { isKeyframe: true, compositionOffset: 6000 }),
    sample(903_000, [4, 5], { compositionOffset: -3000 }),
  ];
  const audio = [sample(480_000, [9], { duration: 1024 })];
  const fragment = writeFragment({ sequence: 7, video, audio });

  test('says where on the programme’s time its tracks begin', () => {
    const time = (turn: number): number =>
      Number(viewOf(bodyOf(fragment, 'moof/traf/tfdt', turn)).getBigUint64(4));
    expect([time(0), time(1)]).toEqual([900_000, 480_000]);
    expect(viewOf(bodyOf(fragment, 'moof/mfhd')).getUint32(4)).toBe(7);
  });

  test('its data offsets lead to the samples of each track', () => {
    const offset = (turn: number): number => viewOf(bodyOf(fragment, 'moof/traf/trun', turn)).getInt32(8);
    expect([...fragment.subarray(offset(0), offset(0) + 5)]).toEqual([1, 2, 3, 4, 5]);
    expect([...fragment.subarray(offset(1))]).toEqual([9]);
  });

  test('B-frames keep their signed composition offsets, keyframes are marked', () => {
    const run = viewOf(bodyOf(fragment, 'moof/traf/trun'));
    expect([run.getInt32(24), run.getInt32(40)]).toEqual([6000, -3000]);
    expect([run.getUint32(20), run.getUint32(36)]).toEqual([0x02000000, 0x01010000]);
  });

  test('whatever is in it, every box is as long as it says', () => {
    const samples = fc.array(fc.uint8Array({ minLength: 1, maxLength: 50 }), { minLength: 1, maxLength: 12 });
    fc.assert(
      fc.property(
        samples,
        fc.array(fc.uint8Array({ minLength: 1, maxLength: 20 }), { maxLength: 12 }),
        (pictures, sounds) => {
          const made = writeFragment({
            sequence: 1,
            video: pictures.map((data, index) => sample(index * 3000, [...data])),
            audio: sounds.map((data, index) => sample(index * 1024, [...data])),
          });
          expect(
            boxesOf(made)
              .filter((box) => !box.path.includes('/'))
              .map((box) => box.path),
          ).toEqual(['moof', 'mdat']);
          const data = concatBytes([...pictures, ...sounds]);
          expect(sameBytes(bodyOf(made, 'mdat'), data)).toBe(true);
        },
      ),
    );
  });
});

describe('FLV tags', () => {
  test('a frame keeps its kind, its offset and its data', () => {
    fc.assert(
      fc.property(
        fc.boolean(),
        fc.integer({ min: -8_000_000, max: 8_000_000 }),
        fc.uint8Array({ minLength: 1 }),
        (isKeyframe, compositionOffsetMs, data) => {
          const read = parseVideoTag(avcFrameBody({ isKeyframe, compositionOffsetMs, data }));
          expect(read).toEqual({ type: 'frame', isKeyframe, compositionOffsetMs, data });
        },
      ),
    );
  });

  test('configurations and sound come through', () => {
    const config = Uint8Array.of(1, 2, 3);
    expect(parseVideoTag(avcConfigBody(config))).toEqual({ type: 'config', avcConfig: config });
    expect(parseAudioTag(aacConfigBody(config))).toEqual({ type: 'config', aacConfig: config });
    expect(parseAudioTag(aacFrameBody(config))).toEqual({ type: 'frame', data: config });
    expect(parseVideoTag(Uint8Array.of(0x17, 2, 0, 0, 0))).toEqual({ type: 'end' });
  });

  test.each([
    ['an old codec', Uint8Array.of(0x12, 0), 'Sorenson H.263'],
    ['AV1 by its FourCC', Uint8Array.from([0x90, ...Buffer.from('av01')]), 'AV1'],
    ['HEVC by its FourCC', Uint8Array.from([0x91, ...Buffer.from('hvc1')]), 'HEVC'],
    ['AV1 by its FourCC', Uint8Array.from([0x91, ...Buffer.from('av01')]), 'AV1'],
    ['a tag cut short', Uint8Array.of(0x17, 1), 'broken'],
    ['nothing', new Uint8Array(0), 'codec 0'],
  ])('%s is named', (_name, body, codec) => {
    expect(parseVideoTag(body)).toEqual({ type: 'unsupported', codec });
  });

  test('sound that is not AAC is named', () => {
    expect(parseAudioTag(Uint8Array.of(0x2f, 1))).toEqual({ type: 'unsupported', codec: 'MP3' });
    expect(parseAudioTag(Uint8Array.of(0x1f, 1))).toEqual({ type: 'unsupported', codec: 'ADPCM' });
  });

  test('a file is read tag by tag, times beyond 24 bits too, and a last tag cut short is left out', () => {
    const times = [0, 40, 0x1234567];
    const file = concatBytes([
      flvHeader({ video: true, audio: true }),
      flvMetadata({ width: 1280 }),
      ...times.map((time) => flvTag('video', time, Uint8Array.of(0x27, 1, 0, 0, 0, 9))),
      flvTag('audio', 60, Uint8Array.of(0xaf, 1, 5)).subarray(0, 12),
    ]);
    const tags = [...readFlvFile(file)];
    expect(tags.map((tag) => tag.kind)).toEqual(['script', 'video', 'video', 'video']);
    expect(tags.slice(1).map((tag) => tag.timestampMs)).toEqual(times);
  });
});

describe('a keyframe as a byte stream', () => {
  const unit = (...bytes: number[]): number[] => [0, 0, 0, bytes.length, ...bytes];
  const config = Uint8Array.of(1, 100, 0, 31, 0xff, 0xe1, 0, 2, 0x67, 1, 1, 0, 2, 0x68, 2);

  test('begins with its parameter sets', () => {
    const stream = keyframeToAnnexB(config, Uint8Array.from(unit(0x65, 7)));
    expect(Buffer.from(stream).toString('hex')).toBe('000000016701' + '000000016802' + '000000016507');
  });

  test('a unit that is cut short ends the list', () => {
    expect(
      [...nalUnits(Uint8Array.from([...unit(1, 2), 0, 0, 0, 99, 5]), 4)].map((bytes) => [...bytes]),
    ).toEqual([[1, 2]]);
  });
});

describe('bits', () => {
  test('Exp-Golomb codes after H.264, 9.1', () => {
    // 1 010 011 00100 00101 00110
    const reader = new BitReader(Uint8Array.of(0b10100110, 0b01000010, 0b10011000));
    expect([0, 1, 2, 3, 4, 5].map(() => reader.unsignedGolomb())).toEqual([0, 1, 2, 3, 4, 5]);
  });
  test('signed ones go to and fro', () => {
    const reader = new BitReader(Uint8Array.of(0b10100110, 0b01000010, 0b10000000));
    expect([0, 1, 2, 3, 4].map(() => reader.signedGolomb() + 0)).toEqual([0, 1, -1, 2, -2]);
  });
  test('there is nothing past the end', () => {
    expect(() => new BitReader(Uint8Array.of(0)).unsignedGolomb()).toThrow(RangeError);
  });
});

describe('the encoders’ challenge', () => {
  const hash = (text: string): string => `<${text}>`;
  test('a query is read with base64’s plus signs whole', () => {
    expect(parseAuthQuery('authmod=adobe&user=box&challenge=ab&response=x+y/z==&opaque=op')).toEqual({
      user: 'box',
      challenge: 'ab',
      response: 'x+y/z==',
      opaque: 'op',
    });
    expect(parseAuthQuery('authmod=llnw&user=box')).toBeUndefined();
    expect(parseAuthQuery('')).toBeUndefined();
  });
  test('the response is made of verifier, opaque and challenge', () => {
    expect(expectedResponse('verifier', 'opaque', 'challenge', hash)).toBe('<verifieropaquechallenge>');
  });
  test('what encoders look for stands in the descriptions', () => {
    expect(challengeDescription('box', 'salt', 'op')).toContain(
      '?reason=needauth&user=box&salt=salt&challenge=op&opaque=op',
    );
    expect(authFailedDescription('Wrong.')).toMatch(/\?reason=authfailed.*Wrong\.$/);
  });
});

describe('the FourCC form of Enhanced RTMP', () => {
  const four = (first: number, name: string, ...rest: number[]): Uint8Array =>
    Uint8Array.from([first, ...Buffer.from(name), ...rest]);
  test('takes H.264: its configuration, frames with an offset and frames without', () => {
    expect(parseVideoTag(four(0x90, 'avc1', 1, 2))).toEqual({
      type: 'config',
      avcConfig: Uint8Array.of(1, 2),
    });
    expect(parseVideoTag(four(0x91, 'avc1', 0xff, 0xff, 0xdf, 7))).toEqual({
      type: 'frame',
      isKeyframe: true,
      compositionOffsetMs: -33,
      data: Uint8Array.of(7),
    });
    expect(parseVideoTag(four(0xa3, 'avc1', 7))).toMatchObject({ isKeyframe: false, compositionOffsetMs: 0 });
    expect(parseVideoTag(four(0x92, 'avc1'))).toEqual({ type: 'end' });
  });
  test('takes AAC, and names what it does not take', () => {
    expect(parseAudioTag(four(0x90, 'mp4a', 0x11, 0x90))).toEqual({
      type: 'config',
      aacConfig: Uint8Array.of(0x11, 0x90),
    });
    expect(parseAudioTag(four(0x91, 'mp4a', 5))).toEqual({ type: 'frame', data: Uint8Array.of(5) });
    expect(parseAudioTag(four(0x90, 'Opus'))).toEqual({ type: 'unsupported', codec: 'Opus' });
  });
});
