import type { FilmChange } from '@heliphon/core/files/film-plan';
import type { FileKind, FileRefusal, FileState } from '@heliphon/core/files/file-kinds';

/** Where uploads go, by the tus protocol (tus.io, version 1.0.0), and how much of one comes in a request. */
export const UPLOADS_PATH = '/api/uploads';
export const UPLOAD_CHUNK_BYTES = 8_000_000;

/** A picture, film or sound of the house. */
export interface FileView {
  readonly id: string;
  readonly version: number;
  readonly name: string;
  /** `null` until somebody has looked into it. */
  readonly kind: FileKind | null;
  readonly state: FileState;
  readonly sizeBytes: number;
  readonly addedAtMs: number;
  /** While it is being made playable. */
  readonly madePercent: number;
  /** Why it cannot be used. */
  readonly refusal: FileRefusal | null;
  readonly facts: FileFacts | null;
  /** A small picture of it. */
  readonly lookUrl: string | null;
  /** What a browser can play or show. */
  readonly playUrl: string | null;
  /** What uses it, a series once for all its dates; the first few. */
  readonly uses: readonly FileUse[];
  readonly usesCount: number;
  readonly binnedAtMs: number | null;
}

export interface FileFacts {
  readonly widthPx: number | null;
  readonly heightPx: number | null;
  readonly durationMs: number | null;
  /** Of what can be played. */
  readonly playBytes: number | null;
  /** Why its picture was re-encoded; empty: it is as it came. */
  readonly changes: readonly FilmChange[];
}

export interface FileUse {
  readonly of: 'event' | 'series' | 'recording' | 'house';
  readonly id: string;
  readonly title: string;
  readonly as: 'poster' | 'film' | 'slate sound';
}

export interface EditFile {
  readonly name: string;
}

export interface FileFilter {
  readonly kind?: FileKind;
  readonly state?: FileState;
  readonly in?: 'bin';
}

/** A picture of the house becomes a poster. */
export interface ChoosePoster {
  readonly fileId: string;
}
