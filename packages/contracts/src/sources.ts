import type { SourceKind } from '@heliphon/core/ingest/source-kinds';
import type { PictureSize } from '@heliphon/core/ladder/picture-sizes';
import type { SourceReport } from '@heliphon/core/signal/source-report';
import type { PointName } from './nodes.js';

/** What a source is, and what it shows where it is no device. */
export interface Shown {
  readonly kind: SourceKind;
  /** Whose programme it shows: an event's, or whatever is on in a series. */
  readonly followsEventId: string | null;
  readonly followsSeriesId: string | null;
  /** The film that it plays once. */
  readonly fileId: string | null;
}

/** Somebody sends to it. */
export const DEVICE: Shown = { kind: 'device', followsEventId: null, followsSeriesId: null, fileId: null };

export interface SourceView extends Shown {
  readonly id: string;
  readonly version: number;
  readonly name: string;
  /** Whether an encoder has to show a name and password besides the key. */
  readonly hasPassword: boolean;
  readonly keyRenewedAtMs: number;
  /** When it last came or went; `null` where nothing ever came. */
  readonly lastSeenAtMs: number | null;
  /** What these are called, in lists. */
  readonly shows: string | null;
  /** The next events with it, in lists; the present one first. */
  readonly events: readonly SourceEvent[];
  readonly advice: SourceAdvice | null;
  /** The ingest point chosen for it; `null` where nobody chose. */
  readonly nodeId: string | null;
  /** `null` where it is not reached over SRT. */
  readonly srt: { readonly latencyMs: number } | null;
}

export interface SourceEvent {
  readonly id: string;
  readonly title: string;
  readonly startsAtMs: number;
}

/** What its encoder should be set to, and why. */
export interface SourceAdvice {
  /** What its way to us was measured to carry; `null` where somebody only chose a picture. */
  readonly uploadBps: number | null;
  readonly measuredAtMs: number | null;
  /** `null`: not even the smallest picture is safe. */
  readonly size: PictureSize | null;
}

export interface AddSource extends Shown {
  readonly name: string;
  readonly hasPassword: boolean;
  readonly nodeId: string | null;
}

/** A measured upload, and the picture somebody chose instead of the safe one. */
export interface AdviseSource {
  readonly uploadBps: number | null;
  readonly size: string | null;
}

/** What has to be typed into an encoder. Shown only to who may see keys. */
export interface SourceKey {
  /** The ingest point of these addresses; `null` before any media node has come. */
  readonly point: PointName | null;
  readonly address: string;
  /** Where else it may be sent, for encoders that have a place for it; `null` where there is one point. */
  readonly second: { readonly point: PointName; readonly address: string } | null;
  /** The same over TLS, where the house has a certificate. */
  readonly secureAddress: string | null;
  readonly key: string;
  readonly user: string | null;
  readonly password: string | null;
  /** For WHIP, with the key as its bearer token; `null` where a name and password are wanted too. */
  readonly whip: string | null;
  readonly srt: { readonly address: string; readonly passphrase: string; readonly latencyMs: number } | null;
}

export interface EditSource {
  readonly name?: string;
  readonly hasPassword?: boolean;
  readonly followsEventId?: string | null;
  readonly followsSeriesId?: string | null;
  readonly fileId?: string;
  readonly nodeId?: string | null;
  /** Opens a port for it over SRT, or closes it. */
  readonly srt?: { readonly latencyMs: number } | null;
}

/** A source as it is at this moment; `pictureUrl` is the newest thumbnail's address. */
export interface SourceNow {
  readonly sourceId: string;
  /** The ingest point at which it arrives; `null` while it does not. */
  readonly nodeId: string | null;
  readonly report: SourceReport | null;
  readonly pictureUrl: string | null;
  readonly lastRefusal: { readonly reason: string; readonly atMs: number } | null;
}

/** One thing that happened to a source: a connection came, went or was turned away, or its key was renewed. */
export interface SourceHappening {
  readonly id: string;
  readonly kind: 'source-came' | 'source-went' | 'source-refused' | 'key-renewed';
  readonly atMs: number;
  readonly remoteAddress: string | null;
  readonly protocol: string | null;
  /** The ingest point where it came, went or was turned away; `null` where there is one alone. */
  readonly point: string | null;
  readonly reason: string | null;
}

export const SOURCE_NAME_LENGTH = 60;
