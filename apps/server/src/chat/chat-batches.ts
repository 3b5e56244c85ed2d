import { Injectable, type OnApplicationShutdown } from '@nestjs/common';
import type { ChatMessage } from '@heliphon/contracts/chat';
import { FanOut, type Topic } from '../platform/shared/fan-out.js';

export interface ChatBatch {
  readonly houseId: string;
  readonly eventId: string;
  readonly messages: readonly ChatMessage[];
}

/** What was said, or has changed, in one room. */
export const CHAT_SAID: Topic<ChatBatch> = { name: 'chat-said' };

/** However fast a room talks, its readers hear of it at most ten times a second; after a pause, at once. */
export const BATCH_EVERY_MS = 100;

/** Gathers what is said, to be told in batches. */
@Injectable()
export class ChatBatches implements OnApplicationShutdown {
  readonly #waiting = new Map<string, { houseId: string; messages: ChatMessage[] }>();
  #timer: NodeJS.Timeout | null = null;
  #toldAtMs = -Infinity;

  constructor(private readonly fanOut: FanOut) {}

  add(houseId: string, eventId: string, message: ChatMessage): void {
    const batch = this.#waiting.get(eventId) ?? { houseId, messages: [] };
    batch.messages.push(message);
    this.#waiting.set(eventId, batch);
    const dueMs = this.#toldAtMs + BATCH_EVERY_MS - performance.now();
    this.#timer ??= setTimeout(() => this.#tell(), Math.max(0, dueMs));
  }

  onApplicationShutdown(): void {
    if (this.#timer) clearTimeout(this.#timer);
  }

  #tell(): void {
    this.#timer = null;
    this.#toldAtMs = performance.now();
    for (const [eventId, { houseId, messages }] of this.#waiting)
      this.fanOut.tell(CHAT_SAID, { houseId, eventId, messages });
    this.#waiting.clear();
  }
}
