import { lazy, type ReactNode, Suspense } from 'react';
import type { PublicEvent } from '@heliphon/contracts/public-event';
import { Logo } from './Logo.js';
import { say } from '../words/say.js';

/** Most houses have the sheet alone. */
const Companions = lazy(() => import('./Companions.js').then((module) => ({ default: module.Companions })));

interface OrderSheetProps {
  readonly event: PublicEvent;
  /** The order to follow; `null` where there is none: then the description stands here. */
  readonly order: ReactNode | null;
  readonly children: ReactNode;
}

/** The paper beside the picture: whose house it is, what is on, and the chat as a drawer at its foot. */
export function OrderSheet({ event, order, children }: OrderSheetProps) {
  const { house, look, channel, clipOf, title, description } = event;
  const { companions } = look;
  const at = companions.indexOf('sheet');
  const before = companions.slice(0, Math.max(0, at));
  const after = companions.slice(at + 1);
  return (
    <aside
      aria-label={`${house.name}, ${title}`}
      className="flex flex-col border border-t-[5px] border-[var(--rule)] border-t-[var(--house)] bg-[var(--paper)] max-md:border-x-0 md:rounded-md lg:sticky lg:top-[18px] lg:h-[min(1000px,calc(100dvh-76px))] lg:min-h-[440px]"
    >
      <header className="flex items-center gap-3 px-5 pt-3.5 pb-2.5">
        <Logo look={look} />
        <p>
          <span
            data-look="links"
            className="block font-serif text-xl leading-tight font-semibold text-[var(--links)]"
          >
            {house.name}
          </span>
          <span className="block text-[0.9375rem] text-ink-soft">{title}</span>
        </p>
      </header>
      <div
        className="lg:min-h-0 lg:flex-1 lg:overflow-y-auto"
        role="region"
        aria-label={say('sheet.about')}
        tabIndex={0}
      >
        {clipOf && (
          <p className="px-5">
            {say('sheet.clipOf')}{' '}
            <a className="public-link" href={`/watch/${clipOf.slug}`}>
              {clipOf.title}
            </a>
          </p>
        )}
        {channel && (
          <p className="px-5">
            <a className="public-link" href={`/channel/${channel.slug}`}>
              {say('sheet.moreFrom', { channel: channel.name })}
            </a>
          </p>
        )}
        {before.length > 0 && (
          <Suspense>
            <Companions event={event} kinds={before} />
          </Suspense>
        )}
        {at >= 0 && (
          <>
            {(description || !order) && (
              <div
                dir="auto"
                className="px-5 py-2 font-serif text-[1.1875rem] leading-normal whitespace-pre-line"
              >
                {description || say('sheet.noDescription')}
              </div>
            )}
            {order}
          </>
        )}
        {after.length > 0 && (
          <Suspense>
            <Companions event={event} kinds={after} />
          </Suspense>
        )}
      </div>
      {children}
    </aside>
  );
}
