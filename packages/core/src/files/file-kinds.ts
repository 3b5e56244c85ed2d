/** What a file turned out to be. */
export const FILE_KINDS = ['picture', 'film', 'sound'] as const;
export type FileKind = (typeof FILE_KINDS)[number];

/** Where a file stands: it came and waits, is being made playable, can be used, cannot be, or was stopped by hand. */
export const FILE_STATES = ['waiting', 'making', 'ready', 'refused', 'stopped'] as const;
export type FileState = (typeof FILE_STATES)[number];

const HOUR_MS = 3_600_000;

/** Told before anybody chooses a file. */
export const FILE_LIMITS = {
  bytes: { picture: 15_000_000, film: 8_000_000_000, sound: 1_000_000_000 },
  /** Of a film or a sound. */
  longestMs: 6 * HOUR_MS,
  /** Smaller than this, and people would see a blur. */
  pictureLeastPx: 320,
  pictureMostPixels: 50_000_000,
  /** 4096 by 4096: beyond, one picture of the film takes more memory than a service has to spare. */
  filmMostPixels: 16_777_216,
  nameLength: 120,
} as const;

const ENDINGS: Readonly<Record<string, FileKind>> = Object.fromEntries([
  ...'jpg jpeg png webp heic heif avif gif tif tiff'.split(' ').map((ending) => [ending, 'picture'] as const),
  ...'mp4 m4v mov mkv webm avi mpg mpeg m2ts mts ts wmv flv 3gp ogv mxf'
    .split(' ')
    .map((ending) => [ending, 'film'] as const),
  ...'mp3 m4a aac wav flac ogg oga opus aif aiff wma'.split(' ').map((ending) => [ending, 'sound'] as const),
]);

/** What a name promises; `null` where it promises nothing. Only to say early what is too large: content decides. */
export const promisedKind = (name: string): FileKind | null =>
  ENDINGS[/\.([a-z0-9]+)$/i.exec(name)?.[1]?.toLowerCase() ?? ''] ?? null;

/** Why a file of this name and size would not be taken; `null` where nothing speaks against it. */
export function refusalBefore(
  name: string,
  sizeBytes: number,
): { code: FileRefusal; mostBytes: number } | null {
  const kind = promisedKind(name) ?? 'film';
  const mostBytes = FILE_LIMITS.bytes[kind];
  if (sizeBytes === 0) return { code: 'file-empty', mostBytes };
  return sizeBytes > mostBytes ? { code: 'file-too-large', mostBytes } : null;
}

/** Why a file cannot be used. */
export const FILE_REFUSALS = [
  'file-empty',
  'file-too-large',
  'file-unknown',
  'file-broken',
  'file-too-long',
  'file-without-length',
  'picture-too-small',
  'picture-unreadable',
  'film-unreadable',
  'film-too-many-pixels',
  'making-failed',
] as const;
export type FileRefusal = (typeof FILE_REFUSALS)[number];
