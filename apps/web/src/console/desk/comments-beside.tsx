import type { ChatMessage } from '@heliphon/contracts/chat';
import type { EventView } from '@heliphon/contracts/events';
import type { PostingCommentView } from '@heliphon/contracts/postings';
import { useComments } from '../../data/comments.js';
import { useDestinations } from '../../data/destinations.js';
import { DESK_TEXT } from '../../words/console/desk.js';

type ChatLine =
  | { readonly kind: 'message'; readonly said: ChatMessage }
  | { readonly kind: 'comment'; readonly said: PostingCommentView };

/** The chat with what is said under the postings of the event, in order of time. */
export function useWithComments(event: EventView, messages: readonly ChatMessage[]): readonly ChatLine[] {
  const { data } = useComments(event.id, event.state === 'air' || event.state === 'doors');
  const lines: ChatLine[] = messages.map((said) => ({ kind: 'message', said }));
  if (!data || data.items.length === 0) return lines;
  const comments = data.items.map((said): ChatLine => ({ kind: 'comment', said }));
  return [...lines, ...comments].toSorted((a, b) => a.said.atMs - b.said.atMs);
}

/** Said elsewhere: it can be read here, and answered there. */
export function CommentLine({ comment: { author, text, destinationId } }: { comment: PostingCommentView }) {
  const { data } = useDestinations();
  const place = data?.items.find(({ id }) => id === destinationId)?.name ?? DESK_TEXT.aPlace;
  return (
    <li className="leading-snug break-words whitespace-pre-line">
      <b>{author}</b> <span className="text-[13px] text-plum">{DESK_TEXT.saidAt(place)}</span> {text}
    </li>
  );
}
