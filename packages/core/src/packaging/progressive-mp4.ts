import { concatBytes, utf8, viewOf } from '../bytes.js';
import { box, fullBox, u16, u32, u64, zeros } from './boxes.js';
import { TRACK_ID } from '../media/track.js';
import { IDENTITY_MATRIX, mediaInformation } from './init-segment.js';
import type { FragmentTrack, InitTrack } from './read-boxes.js';

/** A part of a recording, in playing order. */
export interface FilmPart {
  /** The part stands behind a gap, or its tracks are described by another header than those before. */
  readonly startsRun: boolean;
  readonly tracks: readonly FragmentTrack[];
  readonly header: readonly InitTrack[];
}

/** Everything of one track, as its sample table wants it. */
interface TrackTable {
  readonly trackId: number;
  readonly timescale: number;
  readonly size: Uint8Array;
  readonly entries: Uint8Array[];
  readonly decodeTimes: number[];
  readonly sizes: number[];
  readonly compositionOffsets: number[];
  readonly keyframes: number[];
  /** For every chunk: where its data lies in `mdat`, how many samples, which sample entry (from 1). */
  readonly chunks: { readonly offset: number; readonly samples: number; readonly entry: number }[];
  endTime: number;
}

const MOVIE_TIMESCALE = 1000;

/**
 * Lays out a film that can be played while it is being downloaded (ISO/IEC 14496-12: `moov` before `mdat`) from the
 * parts of a recording, without touching picture or sound. Gaps between runs take no time. The data of `mdat` are the
 * media data of the parts, one after another.
 */
export class FilmLayout {
  readonly #tables = new Map<number, TrackTable>();
  /** Seconds to add to a run's own time to place it on the film's. */
  #runOffsetSeconds = 0;
  #endSeconds = 0;
  #dataBytes = 0;

  /** Total of the media data so far. */
  get dataBytes(): number {
    return this.#dataBytes;
  }

  add(part: FilmPart): void {
    if (part.startsRun) this.#beginRun(part);
    for (const track of part.tracks) {
      const header = part.header.find(({ trackId }) => trackId === track.trackId);
      if (header) this.#addTrack(track, header);
    }
  }

  /** `ftyp`, `moov` and the head of `mdat`: what stands before the media data. */
  head(): Uint8Array {
    const tables = [...this.#tables.values()];
    const isLarge = this.#dataBytes + MOOV_ROOM_BYTES > 0xffffffff;
    const dataHead = isLarge
      ? concatBytes([Uint8Array.from(u32(1)), utf8('mdat'), Uint8Array.from(u64(this.#dataBytes + 16))])
      : concatBytes([Uint8Array.from(u32(this.#dataBytes + 8)), utf8('mdat')]);
    const type = box('ftyp', utf8('isom'), u32(0x200), utf8('isom'), utf8('iso6'), utf8('mp42'));
    const build = (dataAt: number): Uint8Array => writeMovie(tables, dataAt, isLarge);
    const headBytes = type.byteLength + build(0).byteLength + dataHead.byteLength;
    return concatBytes([type, build(headBytes), dataHead]);
  }

  #beginRun({ tracks, header }: FilmPart): void {
    const starts = tracks.map((track) => {
      const { timescale } = header.find(({ trackId }) => trackId === track.trackId)!;
      return { isVideo: track.trackId === TRACK_ID.video, seconds: track.decodeTime / timescale };
    });
    const leading = starts.find(({ isVideo }) => isVideo) ?? starts[0];
    if (leading) this.#runOffsetSeconds = this.#endSeconds - leading.seconds;
  }

  #addTrack(track: FragmentTrack, header: InitTrack): void {
    const table = this.#tableOf(header);
    const toFilm = (time: number): number =>
      Math.round((time / header.timescale + this.#runOffsetSeconds) * table.timescale);
    table.chunks.push({
      offset: this.#dataBytes,
      samples: track.samples.length,
      entry: entryIndex(table, header.sampleEntry),
    });
    let time = track.decodeTime;
    for (const sample of track.samples) {
      // Where two runs meet, sound may reach over: decode times never run back.
      table.decodeTimes.push(Math.max(toFilm(time), table.decodeTimes.at(-1) ?? 0));
      table.sizes.push(sample.sizeBytes);
      table.compositionOffsets.push(
        Math.round((sample.compositionOffset * table.timescale) / header.timescale),
      );
      if (sample.isKeyframe) table.keyframes.push(table.sizes.length);
      this.#dataBytes += sample.sizeBytes;
      time += sample.duration;
    }
    table.endTime = Math.max(toFilm(time), table.decodeTimes.at(-1) ?? 0);
    this.#endSeconds = Math.max(this.#endSeconds, table.endTime / table.timescale);
  }

  #tableOf(header: InitTrack): TrackTable {
    const known = this.#tables.get(header.trackId);
    if (known) return known;
    const table: TrackTable = {
      trackId: header.trackId,
      timescale: header.timescale,
      size: header.size,
      entries: [],
      decodeTimes: [],
      sizes: [],
      compositionOffsets: [],
      keyframes: [],
      chunks: [],
      endTime: 0,
    };
    this.#tables.set(header.trackId, table);
    return table;
  }
}

/** More than the tables of the longest film take; above it offsets need 64 bits. */
const MOOV_ROOM_BYTES = 64 * 1024 * 1024;

function entryIndex(table: TrackTable, entry: Uint8Array): number {
  const key = entry.join();
  const known = table.entries.findIndex((candidate) => candidate.join() === key);
  return known >= 0 ? known + 1 : table.entries.push(entry);
}

function writeMovie(tables: readonly TrackTable[], dataAt: number, isLarge: boolean): Uint8Array {
  const first = tables.find(({ trackId }) => trackId === TRACK_ID.video) ?? tables[0];
  /** Where the first picture is shown: everything is moved back by it. */
  const shownSeconds = first
    ? (first.decodeTimes[0]! + (first.compositionOffsets[0] ?? 0)) / first.timescale
    : 0;
  const durationMs = Math.max(
    0,
    ...tables.map((t) => Math.round((t.endTime / t.timescale) * MOVIE_TIMESCALE)),
  );
  const header = fullBox(
    'mvhd',
    0,
    0,
    u32(0),
    u32(0),
    u32(MOVIE_TIMESCALE),
    u32(durationMs),
    u32(0x10000),
    u16(0x100),
    zeros(10),
    IDENTITY_MATRIX,
    zeros(24),
    u32(3),
  );
  return box('moov', header, ...tables.map((table) => writeTrack(table, shownSeconds, dataAt, isLarge)));
}

function writeTrack(t: TrackTable, shownSeconds: number, dataAt: number, isLarge: boolean): Uint8Array {
  const isVideo = t.trackId === TRACK_ID.video;
  const startTime = t.decodeTimes[0] ?? 0;
  const mediaDuration = t.endTime - startTime;
  const durationMs = Math.round((mediaDuration / t.timescale) * MOVIE_TIMESCALE);
  const header = fullBox(
    'tkhd',
    0,
    7,
    u32(0),
    u32(0),
    u32(t.trackId),
    zeros(4),
    u32(durationMs),
    zeros(8),
    u16(0),
    u16(0),
    u16(isVideo ? 0 : 0x100),
    zeros(2),
    IDENTITY_MATRIX,
    t.size,
  );
  const media = box(
    'mdia',
    fullBox('mdhd', 0, 0, u32(0), u32(0), u32(t.timescale), u32(mediaDuration), u16(0x55c4), u16(0)),
    fullBox('hdlr', 0, 0, u32(0), utf8(isVideo ? 'vide' : 'soun'), zeros(12), zeros(1)),
    mediaInformation(isVideo, sampleTable(t, isVideo, dataAt, isLarge)),
  );
  return box('trak', header, editList(t, startTime, shownSeconds, durationMs), media);
}

/** Lines a track up with the first picture (14496-12, 8.6.6): a pause before late sound, or a start inside it. */
function editList(t: TrackTable, startTime: number, shownSeconds: number, durationMs: number): Uint8Array {
  const lateMs = Math.round((startTime / t.timescale - shownSeconds) * MOVIE_TIMESCALE);
  const skipped = Math.max(0, Math.round(shownSeconds * t.timescale) - startTime);
  const edits = [
    ...(lateMs > 0 ? [[...u32(lateMs), ...u32(0xffffffff), ...u32(0x10000)]] : []),
    [...u32(durationMs), ...u32(skipped), ...u32(0x10000)],
  ];
  return box('edts', fullBox('elst', 0, 0, u32(edits.length), edits.flat()));
}

function sampleTable(t: TrackTable, isVideo: boolean, dataAt: number, isLarge: boolean): Uint8Array {
  const durations = t.decodeTimes.map((time, index) => (t.decodeTimes[index + 1] ?? t.endTime) - time);
  const timings = runsOf(durations);
  const offsets = runsOf(t.compositionOffsets);
  const chunkRuns = t.chunks.flatMap((chunk, index) => {
    const before = t.chunks[index - 1];
    const isSame = before?.samples === chunk.samples && before.entry === chunk.entry;
    return isSame ? [] : [index + 1, chunk.samples, chunk.entry];
  });
  const boxes = [
    fullBox('stsd', 0, 0, u32(t.entries.length), ...t.entries),
    fullBox('stts', 0, 0, u32(timings.length / 2), table32(timings)),
    fullBox('stsc', 0, 0, u32(chunkRuns.length / 3), table32(chunkRuns)),
    fullBox('stsz', 0, 0, u32(0), u32(t.sizes.length), table32(t.sizes)),
    isLarge
      ? fullBox('co64', 0, 0, u32(t.chunks.length), table64(t.chunks.map((c) => dataAt + c.offset)))
      : fullBox('stco', 0, 0, u32(t.chunks.length), table32(t.chunks.map((c) => dataAt + c.offset))),
  ];
  if (isVideo) {
    boxes.push(
      fullBox('ctts', 1, 0, u32(offsets.length / 2), table32(offsets)),
      fullBox('stss', 0, 0, u32(t.keyframes.length), table32(t.keyframes)),
    );
  }
  return box('stbl', ...boxes);
}

/** Run lengths: how many, of what, how many, of what … */
function runsOf(values: readonly number[]): number[] {
  const runs: number[] = [];
  for (const value of values) {
    if (runs.length > 0 && runs.at(-1) === value) runs[runs.length - 2]! += 1;
    else runs.push(1, value);
  }
  return runs;
}

function table32(values: readonly number[]): Uint8Array {
  const bytes = new Uint8Array(4 * values.length);
  const view = viewOf(bytes);
  values.forEach((value, index) => view.setInt32(4 * index, value));
  return bytes;
}

function table64(values: readonly number[]): Uint8Array {
  const bytes = new Uint8Array(8 * values.length);
  const view = viewOf(bytes);
  values.forEach((value, index) => view.setBigUint64(8 * index, BigInt(value)));
  return bytes;
}
