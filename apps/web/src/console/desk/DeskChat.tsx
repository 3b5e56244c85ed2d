import { type FormEvent, useEffect, useRef, useState } from 'react';
import type { ChatMessage } from '@heliphon/contracts/chat';
import type { EventView } from '@heliphon/contracts/events';
import { useCan, useSession } from '../../data/house.js';
import { useLive } from '../../data/live.js';
import { randomId } from '../../data/random-id.js';
import { Button } from '../../ui/Button.js';
import { Fault } from '../../ui/states.js';
import { ChatPeople } from './ChatPeople.js';
import { useDeskChat } from './useDeskChat.js';

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
  const list = useRef<HTMLOListElement>(null);
  useEffect(() => {
    list.current?.scrollTo({ top: list.current.scrollHeight });
  }, [messages.length]);
  const talking = new Set(messages.map((message) => message.author)).size;
  const isOpen = event.chatOpen && (event.state === 'doors' || event.state === 'air');
  const shownError = error ?? chat.error;
  return (
    <section aria-label="Chat" className="flex min-h-[150px] flex-1 flex-col border-t border-line">
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
              {people ? 'What is said' : 'Who is here'}
            </button>
          )}
          {!isAlone && (
            <a
              className="min-h-6 px-1.5 text-pine underline underline-offset-2"
              href={`/events/${event.id}/chat`}
              target={`chat-${event.id}`}
            >
              In its own window
            </a>
          )}
        </span>
      </h2>
      {people && <ChatPeople eventId={event.id} openId={people.openId} onHide={hidePerson} />}
      <ol
        ref={list}
        hidden={people !== null}
        aria-live="polite"
        aria-label="Messages"
        tabIndex={0}
        className="grid min-h-0 flex-1 content-start gap-1.5 overflow-y-auto [&[hidden]]:hidden"
      >
        {messages.length === 0 && <li className="text-ink-soft">{emptyWords(event)}</li>}
        {messages.map((message) => (
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
        ))}
      </ol>
      {!isConnected && (
        <p className="text-[13px] text-plum">The chat is reconnecting. What you type is kept.</p>
      )}
      <Fault error={shownError} isSmall />
      {isOpen && canModerate && <Answer onAnswer={chat.answer} />}
    </section>
  );
}

function emptyWords(event: EventView): string {
  if (!event.chatOpen) return 'There is no chat at this event.';
  return event.state === 'planned' ? 'The chat opens with the doors.' : 'Nobody has said anything yet.';
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
            <span className="sr-only">, see what they said before</span>
          </button>
        ) : (
          <b>{message.author}</b>
        )}{' '}
        {message.byHouse && <span className="text-[13px] text-pine">of the house </span>}
        {isHidden ? <s>{message.text}</s> : message.text}
        {isHidden && <span> · hidden by {message.hiddenBy || 'the house'}</span>}
      </span>
      {canModerate && (
        <button
          type="button"
          aria-label={`${isHidden ? 'Put back' : 'Hide'} the message of ${message.author}`}
          className="min-h-6 shrink-0 px-1.5 text-[13px] text-pine underline underline-offset-2"
          onClick={() => onHide(!isHidden)}
        >
          {isHidden ? 'put back' : 'hide'}
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
  return (
    <form onSubmit={(event) => void submit(event)} className="grid gap-1 pt-2">
      <Fault error={error} isSmall />
      <div className="flex gap-2">
        <label className="flex-1">
          <span className="sr-only">Answer as {session?.house.name}</span>
          <input
            value={text}
            placeholder={`Answer as ${session?.house.name ?? 'the house'}`}
            onChange={(typed) => setText(typed.target.value)}
            className="min-h-11 w-full rounded-md border border-edge bg-surface px-3 placeholder:text-ink-soft"
          />
        </label>
        <Button large type="submit" disabled={text.trim() === ''}>
          Send
        </Button>
      </div>
    </form>
  );
}
