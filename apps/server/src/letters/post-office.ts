import { Inject, Injectable, Logger } from '@nestjs/common';
import { createTransport, type Transporter } from 'nodemailer';
import { type EntityManager, LessThanOrEqual } from 'typeorm';
import { Clock } from '../platform/clock.js';
import { CONFIG, type ServerConfig } from '../platform/config.js';
import { Database } from '../platform/database.js';
import { RepeatedWork } from '../platform/repeated-work.js';
import { LetterEntity } from '../platform/entities.js';
import { newId } from '../platform/ids.js';
import { pauseAfter } from '../platform/retry-pauses.js';
import { type SealPlace, Secrets } from '../platform/secrets.js';
import type { LetterText } from './letter-texts.js';

const EVERY_MS = 1000;
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
export class PostOffice extends RepeatedWork {
  readonly #log = new Logger('Post');
  readonly #transport: Transporter | null;
  protected readonly everyMs = EVERY_MS;
  protected readonly fault = 'Letters wait';

  constructor(
    private readonly database: Database,
    private readonly secrets: Secrets,
    private readonly clock: Clock,
    @Inject(CONFIG) private readonly config: ServerConfig,
  ) {
    super();
    const timeouts = { connectionTimeout: SMTP_TIMEOUT_MS, socketTimeout: SMTP_TIMEOUT_MS };
    this.#transport = config.smtpUrl ? createTransport({ url: config.smtpUrl, ...timeouts }) : null;
  }

  override async onApplicationShutdown(): Promise<void> {
    await super.onApplicationShutdown();
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

  async work(): Promise<void> {
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
      const pauseMs = pauseAfter(attempts + 1);
      const lastFault = (error instanceof Error ? error.message : String(error)).slice(0, 200);
      this.#log.warn(`A letter could not be sent (try ${attempts + 1}): ${lastFault}`);
      return { lastFault, nextTryAtMs: pauseMs === null ? null : this.clock.nowMs() + pauseMs };
    }
  }
}
