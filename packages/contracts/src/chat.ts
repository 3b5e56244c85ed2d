/** A message as everybody sees it; of a hidden one only moderators get the text. */
export interface ChatMessage {
  readonly id: string;
  /** Rises with every message and with every change of one: `?after=` takes it. */
  readonly seq: number;
  readonly author: string;
  /** Who wrote it, for moderators to look up; the public gets none. */
  readonly authorId: string | null;
  /** Written by the house itself, from the desk. */
  readonly byHouse: boolean;
  readonly text: string | null;
  readonly atMs: number;
  readonly hiddenBy: string | null;
}

/** Somebody who joined a chat, as moderators see them. */
export interface ChatPerson {
  readonly id: string;
  readonly name: string;
  readonly joinedAtMs: number;
  readonly messages: number;
  readonly hiddenBy: string | null;
}

export interface JoinChat {
  readonly name: string;
  readonly acceptsRules: true;
}

/** `token` is a bearer value for this event's chat, kept by the browser; never a cookie. */
export interface JoinedChat {
  readonly token: string;
  readonly name: string;
}

export interface PostMessage {
  readonly text: string;
  /** Made by the sender: a repeat after a broken connection posts nothing twice. */
  readonly messageId: string;
}

export interface ChatPage {
  readonly messages: readonly ChatMessage[];
  readonly seq: number;
  /** There is more after `seq`. */
  readonly hasMore: boolean;
}
