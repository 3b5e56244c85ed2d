import Joi from 'joi';
import { nearestPoint, roundTripsTo } from '@heliphon/core/nodes/nearest-point';
import type { EncoderStandIn } from '../encoder/encoder.js';

/** What stands on the box's small screen. */
export type BoxScreen =
  | { readonly shows: 'off' }
  | { readonly shows: 'code'; readonly code: string; readonly page: string }
  | { readonly shows: 'ready' | 'sending'; readonly name: string; readonly sourceName: string }
  /** What the other side said, and what the person before it can do. */
  | { readonly shows: 'fault'; readonly words: string };

interface Point {
  readonly nodeId: string;
  readonly reachUrl: string;
}

interface Orders {
  readonly name: string;
  readonly sourceName: string;
  readonly connect: { address: string; key: string; user: string | null; password: string | null };
  /** First the one that it sends to, or would. */
  readonly points: readonly Point[];
}

const REPORT_EVERY_MS = 3000;
const ANSWERS_WITHIN_MS = 1500;
const MODEL = 'Quayside encoder';
const GRANT = 'urn:ietf:params:oauth:grant-type:device_code';

const codeSchema = Joi.object<{
  device_code: string;
  user_code: string;
  verification_uri: string;
  interval: number;
}>({
  device_code: Joi.string().required(),
  user_code: Joi.string().required(),
  verification_uri: Joi.string().required(),
  interval: Joi.number().required(),
}).unknown();
const ordersSchema = Joi.object<Orders>({
  name: Joi.string().required(),
  sourceName: Joi.string().required(),
  connect: Joi.object().required(),
  points: Joi.array()
    .items(Joi.object({ nodeId: Joi.string().required(), reachUrl: Joi.string().uri().required() }).unknown())
    .required(),
}).unknown();

/** An encoder box as it stands in a tower: shows a code until it is paired, then needs nobody (RFC 8628). */
export class BoxStandIn {
  #screen: BoxScreen = { shows: 'off' };
  #token: string | null = null;
  #orders: Orders | null = null;
  #timer: NodeJS.Timeout | null = null;
  #isSending = false;
  #batteryPercent = 87;
  #nearestNodeId: string | null = null;

  constructor(
    private readonly api: string,
    private readonly encoder: EncoderStandIn,
  ) {}

  get screen(): BoxScreen {
    return this.#screen;
  }

  /** Switches it on; asks for a code unless it was paired before. */
  powerOn(): void {
    this.#next(0, () => (this.#token ? this.#report() : this.#askForCode()));
  }

  powerOff(): void {
    this.stop();
    if (this.#timer) clearTimeout(this.#timer);
    this.#timer = null;
    this.#screen = { shows: 'off' };
  }

  /** Presses its one button: sends, where it knows to whom. */
  start(): void {
    if (!this.#orders) return;
    this.#isSending = true;
    this.#send(this.#orders);
  }

  stop(): void {
    this.#isSending = false;
    this.encoder.stop();
    if (this.#orders) this.#show(this.#orders);
  }

  async #askForCode(): Promise<void> {
    const answer = await this.#form('/device/authorize', { client_id: MODEL });
    if (!answer.ok)
      return this.#fail('The house does not answer. I try again.', 5000, () => this.#askForCode());
    const { device_code, user_code, verification_uri, interval } = Joi.attempt(
      await answer.json(),
      codeSchema,
    );
    this.#screen = { shows: 'code', code: user_code, page: verification_uri };
    this.#next(interval * 1000, () => this.#askForToken(device_code, interval * 1000));
  }

  async #askForToken(deviceCode: string, intervalMs: number): Promise<void> {
    const answer = await this.#form('/device/token', { grant_type: GRANT, device_code: deviceCode });
    const body = (await answer.json()) as { access_token?: string; error?: string };
    if (body.access_token) {
      this.#token = body.access_token;
      return this.#report();
    }
    if (body.error === 'authorization_pending')
      return this.#next(intervalMs, () => this.#askForToken(deviceCode, intervalMs));
    if (body.error === 'slow_down') {
      const slowerMs = intervalMs + 5000;
      return this.#next(slowerMs, () => this.#askForToken(deviceCode, slowerMs));
    }
    return this.#askForCode();
  }

  /** Says how it is, and hears where to send: a key that was renewed needs nobody at the box. */
  async #report(): Promise<void> {
    this.#batteryPercent = Math.max(5, this.#batteryPercent - 0.01);
    const report = {
      batteryPercent: Math.round(this.#batteryPercent),
      input: 'picture-and-sound',
      temperatureC: this.#isSending ? 48 : 36,
      isSending: this.#isSending,
      nearestNodeId: this.#nearestNodeId,
    };
    const answer = await fetch(`${this.api}/boxes/report`, {
      method: 'POST',
      headers: { authorization: `Bearer ${this.#token}`, 'content-type': 'application/json' },
      body: JSON.stringify(report),
    });
    if (answer.status === 401) {
      this.#token = null;
      this.#orders = null;
      this.stop();
      return this.#askForCode();
    }
    if (!answer.ok)
      return this.#fail('The house does not answer. I try again.', REPORT_EVERY_MS, () => this.#report());
    const orders = Joi.attempt(await answer.json(), ordersSchema);
    const isOther = wayOf(orders) !== wayOf(this.#orders);
    this.#orders = orders;
    if (this.#isSending && isOther) this.#send(orders);
    // Once it sends it stays where it is: a shorter way is not worth a gap.
    if (!this.#isSending) this.#nearestNodeId = await nearestOf(orders.points);
    this.#show(orders);
    this.#next(REPORT_EVERY_MS, () => this.#report());
  }

  #send({ connect }: Orders): void {
    const { address, key, user, password } = connect;
    this.encoder.start({ address, key, ...(user && password ? { user, password } : {}) });
    this.#show(this.#orders!);
  }

  #show({ name, sourceName }: Orders): void {
    this.#screen = { shows: this.#isSending ? 'sending' : 'ready', name, sourceName };
  }

  #fail(words: string, afterMs: number, again: () => Promise<void>): void {
    this.#screen = { shows: 'fault', words };
    this.#next(afterMs, again);
  }

  #next(afterMs: number, work: () => Promise<void>): void {
    if (this.#timer) clearTimeout(this.#timer);
    this.#timer = setTimeout(() => {
      work().catch(() => this.#fail('The network is away. I try again.', REPORT_EVERY_MS, work));
    }, afterMs);
  }

  #form(path: string, fields: Record<string, string>): Promise<Response> {
    return fetch(this.api + path, { method: 'POST', body: new URLSearchParams(fields) });
  }
}

/** What of its orders makes it redial. */
const wayOf = (orders: Orders | null): string | null => {
  if (!orders) return null;
  const { address, key, user, password } = orders.connect;
  return JSON.stringify([address, key, user, password]);
};

/** The nearest of the points, by round trips that it measures itself. */
async function nearestOf(points: readonly Point[]): Promise<string | null> {
  const measured = await Promise.all(
    points.map(async (point) => ({
      pointId: point.nodeId,
      roundTripsMs: await roundTripsTo(
        () => isReached(point),
        () => performance.now(),
      ),
    })),
  );
  return nearestPoint(measured, points[0]?.nodeId ?? null);
}

const isReached = ({ nodeId, reachUrl }: Point): Promise<boolean> =>
  fetch(reachUrl, { signal: AbortSignal.timeout(ANSWERS_WITHIN_MS) }).then(
    async (answer) => answer.ok && (await answer.text()) === nodeId,
    () => false,
  );
