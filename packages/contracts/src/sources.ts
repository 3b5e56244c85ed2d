import type { SourceReport } from '@heliphon/core/signal/source-report';

export interface SourceView {
  readonly id: string;
  readonly version: number;
  readonly name: string;
  /** Whether an encoder has to show a name and password besides the key. */
  readonly hasPassword: boolean;
  readonly keyRenewedAtMs: number;
}

/** What has to be typed into an encoder. Shown only to who may see keys. */
export interface SourceKey {
  readonly address: string;
  /** The same over TLS, where the house has a certificate. */
  readonly secureAddress: string | null;
  readonly key: string;
  readonly user: string | null;
  readonly password: string | null;
}

export interface EditSource {
  readonly name?: string;
  readonly hasPassword?: boolean;
}

/** A source as it is at this moment; `pictureUrl` is the newest thumbnail's address. */
export interface SourceNow {
  readonly sourceId: string;
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
  readonly reason: string | null;
}

export const SOURCE_NAME_LENGTH = 60;
