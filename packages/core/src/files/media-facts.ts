import type { MediaFacts, VideoFacts } from './film-plan.js';

type Json = Readonly<Record<string, unknown>>;

/**
 * Reads what `ffprobe -of json -show_format -show_streams -show_packets` says of a file: its first picture that is no
 * cover, its first sound, and the keyframes among the packets, where there are any.
 * @returns `null` for anything that is no such answer.
 */
export function readMediaFacts(probed: unknown): MediaFacts | null {
  if (!isRecord(probed) || !Array.isArray(probed.streams)) return null;
  const streams = probed.streams.filter(isRecord);
  const video = streams.find(
    ({ codec_type, disposition }) => codec_type === 'video' && !isCover(disposition),
  );
  const audio = streams.find(({ codec_type }) => codec_type === 'audio');
  const format = isRecord(probed.format) ? probed.format : {};
  const seconds = numberIn(format.duration) ?? numberIn(video?.duration) ?? numberIn(audio?.duration);
  const packets = Array.isArray(probed.packets) ? probed.packets.filter(isRecord) : [];
  return {
    durationMs: seconds === null ? null : Math.round(seconds * 1000),
    video: video ? videoFacts(video, packets) : null,
    audio: audio
      ? {
          codec: text(audio.codec_name),
          profile: text(audio.profile),
          channels: numberIn(audio.channels) ?? 0,
          sampleRateHz: numberIn(audio.sample_rate) ?? 0,
        }
      : null,
  };
}

function videoFacts(stream: Json, packets: readonly Json[]): VideoFacts {
  return {
    codec: text(stream.codec_name),
    profile: text(stream.profile),
    pixelFormat: text(stream.pix_fmt),
    widthPx: numberIn(stream.width) ?? 0,
    heightPx: numberIn(stream.height) ?? 0,
    frameRateFps: rate(stream.avg_frame_rate) ?? rate(stream.r_frame_rate) ?? 0,
    turnedDegrees: turned(stream),
    isInterlaced: !['', 'unknown', 'progressive'].includes(text(stream.field_order)),
    longestKeyframeGapMs: longestGap(packets.filter((packet) => packet.stream_index === stream.index)),
    bitrateBps: numberIn(stream.bit_rate),
  };
}

/** The longest time from one keyframe to the next, the way to the last packet included. */
function longestGap(packets: readonly Json[]): number | null {
  const timed = packets.flatMap((packet) => {
    const seconds = numberIn(packet.pts_time) ?? numberIn(packet.dts_time);
    return seconds === null ? [] : [{ seconds, isKey: text(packet.flags).startsWith('K') }];
  });
  if (timed.length < 2) return null;
  const marks = timed.filter(({ isKey }) => isKey).map(({ seconds }) => seconds);
  const edges = [...marks, Math.max(...timed.map(({ seconds }) => seconds))].sort((a, b) => a - b);
  const gaps = edges.slice(1).map((edge, nth) => edge - edges[nth]!);
  return Math.round(Math.max(0, ...gaps) * 1000);
}

/** A turn is noted as a matrix beside the stream, or, by older programs, as a tag. */
function turned({ side_data_list: beside, tags }: Json): number {
  const matrix = Array.isArray(beside)
    ? beside.filter(isRecord).find(({ rotation }) => rotation !== undefined)
    : null;
  const degrees = numberIn(matrix?.rotation) ?? numberIn(isRecord(tags) ? tags.rotate : null) ?? 0;
  return ((Math.round(degrees) % 360) + 360) % 360;
}

const isCover = (disposition: unknown): boolean => isRecord(disposition) && disposition.attached_pic === 1;

function rate(value: unknown): number | null {
  const [, above, below] = /^(\d+)\/(\d+)$/.exec(text(value)) ?? [];
  return Number(below) > 0 && Number(above) > 0 ? Number(above) / Number(below) : null;
}

const isRecord = (value: unknown): value is Json => typeof value === 'object' && value !== null;
const text = (value: unknown): string => (typeof value === 'string' ? value : '');
function numberIn(value: unknown): number | null {
  const number = typeof value === 'string' && value.trim() !== '' ? Number(value) : value;
  return typeof number === 'number' && Number.isFinite(number) ? number : null;
}
