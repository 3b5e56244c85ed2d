import { Injectable } from '@nestjs/common';
import { IsNull, MoreThan } from 'typeorm';
import { POSTING_RULE } from '@heliphon/core/access/token-bucket';
import { cleanChatMessage, cleanChatName } from '@heliphon/core/chat/chat-text';
import type {
  ChatMessage,
  ChatPage,
  ChatPerson,
  JoinChat,
  JoinedChat,
  PostMessage,
} from '@heliphon/contracts/chat';
import type { Page } from '@heliphon/contracts/problem';
import { EventEntity } from '../events/event.entity.js';
import { Limiter } from '../people/limiter.js';
import { Clock } from '../platform/clock.js';
import {
  type Context,
  Database,
  type HouseScope,
  type PageWish,
  systemContext,
} from '../platform/database.js';
import { newId, randomText, sha256Hex } from '../platform/ids.js';
import { ProblemError, refusedField } from '../platform/problems.js';
import { ChatMessageEntity, ChatPersonEntity, ChatRoomEntity } from './chat.entity.js';
import { ChatBatches } from './chat-batches.js';
import { type ChatState, chatStateOf } from './chat-state.js';

const PAGE = 200;

interface Author {
  readonly id: string;
  readonly name: string;
  readonly byHouse: boolean;
  /** Somebody hidden goes on writing; nobody but moderators reads it. */
  readonly hiddenBy: string | null;
}

/** One event's chat: joined by name, open from the doors to the end, readable afterwards. */
@Injectable()
export class ChatService {
  readonly #posting = new Limiter(POSTING_RULE);

  constructor(
    private readonly database: Database,
    private readonly batches: ChatBatches,
    private readonly clock: Clock,
  ) {}

  async join(event: EventEntity, { name: wanted }: JoinChat): Promise<JoinedChat> {
    requireOpen(chatStateOf(event));
    const name = cleanChatName(wanted);
    if (!name.ok) throw refusedField('name', `chat-name-${name.error.code}`, lengths(name.error));
    const token = `hc_${randomText(160)}`;
    await this.database.house(systemContext(event.houseId, 'system')).add(ChatPersonEntity, {
      id: newId(),
      eventId: event.id,
      name: name.value,
      tokenSha256Hex: sha256Hex(token),
      joinedAtMs: this.clock.nowMs(),
    });
    return { token, name: name.value };
  }

  /** A message of somebody who joined. @throws ProblemError 429 with the wait when it comes too soon. */
  async post(event: EventEntity, token: string | null, message: PostMessage): Promise<ChatMessage> {
    requireOpen(chatStateOf(event));
    const ctx = systemContext(event.houseId, 'system');
    const person =
      token &&
      (await this.database
        .house(ctx)
        .findOne(ChatPersonEntity, { tokenSha256Hex: sha256Hex(token), eventId: event.id }));
    if (!person) throw new ProblemError(401, 'chat-not-joined');
    const { id, name, hiddenBy } = person;
    const author = { id, name, byHouse: false, hiddenBy };
    return this.#say(ctx, event.id, author, message, () =>
      this.#posting.require(person.id, 'chat-too-quick'),
    );
  }

  /** An answer of the house, from the desk. */
  async answer(ctx: Context, eventId: string, message: PostMessage): Promise<ChatMessage> {
    const event = await this.database.house(ctx).get(EventEntity, eventId, 'event');
    requireOpen(chatStateOf(event));
    return this.#say(
      ctx,
      eventId,
      { id: ctx.by, name: ctx.byName, byHouse: true, hiddenBy: null },
      message,
      () => undefined,
    );
  }

  /** @param sees - moderators get the text of hidden messages. */
  async read(houseId: string, eventId: string, afterSeq: number, sees: 'all' | 'public'): Promise<ChatPage> {
    const scope = this.database.house(systemContext(houseId, 'system'));
    const rows = await scope.find(ChatMessageEntity, {
      where: { eventId, seq: MoreThan(afterSeq) },
      // From the beginning only the newest are wanted; after a break, everything since.
      order: { seq: afterSeq === 0 ? 'DESC' : 'ASC' },
      take: PAGE,
    });
    const messages = rows.map((row) => (sees === 'all' ? messageView(row) : forPublic(messageView(row))));
    return { messages, seq: Math.max(afterSeq, ...messages.map((message) => message.seq)) };
  }

  /** Who has joined, newest first; how much each has said. */
  async people(ctx: Context, eventId: string, wish: PageWish): Promise<Page<ChatPerson>> {
    const scope = this.database.house(ctx);
    await scope.get(EventEntity, eventId, 'event');
    const order = { by: 'joinedAtMs', descending: true, where: { eventId } } as const;
    const { rows, next } = await scope.page(ChatPersonEntity, order, wish);
    const counts = await this.database.installation
      .createQueryBuilder(ChatMessageEntity, 'm')
      .select('m.authorId', 'id')
      .addSelect('COUNT(*)', 'count')
      .where('m.eventId = :eventId AND m.authorId IN (:...ids)', {
        eventId,
        ids: ['', ...rows.map((r) => r.id)],
      })
      .groupBy('m.authorId')
      .getRawMany<{ id: string; count: string }>();
    const countOf = new Map(counts.map(({ id, count }) => [id, Number(count)]));
    return { items: rows.map((row) => personView(row, countOf.get(row.id) ?? 0)), next };
  }

  /** What somebody has said in this chat, oldest first. */
  async saidBy(ctx: Context, eventId: string, personId: string): Promise<ChatMessage[]> {
    const scope = this.database.house(ctx);
    await scope.get(EventEntity, eventId, 'event');
    const rows = await scope.find(ChatMessageEntity, {
      where: { eventId, authorId: personId },
      order: { seq: 'ASC' },
      take: PAGE,
    });
    return rows.map(messageView);
  }

  /** Hides a person: all they said and what they will say. Restoring them brings back what was hidden with them. */
  async setPersonHidden(
    ctx: Context,
    eventId: string,
    personId: string,
    hidden: boolean,
  ): Promise<ChatPerson> {
    const changed: ChatMessage[] = [];
    const view = await this.database.transaction(ctx, async (scope) => {
      const person = await scope.lock(ChatPersonEntity, { id: personId, eventId }, 'person');
      if ((person.hiddenBy !== null) !== hidden) {
        changed.push(...(await setPersonHidden(scope, person, hidden ? ctx.byName : null)));
        const kind = hidden ? 'chat-person-hidden' : 'chat-person-restored';
        const after = { name: person.name, eventId, messages: changed.length };
        await scope.happened({ subjectKind: 'chat', subjectId: personId, kind, after });
      }
      return personView(person, changed.length);
    });
    for (const message of changed) this.batches.add(ctx.houseId, eventId, message);
    return view;
  }

  /** Hides a message, or puts it back; done twice it is as done once. */
  async setHidden(ctx: Context, eventId: string, messageId: string, hidden: boolean): Promise<ChatMessage> {
    const view = await this.database.transaction(ctx, async (scope) => {
      const row = await scope.lock(ChatMessageEntity, { id: messageId, eventId }, 'message');
      if ((row.hiddenBy !== null) === hidden) return messageView(row);
      const before = { hiddenBy: row.hiddenBy };
      row.hiddenBy = hidden ? ctx.byName : null;
      row.hiddenWithPerson = false;
      row.seq = await nextSeq(scope, eventId);
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

  async #say(
    ctx: Context,
    eventId: string,
    author: Author,
    { text: raw, messageId }: PostMessage,
    checkLimit: () => void,
  ): Promise<ChatMessage> {
    const text = cleanChatMessage(raw);
    if (!text.ok) throw refusedField('text', `chat-text-${text.error.code}`, lengths(text.error));
    const repeated = await this.database
      .house(ctx)
      .findOne(ChatMessageEntity, { id: messageId, authorId: author.id });
    if (repeated) return messageView(repeated);
    checkLimit();
    const row = await this.database.transaction(ctx, async (scope) =>
      scope.add(ChatMessageEntity, {
        id: messageId,
        eventId,
        authorId: author.id,
        author: author.name,
        byHouse: author.byHouse,
        text: text.value,
        atMs: this.clock.nowMs(),
        seq: await nextSeq(scope, eventId),
        hiddenBy: author.hiddenBy,
        hiddenWithPerson: author.hiddenBy !== null,
      }),
    );
    const view = messageView(row);
    this.batches.add(ctx.houseId, eventId, view);
    return view;
  }
}

/** The next number in a chat; the room's row serialises whoever speaks at once. */
async function nextSeq(scope: HouseScope, eventId: string): Promise<number> {
  if (!(await scope.findOne(ChatRoomEntity, { eventId }))) await openRoom(scope, eventId);
  const room = await scope.lock(ChatRoomEntity, { eventId }, 'chat');
  room.lastSeq += 1;
  await scope.save(room);
  return room.lastSeq;
}

/** The first two to speak may both open the room; the second finds it there. */
async function openRoom(scope: HouseScope, eventId: string): Promise<void> {
  await scope.lock(EventEntity, { id: eventId }, 'event');
  if (!(await scope.findOne(ChatRoomEntity, { eventId })))
    await scope.add(ChatRoomEntity, { eventId, lastSeq: 0 });
}

async function setPersonHidden(
  scope: HouseScope,
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
  for (const row of rows) {
    Object.assign(row, { hiddenBy, hiddenWithPerson: hiddenBy !== null, seq: await nextSeq(scope, eventId) });
    await scope.save(row);
  }
  return rows.map(messageView);
}

function requireOpen(state: ChatState): void {
  if (state !== 'open') throw new ProblemError(409, `chat-${state}`);
}

const lengths = (error: { readonly code: string } & Partial<Record<'length' | 'limit', number>>) => ({
  length: error.length ?? 0,
  limit: error.limit ?? 0,
});

const messageView = (row: ChatMessageEntity): ChatMessage => ({
  id: row.id,
  seq: row.seq,
  author: row.author,
  authorId: row.authorId,
  byHouse: row.byHouse,
  text: row.text,
  atMs: row.atMs,
  hiddenBy: row.hiddenBy,
});

/** What the public gets of a message: of a hidden one neither its words nor who hid it. */
export const forPublic = (message: ChatMessage): ChatMessage =>
  message.hiddenBy === null
    ? { ...message, authorId: null }
    : { ...message, authorId: null, text: null, hiddenBy: '' };

const personView = (row: ChatPersonEntity, messages: number): ChatPerson => ({
  id: row.id,
  name: row.name,
  joinedAtMs: row.joinedAtMs,
  messages,
  hiddenBy: row.hiddenBy,
});
