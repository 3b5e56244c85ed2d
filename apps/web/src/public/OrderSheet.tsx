import type { ReactNode } from 'react';
import type { PublicEvent } from '@heliphon/contracts/public-event';
import { logoSource } from './house-look.js';
import { WATCH_TEXT } from '../words/public/watch.js';

interface OrderSheetProps {
  readonly event: PublicEvent;
  /** The order to follow; `null` where there is none: then the description stands here. */
  readonly order: ReactNode | null;
  readonly children: ReactNode;
}

/** The paper beside the picture: whose house it is, what is on, and the chat as a drawer at its foot. */
export function OrderSheet({ event, order, children }: OrderSheetProps) {
  const { house, channel, title, description } = event;
  return (
    <aside
      aria-label={`${house.name}, ${title}`}
      className="flex flex-col border border-t-[5px] border-[var(--rule)] border-t-[var(--house)] bg-[var(--paper)] max-md:border-x-0 md:rounded-[3px] lg:sticky lg:top-[18px] lg:h-[min(1000px,calc(100dvh-76px))] lg:min-h-[440px]"
    >
      <header className="flex items-center gap-3 px-5 pt-3.5 pb-2.5">
        {house.logoSvg && <img src={logoSource(house.logoSvg)} alt="" width={36} height={36} />}
        <p>
          <span className="block font-serif text-xl leading-tight font-semibold text-[var(--house)]">
            {house.name}
          </span>
          <span className="block text-[0.9375rem] text-[#55534c]">{title}</span>
        </p>
      </header>
      <div
        className="lg:min-h-0 lg:flex-1 lg:overflow-y-auto"
        role="region"
        aria-label={WATCH_TEXT.whatItIsAbout}
        tabIndex={0}
      >
        {channel && (
          <p className="px-5">
            <a className="public-link" href={`/channel/${channel.slug}`}>
              {WATCH_TEXT.moreFrom(channel.name)}
            </a>
          </p>
        )}
        {(description || !order) && (
          <div className="px-5 py-2 font-serif text-[1.1875rem] leading-normal whitespace-pre-line">
            {description || WATCH_TEXT.thereIsNoDescriptionYet}
          </div>
        )}
        {order}
      </div>
      {children}
    </aside>
  );
}
