import { Inject, Injectable, Logger, type OnApplicationShutdown } from '@nestjs/common';
import { createTransport, type Transporter } from 'nodemailer';
import type { EntityManager } from 'typeorm';
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

  /** Claims a letter by locking its row; another server passes it over. */
  async #sendOne(transport: Transporter): Promise<boolean> {
    return this.database.installation.transaction(async (manager) => {
      const letter = await manager
        .createQueryBuilder(LetterEntity, 'letter')
        .where('letter.nextTryAtMs <= :now', { now: new Date(this.clock.nowMs()) })
        .orderBy('letter.nextTryAtMs')
        .limit(1)
        .setLock('pessimistic_write')
        .setOnLocked('skip_locked')
        .getOne();
      if (!letter) return false;
      letter.attempts += 1;
      try {
        const { recipient: to, subject, id } = letter;
        const text = this.secrets.open(letter.sealedText, placeOf(id));
        await transport.sendMail({ from: this.config.mailFrom, to, subject, text });
        Object.assign(letter, {
          sentAtMs: this.clock.nowMs(),
          nextTryAtMs: null,
          lastFault: null,
          sealedText: '',
        });
      } catch (error) {
        const pauseMs = PAUSES_MS[letter.attempts - 1];
        letter.lastFault = (error instanceof Error ? error.message : String(error)).slice(0, 200);
        letter.nextTryAtMs = pauseMs === undefined ? null : this.clock.nowMs() + pauseMs;
        this.#log.warn(`A letter could not be sent (try ${letter.attempts}): ${letter.lastFault}`);
      }
      await manager.save(letter);
      return true;
    });
  }
}
