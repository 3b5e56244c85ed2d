import { type ReactNode, useState } from 'react';
import type { PublicChannel, PublicGlance, PublicReplay } from '@heliphon/contracts/channels';
import type { Page } from '@heliphon/contracts/problem';
import { dayAndTime, dayFromTo, dayOfMonth, duration, longDay, timeOfDay } from '../words/public-time.js';
import { ask } from '../data/api.js';
import { Mark } from '../ui/Mark.js';
import { Logo } from './Logo.js';
import { Foot } from './Foot.js';
import { say } from '../words/say.js';

/** What is on in a part of the house, what is coming, and what can be watched again. */
export function ChannelPage({ channel, path }: { channel: PublicChannel; path: string }) {
  const { house, look, present, coming } = channel;
  const isBare = present.length + coming.length + channel.replays.items.length === 0;
  return (
    <>
      <main className="mx-auto max-w-[860px] border-t-[5px] border-[var(--house)] bg-[var(--paper)] px-4 py-5 md:my-[18px] md:px-8">
        <header className="flex items-center gap-3">
          <Logo look={look} />
          <div>
            <h1 className="text-[1.8125rem] leading-tight text-[var(--links)]">{channel.name}</h1>
            <p className="text-base text-ink-soft">{house.name}</p>
          </div>
        </header>
        {channel.description && (
          <p dir="auto" className="mt-3 font-serif text-[1.1875rem] whitespace-pre-line">
            {channel.description}
          </p>
        )}
        {present.map((event) => (
          <Present key={event.slug} event={event} />
        ))}
        {isBare && <p className="mt-6">{say('channel.nothingYet')}</p>}
        {coming.length > 0 && (
          <Part name={say('channel.coming')}>
            {coming.map((event) => (
              <Entry
                key={event.slug}
                slug={event.slug}
                title={event.title}
                posterUrl={event.posterUrl}
                atMs={event.startsAtMs}
                words={
                  event.state === 'cancelled'
                    ? say('channel.willNotTakePlace', { when: dayAndTime(event.startsAtMs) })
                    : dayFromTo(event.startsAtMs, event.endsAtMs)
                }
              />
            ))}
            <p>
              <a className="public-link" href={`${path}/calendar.ics`}>
                {say('channel.addAll')}
              </a>
            </p>
          </Part>
        )}
        <Replays first={channel.replays} path={path} />
      </main>
      <Foot look={channel.look} house={channel.house} />
    </>
  );
}

/** With its doors open or on air: the one thing that people come for now. */
function Present({ event }: { event: PublicGlance }) {
  const isOnAir = event.state === 'air';
  return (
    <a
      href={`/watch/${event.slug}`}
      className="mt-5 block items-stretch overflow-hidden rounded-md border-2 border-[var(--house)] bg-[var(--paper)] hover:underline md:flex"
    >
      {event.posterUrl && (
        <img src={event.posterUrl} alt="" className="aspect-video w-full object-cover md:w-[56%]" />
      )}
      <span className="flex flex-1 flex-wrap content-center items-center gap-x-4 gap-y-2 p-4">
        <span className="flex items-center gap-2 rounded-md bg-[var(--house)] py-1 ps-2 pe-3 font-semibold text-[var(--house-ink)]">
          <span className="text-[var(--mark)]">
            <Mark name={isOnAir ? 'air' : 'doors'} inherit />
          </span>
          {isOnAir ? say('event.onAir') : say('channel.doorsOpen', { time: timeOfDay(event.startsAtMs) })}
        </span>
        <b className="font-serif text-xl">{event.title}</b>
        <span className="font-semibold underline underline-offset-4">
          {isOnAir ? say('channel.watchIt') : say('channel.comeIn')}
        </span>
      </span>
    </a>
  );
}

function Replays({ first, path }: { first: Page<PublicReplay>; path: string }) {
  const [more, setMore] = useState<Page<PublicReplay> | null>(null);
  const [isAway, setAway] = useState(false);
  const items = [...first.items, ...(more?.items ?? [])];
  const next = more ? more.next : first.next;
  if (items.length === 0) return null;
  const showMore = async (after: string): Promise<void> => {
    try {
      const page = await ask<Page<PublicReplay>>(`${path}/replays?after=${encodeURIComponent(after)}`);
      setMore({ items: [...(more?.items ?? []), ...page.items], next: page.next });
      setAway(false);
    } catch {
      setAway(true);
    }
  };
  return (
    <Part name={say('channel.watchAgain')}>
      {items.map((replay) => (
        <Entry
          key={replay.slug}
          slug={replay.slug}
          title={replay.title}
          posterUrl={replay.posterUrl}
          atMs={replay.airAtMs}
          words={`${longDay(replay.airAtMs)}, ${duration(replay.durationMs)}`}
        />
      ))}
      {next && (
        <p>
          <button type="button" className="public-button" onClick={() => void showMore(next)}>
            {say('channel.showEarlier')}
          </button>
          {isAway && <span role="alert"> {say('channel.cannotBeReached')}</span>}
        </p>
      )}
    </Part>
  );
}

const Part = ({ name, children }: { name: string; children: ReactNode }) => (
  <section aria-label={name} className="mt-7">
    <h2 className="border-b border-[var(--rule)] pb-1 text-[1.375rem]">{name}</h2>
    {children}
  </section>
);

const Entry = ({
  slug,
  title,
  posterUrl,
  atMs,
  words,
}: Pick<PublicReplay, 'slug' | 'title' | 'posterUrl'> & { atMs: number; words: string }) => (
  <a
    href={`/watch/${slug}`}
    className="flex min-h-[46px] items-center gap-4 border-b border-[var(--rule)] py-3 hover:underline"
  >
    {posterUrl ? (
      <img
        src={posterUrl.replace('1280', '640')}
        alt=""
        className="aspect-video w-[128px] shrink-0 rounded-md object-cover"
      />
    ) : (
      <span
        aria-hidden="true"
        className="grid aspect-video w-[128px] shrink-0 place-items-center rounded-md bg-[var(--house)] font-serif text-[1.375rem] font-semibold text-[var(--house-ink)]"
      >
        {dayOfMonth(atMs)}
      </span>
    )}
    <span>
      <span className="block font-semibold">{title}</span>
      <span className="block text-base text-ink-soft">{words}</span>
    </span>
  </a>
);
