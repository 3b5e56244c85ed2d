import { useState } from 'react';
import type { ChatPerson } from '@heliphon/contracts/chat';
import { useChatPeople, useSaidBy } from '../../data/chat.js';
import { useZone } from '../../data/session.js';
import { Failed, Loading } from '../../ui/states.js';
import { timeOfDay } from '@heliphon/contracts/time-words';
import { DESK_TEXT } from '../../words/console/desk.js';

interface ChatPeopleProps {
  readonly eventId: string;
  /** Somebody whose words are looked up at once. */
  readonly openId: string | null;
  readonly onHide: (personId: string, hidden: boolean) => void;
}

/** Who is here, what each has said, and the means to hide somebody with all of it. */
export function ChatPeople({ eventId, openId, onHide }: ChatPeopleProps) {
  const { data, error, mutate } = useChatPeople(eventId);
  const [chosen, setChosen] = useState<string | null>(openId);
  if (error) return <Failed error={error} onRetry={() => void mutate()} />;
  if (!data) return <Loading what={DESK_TEXT.thePeople} rows={2} />;
  if (data.items.length === 0) return <p className="text-ink-soft">{DESK_TEXT.nobodyHasJoinedTheChat}</p>;
  return (
    <ul
      aria-label={DESK_TEXT.whoIsHere}
      className="grid min-h-0 flex-1 content-start gap-1 overflow-y-auto"
      tabIndex={0}
    >
      {data.items.map((person) => (
        <PersonRow
          key={person.id}
          eventId={eventId}
          person={person}
          isOpen={chosen === person.id}
          onToggle={() => setChosen(chosen === person.id ? null : person.id)}
          onHide={(hidden) => {
            onHide(person.id, hidden);
            void mutate();
          }}
        />
      ))}
    </ul>
  );
}

interface PersonRowProps {
  readonly eventId: string;
  readonly person: ChatPerson;
  readonly isOpen: boolean;
  readonly onToggle: () => void;
  readonly onHide: (hidden: boolean) => void;
}

function PersonRow({ eventId, person, isOpen, onToggle, onHide }: PersonRowProps) {
  const isHidden = person.hiddenBy !== null;
  return (
    <li>
      <div className="flex items-center gap-2">
        <button
          type="button"
          aria-expanded={isOpen}
          onClick={onToggle}
          className="min-h-7 min-w-0 flex-1 truncate text-left"
        >
          <b className={isHidden ? 'line-through' : ''}>{person.name}</b>{' '}
          <span className="text-[13px] text-ink-soft">
            {person.messages === 1 ? DESK_TEXT.said1Thing : DESK_TEXT.saidThings(person.messages)}
            {isHidden && DESK_TEXT.commaHiddenBy(person.hiddenBy ?? DESK_TEXT.theHouse)}
          </span>
        </button>
        <button
          type="button"
          className="min-h-6 shrink-0 px-1.5 text-[13px] text-pine underline underline-offset-2"
          onClick={() => onHide(!isHidden)}
        >
          {isHidden ? DESK_TEXT.putBack : 'hide'}
          <span className="sr-only"> {person.name}</span>
        </button>
      </div>
      {isOpen && <SaidBefore eventId={eventId} personId={person.id} />}
    </li>
  );
}

function SaidBefore({ eventId, personId }: { eventId: string; personId: string }) {
  const zone = useZone();
  const { data } = useSaidBy(eventId, personId);
  return (
    <ul className="mb-1 ml-3 border-l-2 border-line pl-2 text-[13px]">
      {data?.messages.length === 0 && <li className="text-ink-soft">{DESK_TEXT.hasNotSaidAnythingYet}</li>}
      {data?.messages.map((message) => (
        <li key={message.id}>
          <span className="figures text-ink-soft">{timeOfDay(message.atMs, zone)}</span>{' '}
          {message.hiddenBy === null ? message.text : <s>{message.text}</s>}
        </li>
      ))}
    </ul>
  );
}
