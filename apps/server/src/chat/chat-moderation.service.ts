import { Injectable } from '@nestjs/common';
import { type EntityManager, IsNull } from 'typeorm';
import type { ChatMessage, ChatPage, ChatPerson } from '@heliphon/contracts/chat';
import type { Page } from '@heliphon/contracts/problem';
import { EventEntity } from '../tables/event.entity.js';
import { type Context, Database, type HouseScope, type PageWish } from '../platform/database.js';
import { ChatMessageEntity, ChatPersonEntity } from '../tables/chat.entity.js';
import { ChatBatches } from './chat-batches.js';
import { messageView } from './chat-message-view.js';
import { lockRoom, nextSeq } from './chat-order.js';
import { CHAT_PAGE } from './chat.service.js';

/** What moderators see and do: who is here, what they said, hiding and putting back. */
@Injectable()
export class ChatModerationService {
  constructor(
    private readonly database: Database,
    private readonly batches: ChatBatches,
  ) {}

  /** Who has joined, newest first; how much each has said. */
  async people(ctx: Context, eventId: string, wish: PageWish): Promise<Page<ChatPerson>> {
    const scope = this.database.house(ctx);
    await scope.get(EventEntity, eventId, 'event');
    const order = { by: 'joinedAtMs', descending: true, where: { eventId } } as const;
    const { rows, next } = await scope.page(ChatPersonEntity, order, wish);
    return { items: await this.#views(eventId, rows), next };
  }

  /** What somebody has said in this chat, oldest first. */
  async saidBy(ctx: Context, eventId: string, personId: string): Promise<ChatPage> {
    const scope = this.database.house(ctx);
    await scope.get(EventEntity, eventId, 'event');
    const rows = await scope.find(ChatMessageEntity, {
      where: { eventId, authorId: personId },
      order: { seq: 'ASC' },
      take: CHAT_PAGE,
    });
    return {
      messages: rows.map(messageView),
      seq: rows.at(-1)?.seq ?? 0,
      hasMore: rows.length === CHAT_PAGE,
    };
  }

  /** Hides a person: all they said and what they will say. Restoring them brings back what was hidden with them. */
  async setPersonHidden(
    ctx: Context,
    eventId: string,
    personId: string,
    hidden: boolean,
  ): Promise<ChatPerson> {
    const changed: ChatMessage[] = [];
    await this.database.house(ctx).get(EventEntity, eventId, 'event');
    const person = await this.database.inHouse(ctx, async (scope, manager) => {
      await lockRoom(manager, ctx, eventId);
      const person = await scope.lock(ChatPersonEntity, { id: personId, eventId }, 'person');
      if ((person.hiddenBy !== null) !== hidden) {
        changed.push(...(await markPerson(scope, manager, person, hidden ? ctx.byName : null)));
        const kind = hidden ? 'chat-person-hidden' : 'chat-person-restored';
        const after = { name: person.name, eventId, messages: changed.length };
        await scope.happened({ subjectKind: 'chat', subjectId: personId, kind, after });
      }
      return person;
    });
    for (const message of changed) this.batches.add(ctx.houseId, eventId, message);
    return (await this.#views(eventId, [person]))[0]!;
  }

  /** Hides a message, or puts it back; done twice it is as done once. */
  async setHidden(ctx: Context, eventId: string, messageId: string, hidden: boolean): Promise<ChatMessage> {
    await this.database.house(ctx).get(EventEntity, eventId, 'event');
    const view = await this.database.inHouse(ctx, async (scope, manager) => {
      await lockRoom(manager, ctx, eventId);
      const row = await scope.lock(ChatMessageEntity, { id: messageId, eventId }, 'message');
      if ((row.hiddenBy !== null) === hidden) return messageView(row);
      const before = { hiddenBy: row.hiddenBy };
      row.hiddenBy = hidden ? ctx.byName : null;
      row.hiddenWithPerson = false;
      row.seq = await nextSeq(manager, ctx, eventId);
      await scope.save(row);
      const kind = hidden ? 'message-hidden' : 'message-restored';
      await scope.happened({
        subjectKind: 'chat',
        subjectId: messageId,
        kind,
        before,
        after: { hiddenBy: row.hiddenBy },
      });
      return messageView(row);
    });
    this.batches.add(ctx.houseId, eventId, view);
    return view;
  }

  async #views(eventId: string, people: readonly ChatPersonEntity[]): Promise<ChatPerson[]> {
    const counts = await this.database.installation
      .createQueryBuilder(ChatMessageEntity, 'm')
      .select('m.authorId', 'id')
      .addSelect('COUNT(*)', 'count')
      .where('m.eventId = :eventId AND m.authorId IN (:...ids)', {
        eventId,
        ids: ['', ...people.map(({ id }) => id)],
      })
      .groupBy('m.authorId')
      .getRawMany<{ id: string; count: string }>();
    const countOf = new Map(counts.map(({ id, count }) => [id, Number(count)]));
    return people.map(({ id, name, joinedAtMs, hiddenBy }) => ({
      id,
      name,
      joinedAtMs,
      hiddenBy,
      messages: countOf.get(id) ?? 0,
    }));
  }
}

/** The person and their messages; those that were hidden by themselves stay as they are. */
async function markPerson(
  scope: HouseScope,
  manager: EntityManager,
  person: ChatPersonEntity,
  hiddenBy: string | null,
): Promise<ChatMessage[]> {
  const { id: authorId, eventId } = person;
  person.hiddenBy = hiddenBy;
  await scope.save(person);
  const where = hiddenBy ? { hiddenBy: IsNull() } : { hiddenWithPerson: true };
  const rows = await scope.find(ChatMessageEntity, {
    where: { eventId, authorId, ...where },
    order: { seq: 'ASC' },
  });
  if (rows.length === 0) return [];
  const firstSeq = await nextSeq(manager, scope.ctx, eventId, rows.length);
  for (const [index, row] of rows.entries()) {
    Object.assign(row, { hiddenBy, hiddenWithPerson: hiddenBy !== null, seq: firstSeq + index });
    await scope.save(row);
  }
  return rows.map(messageView);
}
