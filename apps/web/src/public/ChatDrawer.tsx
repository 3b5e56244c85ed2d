import { type FormEvent, useEffect, useRef, useState } from 'react';
import type { ChatMessage } from '@heliphon/contracts/chat';
import type { PublicEvent } from '@heliphon/contracts/public-event';
import { ApiError } from '../data/api.js';
import { randomId } from '../data/random-id.js';
import { useFollowEnd } from '../ui/useFollowEnd.js';
import { publicProblem } from '../words/public-problem.js';
import { type PublicChat, useChat } from './useChat.js';
import type { FollowedEvent } from './useEvent.js';
import { say } from '../words/say.js';

interface ChatDrawerProps {
  readonly event: PublicEvent;
  readonly followed: FollowedEvent;
}

/** The chat at the foot of the order sheet, closed until somebody opens it. */
export function ChatDrawer({ event, followed }: ChatDrawerProps) {
  const [isOpen, setOpen] = useState(false);
  const drawer = useRef<HTMLElement>(null);
  // On a phone it opens below what is in sight.
  useEffect(() => {
    if (isOpen) drawer.current?.scrollIntoView({ block: 'nearest' });
  }, [isOpen]);
  const chat = useChat(event, followed.socket);
  if (event.chat.state === 'off') return null;
  const talking = new Set(chat.log.messages.map((message) => message.author)).size;
  return (
    <section
      ref={drawer}
      aria-label={say('chat.title')}
      className={`flex flex-col border-t border-[var(--rule)] ${isOpen ? 'lg:min-h-[min(420px,75%)]' : ''}`}
    >
      <button
        type="button"
        aria-expanded={isOpen}
        onClick={() => setOpen(!isOpen)}
        className="flex shrink-0 min-h-[54px] w-full items-center justify-between px-5 font-semibold text-[var(--links)]"
      >
        <span>{talking > 0 ? say('chat.talking', { count: talking }) : say('chat.title')}</span>
        <span className="font-normal">{say(isOpen ? 'chat.close' : 'chat.open')}</span>
      </button>
      {isOpen && <ChatRoom event={event} chat={chat} isConnected={followed.isConnected} />}
    </section>
  );
}

function ChatRoom({
  event,
  chat,
  isConnected,
}: {
  event: PublicEvent;
  chat: PublicChat;
  isConnected: boolean;
}) {
  const shown = chat.log.messages.filter((message) => message.text !== null);
  const list = useFollowEnd<HTMLOListElement>(shown.at(-1)?.id);
  return (
    <div className="flex min-h-0 flex-1 flex-col gap-3 px-5 pb-4">
      <ol
        ref={list}
        aria-live="polite"
        aria-label={say('chat.messages')}
        tabIndex={0}
        className="grid min-h-16 flex-1 content-start max-lg:max-h-[34dvh] gap-2 overflow-y-auto text-[1.0625rem]"
      >
        {shown.length === 0 && <li className="text-ink-soft">{say('chat.noneYet')}</li>}
        {shown.map((message) => (
          <Line key={message.id} message={message} house={event.house.name} />
        ))}
      </ol>
      {!isConnected && (
        <p role="status" className="text-[0.9375rem] text-ink-soft">
          {say('chat.reconnecting')}
        </p>
      )}
      {event.chat.state === 'before' && (
        <p className="text-[0.9375rem] text-ink-soft">{say('chat.opensWithDoors')}</p>
      )}
      {event.chat.state === 'closed' && (
        <p className="text-[0.9375rem] text-ink-soft">{say('chat.closed')}</p>
      )}
      {event.chat.state === 'open' &&
        (chat.name === null ? <JoinForm event={event} chat={chat} /> : <WriteForm chat={chat} />)}
    </div>
  );
}

function Line({ message, house }: { message: ChatMessage; house: string }) {
  return (
    <li className="break-words whitespace-pre-line">
      <b data-look="names" className="text-[var(--names)]">
        {message.author}
      </b>
      {message.byHouse && (
        <span className="text-[0.9375rem] text-[var(--links)]"> {say('chat.ofHouse', { house })}</span>
      )}{' '}
      <bdi>{message.text}</bdi>
    </li>
  );
}

const INPUT = 'min-h-[46px] w-full rounded-md border border-edge bg-[var(--paper)] px-3';
const SEND =
  'min-h-[46px] rounded-md bg-[var(--house)] px-5 font-semibold text-[var(--house-ink)] disabled:opacity-60';

function JoinForm({ event, chat }: { event: PublicEvent; chat: PublicChat }) {
  const [name, setName] = useState('');
  const [accepts, setAccepts] = useState(false);
  const [error, setError] = useState<unknown>(null);
  const submit = (submitted: FormEvent): void => {
    submitted.preventDefault();
    setError(null);
    chat.join(name).catch(setError);
  };
  return (
    <form onSubmit={submit} className="grid gap-2">
      <label className="grid gap-1">
        <span className="font-semibold">{say('chat.yourName')}</span>
        <input
          className={INPUT}
          value={name}
          onChange={(typed) => setName(typed.target.value)}
          autoComplete="nickname"
        />
      </label>
      <label className="flex items-start gap-3 text-[1rem]">
        <input
          type="checkbox"
          className="mt-1 size-6 shrink-0"
          checked={accepts}
          onChange={(typed) => setAccepts(typed.target.checked)}
        />
        <span>{say('chat.keepRules', { rules: event.house.rules })}</span>
      </label>
      {error !== null && <Wrong error={error} />}
      <button type="submit" className={SEND} disabled={!accepts}>
        {say('chat.join')}
      </button>
    </form>
  );
}

/** What is typed stays until it has been taken. */
function WriteForm({ chat }: { chat: PublicChat }) {
  const [text, setText] = useState('');
  const [error, setError] = useState<unknown>(null);
  const [isSending, setSending] = useState(false);
  const waitSeconds = useWait(error);
  const messageId = useRef<string>(randomId());
  const submit = async (submitted: FormEvent): Promise<void> => {
    submitted.preventDefault();
    setSending(true);
    setError(null);
    try {
      await chat.post(text, messageId.current);
      messageId.current = randomId();
      setText('');
    } catch (failed) {
      setError(failed);
    } finally {
      setSending(false);
    }
  };
  return (
    <form onSubmit={(submitted) => void submit(submitted)} className="grid gap-2">
      <label className="grid gap-1">
        <span className="font-semibold">{say('chat.sayAs', { name: chat.name ?? '' })}</span>
        <textarea
          className={`${INPUT} min-h-[72px] py-2`}
          value={text}
          onChange={(typed) => setText(typed.target.value)}
          onKeyDown={(pressed) => {
            if (pressed.key === 'Enter' && !pressed.shiftKey) pressed.currentTarget.form?.requestSubmit();
            if (pressed.key === 'Enter' && !pressed.shiftKey) pressed.preventDefault();
          }}
        />
      </label>
      {error !== null && <Wrong error={error} />}
      <button type="submit" className={SEND} disabled={isSending || waitSeconds > 0 || text.trim() === ''}>
        {waitSeconds > 0 ? say('chat.sendIn', { seconds: waitSeconds }) : say('chat.send')}
      </button>
    </form>
  );
}

const Wrong = ({ error }: { error: unknown }) => (
  <p role="alert" className="text-[1rem] text-rust">
    {publicProblem(error)}
  </p>
);

/** Counts down what the limit asks somebody to wait. */
function useWait(error: unknown): number {
  const seconds = error instanceof ApiError ? Number(error.problem.params.seconds ?? 0) : 0;
  const [left, setLeft] = useState(0);
  useEffect(() => {
    setLeft(seconds);
    if (seconds === 0) return;
    const timer = window.setInterval(() => setLeft((now) => Math.max(0, now - 1)), 1000);
    return () => window.clearInterval(timer);
  }, [error, seconds]);
  return left;
}
