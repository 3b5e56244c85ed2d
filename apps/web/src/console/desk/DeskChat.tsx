import { type FormEvent, useRef, useState } from 'react';
import type { ChatMessage } from '@heliphon/contracts/chat';
import type { EventView } from '@heliphon/contracts/events';
import { useCan, useSession } from '../../data/session.js';
import { useLive } from '../../data/live.js';
import { randomId } from '../../data/random-id.js';
import { Button } from '../../ui/Button.js';
import { useFollowEnd } from '../../ui/useFollowEnd.js';
import { Fault } from '../../ui/states.js';
import { useKey } from '../../ui/useKey.js';
import { ChatPeople } from './ChatPeople.js';
import { CommentLine, useWithComments } from './comments-beside.js';
import { useDeskChat } from './useDeskChat.js';
import { DESK_TEXT } from '../../words/console/desk.js';

/** Chat beside the picture: read it, answer as the house, hide and put back. */
export function DeskChat({ event, isAlone = false }: { event: EventView; isAlone?: boolean }) {
  const chat = useDeskChat(event.id);
  const { isConnected } = useLive();
  const canModerate = useCan('chat.moderate');
  const { messages } = chat.log;
  const [error, setError] = useState<unknown>(null);
  const [people, setPeople] = useState<{ openId: string | null } | null>(null);
  const hidePerson = (personId: string, hidden: boolean): void => {
    setError(null);
    chat.setPersonHidden(personId, hidden).catch(setError);
  };
  const lines = useWithComments(event, messages);
  const list = useFollowEnd<HTMLOListElement>(lines.at(-1)?.said.id);
  const talking = new Set(messages.map((message) => message.author)).size;
  const isOpen = event.chatOpen && (event.state === 'doors' || event.state === 'air');
  const shownError = error ?? chat.error;
  return (
    <section
      aria-label={DESK_TEXT.chat}
      className="flex min-h-[130px] lg:max-xl:min-h-[112px] flex-1 flex-col border-t border-line"
    >
      <h2 className="flex items-baseline justify-between pt-2 pb-1 text-[17px]">
        <span>
          Chat{' '}
          <span className="font-sans text-sm font-normal text-ink-soft">
            {talking > 0 ? `${talking} talking` : ''}
          </span>
        </span>
        <span className="flex items-baseline gap-1 font-sans text-[13px] font-normal">
          {canModerate && (
            <button
              type="button"
              aria-pressed={people !== null}
              className="min-h-6 px-1.5 text-pine underline underline-offset-2"
              onClick={() => setPeople(people ? null : { openId: null })}
            >
              {people ? 'Messages' : DESK_TEXT.whoIsHere}
            </button>
          )}
          {!isAlone && (
            <a
              className="min-h-6 px-1.5 text-pine underline underline-offset-2"
              href={`/events/${event.id}/chat`}
              target={`chat-${event.id}`}
            >
              {DESK_TEXT.inItsOwnWindow}
            </a>
          )}
        </span>
      </h2>
      {people && <ChatPeople eventId={event.id} openId={people.openId} onHide={hidePerson} />}
      <ol
        ref={list}
        hidden={people !== null}
        aria-live="polite"
        aria-label={DESK_TEXT.messages}
        tabIndex={0}
        className="grid min-h-0 flex-1 content-start gap-1.5 overflow-y-auto [&[hidden]]:hidden"
      >
        {lines.length === 0 && <li className="text-ink-soft">{emptyWords(event)}</li>}
        {lines.map((line) => {
          if (line.kind === 'comment') return <CommentLine key={line.said.id} comment={line.said} />;
          const message = line.said;
          return (
            <Line
              key={message.id}
              message={message}
              canModerate={canModerate}
              onLookUp={() => setPeople({ openId: message.authorId })}
              onHide={(hidden) => {
                setError(null);
                chat.setHidden(message, hidden).catch(setError);
              }}
            />
          );
        })}
      </ol>
      {!isConnected && <p className="text-[13px] text-plum">{DESK_TEXT.theChatIsReconnectingYour}</p>}
      <Fault error={shownError} isSmall />
      {isOpen && canModerate && <Answer onAnswer={chat.answer} />}
    </section>
  );
}

function emptyWords(event: EventView): string {
  if (!event.chatOpen) return DESK_TEXT.thereIsNoChatAt;
  return event.state === 'planned' ? DESK_TEXT.theChatOpensWithThe : DESK_TEXT.noMessagesYet;
}

interface LineProps {
  readonly message: ChatMessage;
  readonly canModerate: boolean;
  readonly onHide: (hidden: boolean) => void;
  readonly onLookUp: () => void;
}

function Line({ message, canModerate, onHide, onLookUp }: LineProps) {
  const isHidden = message.hiddenBy !== null;
  return (
    <li className={`group flex items-start gap-2 leading-snug ${isHidden ? 'text-ink-soft' : ''}`}>
      <span className="min-w-0 flex-1 break-words whitespace-pre-line">
        {canModerate && !message.byHouse ? (
          <button type="button" className="font-bold hover:underline" onClick={onLookUp}>
            {message.author}
            <span className="sr-only">{DESK_TEXT.seeTheirEarlierMessages}</span>
          </button>
        ) : (
          <b>{message.author}</b>
        )}{' '}
        {message.byHouse && <span className="text-[13px] text-pine">{DESK_TEXT.ofTheHouse} </span>}
        {isHidden ? <s>{message.text}</s> : message.text}
        {isHidden && <span> {DESK_TEXT.hiddenBy(message.hiddenBy || DESK_TEXT.theHouse)}</span>}
      </span>
      {canModerate && (
        <button
          type="button"
          aria-label={
            isHidden
              ? DESK_TEXT.putBackTheMessageOf(message.author)
              : DESK_TEXT.hideTheMessageOf(message.author)
          }
          className="min-h-6 shrink-0 px-1.5 text-[13px] text-pine underline underline-offset-2"
          onClick={() => onHide(!isHidden)}
        >
          {isHidden ? DESK_TEXT.putBack : 'hide'}
        </button>
      )}
    </li>
  );
}

/** What is typed stays until it has been taken. */
function Answer({ onAnswer }: { onAnswer: (text: string, messageId: string) => Promise<void> }) {
  const { data: session } = useSession();
  const [text, setText] = useState('');
  const [error, setError] = useState<unknown>(null);
  const messageId = useRef<string>(randomId());
  const field = useRef<HTMLInputElement>(null);
  useKey('c', () => field.current?.focus());
  const submit = async (event: FormEvent): Promise<void> => {
    event.preventDefault();
    setError(null);
    try {
      await onAnswer(text, messageId.current);
      messageId.current = randomId();
      setText('');
    } catch (failed) {
      setError(failed);
    }
  };
  const answerAs = DESK_TEXT.answerAs(session?.house.name ?? DESK_TEXT.theHouse);
  return (
    <form onSubmit={(event) => void submit(event)} className="grid gap-1 pt-2">
      <Fault error={error} isSmall />
      <div className="flex gap-2">
        <label className="flex-1">
          <span className="sr-only">{answerAs}</span>
          <input
            ref={field}
            value={text}
            placeholder={answerAs}
            onChange={(typed) => setText(typed.target.value)}
            className="min-h-11 w-full rounded-md border border-edge bg-surface px-3 placeholder:text-ink-soft"
          />
        </label>
        <Button large type="submit" disabled={text.trim() === ''}>
          {DESK_TEXT.send}
        </Button>
      </div>
    </form>
  );
}
