import { type ReactNode, useState } from 'react';
import type { PublicChannel, PublicGlance, PublicReplay } from '@heliphon/contracts/channels';
import type { Page } from '@heliphon/contracts/problem';
import { dayAndTime, duration, longDay, shortDay, timeOfDay } from '@heliphon/contracts/time-words';
import { ask } from '../data/api.js';
import { Mark } from '../ui/Mark.js';
import { logoSource } from './house-look.js';
import { CHANNEL_TEXT } from '../words/public/channel.js';

/** What is on in a part of the house, what is coming, and what can be watched again. */
export function ChannelPage({ channel, path }: { channel: PublicChannel; path: string }) {
  const { house, present, coming } = channel;
  const isBare = present.length + coming.length + channel.replays.items.length === 0;
  return (
    <>
      <main className="mx-auto max-w-[860px] border-t-[5px] border-[var(--house)] bg-[var(--paper)] px-4 py-5 md:my-[18px] md:px-8">
        <header className="flex items-center gap-3">
          {house.logoSvg && <img src={logoSource(house.logoSvg)} alt="" width={44} height={44} />}
          <div>
            <h1 className="text-[1.8125rem] leading-tight text-[var(--house)]">{channel.name}</h1>
            <p className="text-base text-[#55534c]">{house.name}</p>
          </div>
        </header>
        {channel.description && (
          <p className="mt-3 font-serif text-[1.1875rem] whitespace-pre-line">{channel.description}</p>
        )}
        {present.map((event) => (
          <Present key={event.slug} event={event} />
        ))}
        {isBare && <p className="mt-6">{CHANNEL_TEXT.nothingIsPlannedHereYet}</p>}
        {coming.length > 0 && (
          <Part name="Coming">
            {coming.map((event) => (
              <Entry
                key={event.slug}
                slug={event.slug}
                title={event.title}
                posterUrl={event.posterUrl}
                atMs={event.startsAtMs}
                words={
                  event.state === 'cancelled'
                    ? CHANNEL_TEXT.willNotTakePlace(dayAndTime(event.startsAtMs))
                    : `${longDay(event.startsAtMs)}, ${timeOfDay(event.startsAtMs)} to ${timeOfDay(event.endsAtMs)}`
                }
              />
            ))}
            <p>
              <a className="public-link" href={`${path}/calendar.ics`}>
                {CHANNEL_TEXT.addAllOfItTo}
              </a>
            </p>
          </Part>
        )}
        <Replays first={channel.replays} path={path} />
      </main>
      <footer className="p-2 text-center text-[0.9375rem] text-[#5d5a52]">
        {CHANNEL_TEXT.streamedWithHeliphon}
      </footer>
    </>
  );
}

/** With its doors open or on air: the one thing that people come for now. */
function Present({ event }: { event: PublicGlance }) {
  const isOnAir = event.state === 'air';
  return (
    <a
      href={`/watch/${event.slug}`}
      className="mt-5 block items-stretch overflow-hidden rounded-md border-2 border-[var(--house)] bg-white hover:underline md:flex"
    >
      {event.posterUrl && (
        <img src={event.posterUrl} alt="" className="aspect-video w-full object-cover md:w-[56%]" />
      )}
      <span className="flex flex-1 flex-wrap content-center items-center gap-x-4 gap-y-2 p-4">
        <span className="flex items-center gap-2 rounded-md bg-[var(--house)] py-1 pr-3 pl-2 font-semibold text-[var(--house-ink)]">
          <span className="text-[var(--house-warm)]">
            <Mark name={isOnAir ? 'air' : 'doors'} inherit />
          </span>
          {isOnAir ? CHANNEL_TEXT.onAirNow : CHANNEL_TEXT.doorsAreOpenStartingAt(timeOfDay(event.startsAtMs))}
        </span>
        <b className="font-serif text-xl">{event.title}</b>
        <span className="font-semibold underline underline-offset-4">
          {isOnAir ? CHANNEL_TEXT.watchIt : CHANNEL_TEXT.comeIn}
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
    <Part name={CHANNEL_TEXT.watchAgain}>
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
            {CHANNEL_TEXT.showEarlierOnes}
          </button>
          {isAway && <span role="alert"> {CHANNEL_TEXT.weCannotBeReachedAt}</span>}
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
        className="aspect-video w-[128px] shrink-0 rounded-[3px] object-cover"
      />
    ) : (
      <span
        aria-hidden="true"
        className="grid aspect-video w-[128px] shrink-0 place-items-center rounded-[3px] bg-[var(--house)] font-serif text-[1.375rem] font-semibold text-[var(--house-ink)]"
      >
        {shortDay(atMs).replace(/^\w+ /, '')}
      </span>
    )}
    <span>
      <span className="block font-semibold">{title}</span>
      <span className="block text-base text-[#55534c]">{words}</span>
    </span>
  </a>
);
