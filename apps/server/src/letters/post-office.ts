import { Inject, Injectable, Logger, type OnApplicationShutdown } from '@nestjs/common';
import { createTransport, type Transporter } from 'nodemailer';
import { type EntityManager, LessThanOrEqual } from 'typeorm';
import { Clock } from '../platform/clock.js';
import { CONFIG, type ServerConfig } from '../platform/config.js';
import { Database } from '../platform/database.js';
import { LetterEntity } from '../platform/entities.js';
import { newId } from '../platform/ids.js';
import { type SealPlace, Secrets } from '../platform/secrets.js';
import type { LetterText } from './letter-texts.js';

const EVERY_MS = 1000;
/** Growing pauses between tries; after the last the letter is given up, and stays to be seen. */
const PAUSES_MS = [10_000, 60_000, 5 * 60_000, 30 * 60_000, 2 * 3_600_000, 8 * 3_600_000] as const;
const SMTP_TIMEOUT_MS = 10_000;
/** Longer than any sending takes. */
const CLAIM_MS = 60_000;

const placeOf = (id: string): SealPlace => ({
  houseId: 'installation',
  table: 'letters',
  column: 'sealed_text',
  id,
});

/** Sends letters over SMTP. They are rows first, so that none is lost; several servers share them safely. */
@Injectable()
export class PostOffice implements OnApplicationShutdown {
  readonly #log = new Logger('Post');
  readonly #transport: Transporter | null;
  #timer: NodeJS.Timeout | null = null;
  #sending: Promise<void> | null = null;

  constructor(
    private readonly database: Database,
    private readonly secrets: Secrets,
    private readonly clock: Clock,
    @Inject(CONFIG) private readonly config: ServerConfig,
  ) {
    const timeouts = { connectionTimeout: SMTP_TIMEOUT_MS, socketTimeout: SMTP_TIMEOUT_MS };
    this.#transport = config.smtpUrl ? createTransport({ url: config.smtpUrl, ...timeouts }) : null;
  }

  start(): void {
    this.#timer = setInterval(() => {
      this.#sending ??= this.#sendDue()
        .catch((error: unknown) => this.#log.warn(`Letters wait: ${String(error)}`))
        .finally(() => (this.#sending = null));
    }, EVERY_MS);
  }

  async onApplicationShutdown(): Promise<void> {
    if (this.#timer) clearInterval(this.#timer);
    await this.#sending;
    this.#transport?.close();
  }

  /** Puts a letter down to be sent; with the caller's transaction, so that it goes only when the rest does. */
  async write(manager: EntityManager, recipient: string, { subject, text }: LetterText): Promise<void> {
    const id = newId();
    const nowMs = this.clock.nowMs();
    await manager.insert(LetterEntity, {
      id,
      recipient,
      subject,
      sealedText: this.secrets.seal(text, placeOf(id)),
      attempts: 0,
      nextTryAtMs: nowMs,
      sentAtMs: null,
      lastFault: null,
      createdAtMs: nowMs,
    });
  }

  async #sendDue(): Promise<void> {
    if (!this.#transport) return;
    for (let isMore = true; isMore;) isMore = await this.#sendOne(this.#transport);
  }

  /** False when nothing is due. Sending stands outside any transaction: none that rolls back may send twice. */
  async #sendOne(transport: Transporter): Promise<boolean> {
    const letters = this.database.installation.getRepository(LetterEntity);
    const letter = await letters.findOne({
      where: { nextTryAtMs: LessThanOrEqual(this.clock.nowMs()) },
      order: { nextTryAtMs: 'ASC' },
    });
    if (!letter) return false;
    if (await this.#claim(letter)) await letters.update(letter.id, await this.#send(transport, letter));
    return true;
  }

  /** Puts the next try off for the server that is first; another then passes it over, and takes it if this one falls. */
  async #claim({ id, attempts }: LetterEntity): Promise<boolean> {
    const claimed = { attempts: attempts + 1, nextTryAtMs: this.clock.nowMs() + CLAIM_MS };
    const { affected } = await this.database.installation.update(LetterEntity, { id, attempts }, claimed);
    return affected === 1;
  }

  /** What has to be written down of the letter afterwards. */
  async #send(transport: Transporter, letter: LetterEntity): Promise<Partial<LetterEntity>> {
    const { id, recipient: to, subject, attempts } = letter;
    try {
      const text = this.secrets.open(letter.sealedText, placeOf(id));
      await transport.sendMail({ from: this.config.mailFrom, to, subject, text });
      return { sentAtMs: this.clock.nowMs(), nextTryAtMs: null, lastFault: null, sealedText: '' };
    } catch (error) {
      const pauseMs = PAUSES_MS[attempts];
      const lastFault = (error instanceof Error ? error.message : String(error)).slice(0, 200);
      this.#log.warn(`A letter could not be sent (try ${attempts + 1}): ${lastFault}`);
      return { lastFault, nextTryAtMs: pauseMs === undefined ? null : this.clock.nowMs() + pauseMs };
    }
  }
}
