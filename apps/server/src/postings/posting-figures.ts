import { Injectable } from '@nestjs/common';
import { In, IsNull, LessThan, Or } from 'typeorm';
import { AccountTokens } from '../accounts/account-tokens.js';
import type { CommentThere, Connector } from '../connectors/connector.js';
import { Connectors } from '../connectors/connectors.js';
import { Clock } from '../platform/clock.js';
import { Database } from '../platform/database.js';
import { newId } from '../platform/ids.js';
import { RepeatedWork } from '../platform/repeated-work.js';
import { AccountEntity, OutletEntity } from '../tables/account.entity.js';
import { PostingCommentEntity } from '../tables/posting-comment.entity.js';
import { PostingEntity } from '../tables/posting.entity.js';

const EVERY_MS = 1000;
/** Each posting is asked after so often. */
const ASKED_EVERY_MS = 5000;
const AT_ONCE = 100;
const AUTHOR_LENGTH = 200;
const TEXT_LENGTH = 5000;

/** Asks platforms how many watch a posting that is on, and what they say there. */
@Injectable()
export class PostingFigures extends RepeatedWork {
  protected readonly everyMs = EVERY_MS;
  protected readonly fault = 'Viewers over there wait';
  readonly #asking = new Map<string, Promise<void>>();

  constructor(
    private readonly database: Database,
    private readonly connectors: Connectors,
    private readonly tokens: AccountTokens,
    private readonly clock: Clock,
  ) {
    super();
  }

  async work(): Promise<void> {
    const manager = this.database.installation;
    const due = await manager.find(PostingEntity, {
      where: {
        state: 'open',
        doneAtMs: IsNull(),
        askedAtMs: Or(IsNull(), LessThan(this.clock.nowMs() - ASKED_EVERY_MS)),
      },
      take: AT_ONCE,
    });
    if (due.length === 0) return;
    const outlets = await manager.findBy(OutletEntity, { id: In(due.map(({ outletId }) => outletId)) });
    const accounts = await manager.findBy(AccountEntity, {
      id: In(outlets.map(({ accountId }) => accountId)),
    });
    for (const posting of due) {
      const outlet = outlets.find(({ id }) => id === posting.outletId);
      const account = accounts.find(({ id }) => id === outlet?.accountId);
      const connector = account && this.connectors.get(account.platform);
      if (!connector || this.#asking.has(posting.id)) continue;
      // Each by itself: a platform that is slow holds up no other.
      const asking = this.eachOf([posting], async () => {
        if (await this.#claim(posting)) await this.#ask(posting, account, connector);
      }).finally(() => this.#asking.delete(posting.id));
      this.#asking.set(posting.id, asking);
    }
  }

  override async onApplicationShutdown(): Promise<void> {
    await super.onApplicationShutdown();
    await Promise.all(this.#asking.values());
  }

  async #claim({ id, askedAtMs }: PostingEntity): Promise<boolean> {
    const { affected } = await this.database.installation.update(
      PostingEntity,
      { id, askedAtMs: askedAtMs ?? IsNull() },
      { askedAtMs: this.clock.nowMs() },
    );
    return affected === 1;
  }

  async #ask(posting: PostingEntity, account: AccountEntity, connector: Connector): Promise<void> {
    const { id, idThere, part, commentsAfter } = posting;
    const viewers = await this.tokens.ask(account, (token) => connector.viewers(token, idThere!));
    const comments = connector.facts.hasComments
      ? await this.tokens.ask(account, (token) => connector.comments(token, idThere!, commentsAfter))
      : null;
    const refused = [viewers, comments].find((answer) => answer !== null && !answer.ok);
    const pauseMs = refused && !refused.ok && refused.error.code === 'busy' ? refused.error.retryAfterMs : 0;
    if (comments?.ok) await this.#keepComments(posting, comments.value);
    const last = comments?.ok ? comments.value.at(-1)?.id : undefined;
    // Of one that has been made again meanwhile, nothing counts any more.
    await this.database.installation.update(
      PostingEntity,
      { id, part, idThere: idThere! },
      {
        viewers: viewers.ok ? viewers.value : null,
        ...(last ? { commentsAfter: last } : {}),
        ...(pauseMs > 0 ? { askedAtMs: this.clock.nowMs() + pauseMs } : {}),
      },
    );
  }

  async #keepComments(
    { id: postingId, houseId, eventId, destinationId }: PostingEntity,
    comments: readonly CommentThere[],
  ): Promise<void> {
    if (comments.length === 0) return;
    const rows = comments.map(({ id: idThere, author, text, atMs }) => ({
      id: newId(),
      postingId,
      idThere,
      houseId,
      eventId,
      destinationId,
      author: author.slice(0, AUTHOR_LENGTH),
      text: text.slice(0, TEXT_LENGTH),
      atMs,
    }));
    await this.database.installation
      .createQueryBuilder()
      .insert()
      .into(PostingCommentEntity)
      .values(rows)
      .orIgnore()
      .updateEntity(false)
      .execute();
  }
}
