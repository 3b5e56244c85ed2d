import { Injectable } from '@nestjs/common';

/** A subject that is told of, and what is told: plain data, since it may travel to other servers. */
export interface Topic<T extends object> {
  readonly name: string;
  /** Never set: it ties the name to its messages. */
  readonly message?: T;
}

/**
 * Tells every server of an installation what one of them has done, each message once and in the order of its sender.
 * In memory while there is one server.
 */
export abstract class FanOut {
  abstract tell<T extends object>(topic: Topic<T>, message: T): void;
  /** @returns how to stop listening */
  abstract listen<T extends object>(topic: Topic<T>, listener: (message: T) => void): () => void;
}

@Injectable()
export class FanOutInMemory extends FanOut {
  readonly #listeners = new Map<string, Set<(message: never) => void>>();

  override tell<T extends object>({ name }: Topic<T>, message: T): void {
    for (const listener of this.#listeners.get(name) ?? []) (listener as (message: T) => void)(message);
  }

  override listen<T extends object>({ name }: Topic<T>, listener: (message: T) => void): () => void {
    const listeners = this.#listeners.get(name) ?? new Set();
    this.#listeners.set(name, listeners.add(listener));
    return () => listeners.delete(listener);
  }
}
