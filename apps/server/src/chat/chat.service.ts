import { Injectable } from '@nestjs/common';
import { MoreThan } from 'typeorm';
import { POSTING_RULE } from '@heliphon/core/access/token-bucket';
import { cleanChatMessage, cleanChatName } from '@heliphon/core/chat/chat-text';
import type { ChatMessage, ChatPage, JoinChat, JoinedChat, PostMessage } from '@heliphon/contracts/chat';
import { EventEntity } from '../tables/event.entity.js';
import { Buckets, Limiter } from '../platform/shared/limits.js';
import { Clock } from '../platform/clock.js';
import { type Context, Database, systemContext } from '../platform/database.js';
import { newId, randomText, sha256Hex } from '../platform/ids.js';
import { ProblemError, refusedField } from '../platform/problems.js';
import { ChatMessageEntity, ChatPersonEntity } from '../tables/chat.entity.js';
import { ChatBatches } from './chat-batches.js';
import { forPublic, messageView } from './chat-message-view.js';
import { nextSeq } from './chat-order.js';
import { type ChatState, chatStateOf } from './chat-state.js';

/** Messages that one reading gives. */
export const CHAT_PAGE = 200;

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
  readonly #posting: Limiter;

  constructor(
    private readonly database: Database,
    private readonly batches: ChatBatches,
    private readonly clock: Clock,
    buckets: Buckets,
  ) {
    this.#posting = new Limiter(buckets, 'chat posted', POSTING_RULE);
  }

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
      () => Promise.resolve(),
    );
  }

  /** @param sees - moderators get the text of hidden messages. */
  async read(houseId: string, eventId: string, afterSeq: number, sees: 'all' | 'public'): Promise<ChatPage> {
    const scope = this.database.house(systemContext(houseId, 'system'));
    const rows = await scope.find(ChatMessageEntity, {
      where: { eventId, seq: MoreThan(afterSeq) },
      // From the beginning only the newest are wanted; after a break, everything since.
      order: { seq: afterSeq === 0 ? 'DESC' : 'ASC' },
      take: CHAT_PAGE,
    });
    const messages = rows.map((row) => (sees === 'all' ? messageView(row) : forPublic(messageView(row))));
    return {
      messages,
      seq: Math.max(afterSeq, ...messages.map((message) => message.seq)),
      hasMore: afterSeq > 0 && rows.length === CHAT_PAGE,
    };
  }

  async #say(
    ctx: Context,
    eventId: string,
    author: Author,
    { text: raw, messageId }: PostMessage,
    checkLimit: () => Promise<void>,
  ): Promise<ChatMessage> {
    const text = cleanChatMessage(raw);
    if (!text.ok) throw refusedField('text', `chat-text-${text.error.code}`, lengths(text.error));
    const key = { eventId, authorId: author.id, clientKey: messageId };
    const repeated = await this.database.house(ctx).findOne(ChatMessageEntity, key);
    if (repeated) return messageView(repeated);
    await checkLimit();
    const row = await this.database.inHouse(ctx, async (scope, manager) => {
      const seq = await nextSeq(manager, ctx, eventId);
      // The same message twice at once: the second waited in line behind the first.
      const first = await scope.findOne(ChatMessageEntity, key);
      if (first) return first;
      return scope.add(ChatMessageEntity, {
        ...key,
        id: newId(),
        author: author.name,
        byHouse: author.byHouse,
        text: text.value,
        atMs: this.clock.nowMs(),
        seq,
        hiddenBy: author.hiddenBy,
        hiddenWithPerson: author.hiddenBy !== null,
      });
    });
    const view = messageView(row);
    this.batches.add(ctx.houseId, eventId, view);
    return view;
  }
}

function requireOpen(state: ChatState): void {
  if (state !== 'open') throw new ProblemError(409, `chat-${state}`);
}

const lengths = (error: { readonly code: string } & Partial<Record<'length' | 'limit', number>>) => ({
  length: error.length ?? 0,
  limit: error.limit ?? 0,
});
