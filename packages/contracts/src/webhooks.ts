/** What a webhook is told of. */
export const WEBHOOK_KINDS = [
  'planned',
  'on-air',
  'ended',
  'replay-there',
  'fault-began',
  'fault-over',
  'try',
] as const;
export type WebhookKind = (typeof WEBHOOK_KINDS)[number];

/** The body of a delivery; `docs/webhooks.md` describes it, and how it is signed. */
export interface WebhookBody {
  readonly version: 1;
  readonly kind: WebhookKind;
  /** ISO 8601, UTC. */
  readonly at: string;
  readonly house: { readonly id: string; readonly name: string };
  readonly event?: {
    readonly id: string;
    readonly title: string;
    readonly startsAt: string;
    readonly page: string;
  };
  readonly fault?: {
    readonly kind: string;
    readonly about: string | null;
    readonly from: string;
    readonly to: string | null;
    /** What it is, or was, and what helps: sentences in English. */
    readonly sentence: string;
    readonly help: string;
    readonly viewerMinutes: number;
  };
}

/** What came of a try: a code, or the status that was answered. */
export type WebhookAnswer =
  | 'delivered'
  | 'inner-address'
  | 'not-found'
  | 'unreachable'
  | 'too-slow'
  | 'redirected'
  | 'not-secure'
  | `status-${number}`;

export interface WebhookView {
  readonly address: string;
}

export interface SetWebhook {
  readonly address: string;
}

/** Shown once. */
export interface WebhookSecret {
  readonly secret: string;
}

export interface WebhookDeliveryView {
  readonly id: string;
  readonly kind: WebhookKind;
  readonly createdAtMs: number;
  readonly attempts: number;
  readonly deliveredAtMs: number | null;
  readonly nextTryAtMs: number | null;
  readonly answer: WebhookAnswer | null;
}
