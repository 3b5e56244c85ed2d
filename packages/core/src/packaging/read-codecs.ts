import {
  type AacParameters,
  type AvcParameters,
  parseAacConfig,
  parseAvcConfig,
} from '../ingest/codec-config.js';
import { findBoxes, readBoxes } from './read-boxes.js';

/** What a CMAF header says its tracks are; `null` for one that is not there. */
export interface HeaderCodecs {
  readonly video: AvcParameters | null;
  readonly audio: AacParameters | null;
}

/** Bytes of a sample entry before its own boxes (ISO/IEC 14496-12, 12.1.3 and 12.2.3). */
const ENTRY_HEAD = { avc1: 78, mp4a: 28 } as const;
/** Where in our `esds` the AudioSpecificConfig begins, its length before it. */
const SPECIFIC_AT = 26;

/** Reads a header that `writeInitSegment` made. */
export function readCodecs(init: Uint8Array): HeaderCodecs {
  let [video, audio]: [AvcParameters | null, AacParameters | null] = [null, null];
  for (const { content } of findBoxes(init, ['moov', 'trak', 'mdia', 'minf', 'stbl', 'stsd'])) {
    for (const entry of readBoxes(content.subarray(8))) {
      if (entry.type !== 'avc1' && entry.type !== 'mp4a') continue;
      const inner = readBoxes(entry.content.subarray(ENTRY_HEAD[entry.type]));
      const avc = inner.find(({ type }) => type === 'avcC');
      const esds = inner.find(({ type }) => type === 'esds');
      const picture = avc && parseAvcConfig(avc.content);
      const size = esds?.content[SPECIFIC_AT - 1] ?? 0;
      const sound = esds && parseAacConfig(esds.content.subarray(SPECIFIC_AT, SPECIFIC_AT + size));
      if (picture?.ok) video = picture.value;
      if (sound?.ok) audio = sound.value;
    }
  }
  return { video, audio };
}
