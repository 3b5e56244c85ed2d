import { lazy, StrictMode, Suspense, useCallback, useRef, useState } from 'react';
import { createRoot } from 'react-dom/client';
import type { PublicEvent } from '@heliphon/contracts/public-event';
import { HelpCheck } from './HelpCheck.js';
import { Reminder } from './Reminder.js';
import { TextSize } from './TextSize.js';
import { readTextSize, wearTextSize } from './text-size.js';
import { OrderSheet } from './OrderSheet.js';
import { Page } from './Page.js';
import { Stage } from './Stage.js';
import { StateLine } from './StateLine.js';
import { useOrder } from './useOrder.js';
import type { FollowedEvent, Presence } from './useEvent.js';
import { WATCH_TEXT } from '../words/public/watch.js';
import './public.css';

/** The order is words beside the picture: it comes when there is one. */
const OrderItems = lazy(() => import('./OrderItems.js').then((module) => ({ default: module.OrderItems })));
/** The chat is a drawer, closed until opened: it comes after the picture. */
const ChatDrawer = lazy(() => import('./ChatDrawer.js').then((module) => ({ default: module.ChatDrawer })));

function WatchPage({
  event,
  clockOffsetMs,
  followed,
}: {
  event: PublicEvent;
  clockOffsetMs: number;
  followed: FollowedEvent;
}) {
  const nowMs = useCallback(() => Date.now() + clockOffsetMs, [clockOffsetMs]);
  const order = useOrder(event, clockOffsetMs);
  const [dateMs, setDateMs] = useState<number | null>(null);
  const seek = useRef<(instantMs: number) => void>(undefined);
  const takeSeek = useCallback((given: (instantMs: number) => void) => (seek.current = given), []);
  const seekToDate = useCallback((instantMs: number) => seek.current?.(instantMs), []);
  const isStale = followed.view.status === 'here' && followed.view.isStale;
  return (
    <>
      {/* The picture stays in sight: beside it sheet and chat scroll in their own column; above them it holds to the top. */}
      <main className="mx-auto max-w-[1280px] gap-x-[22px] md:px-6 md:py-[18px] lg:grid lg:grid-cols-[minmax(0,846px)_minmax(300px,1fr)]">
        <div className="max-lg:contents">
          <StateLine event={event} />
          <div className="overflow-hidden max-lg:sticky max-lg:top-0 max-lg:z-10 md:rounded-md max-lg:landscape:static">
            <Stage
              event={event}
              clockOffsetMs={clockOffsetMs}
              onDenied={followed.refresh}
              chapters={order.changes.map(({ atMs, itemId }) => ({ atMs, title: order.titleOf(itemId) }))}
              onDate={setDateMs}
              onReady={takeSeek}
            />
          </div>
          <div className="flex flex-wrap items-center gap-x-5 px-4 md:px-0">
            <p className="flex min-h-[46px] grow items-center text-base text-[#4b4a44]" role="status">
              {isStale ? WATCH_TEXT.pictureMayCarryOn : presenceWords(event, followed.presence)}
            </p>
            {(event.state === 'planned' || event.state === 'doors') && (
              <Reminder event={event} nowMs={nowMs} />
            )}
            <TextSize />
            <HelpCheck event={event} />
          </div>
        </div>
        <OrderSheet
          event={event}
          order={
            order.items.length > 0 ? (
              <Suspense>
                <OrderItems
                  key={event.chat.eventId}
                  event={event}
                  items={order.items}
                  changes={order.changes}
                  dateMs={dateMs ?? nowMs()}
                  onGoTo={event.playback ? seekToDate : null}
                />
              </Suspense>
            ) : null
          }
        >
          {event.chat.state !== 'off' && (
            <Suspense>
              <ChatDrawer event={event} followed={followed} />
            </Suspense>
          )}
        </OrderSheet>
      </main>
      <footer className="p-2 text-center text-[0.9375rem] text-[#5d5a52]">
        {WATCH_TEXT.streamedWithHeliphon}
      </footer>
    </>
  );
}

function presenceWords(event: PublicEvent, presence: Presence | null): string {
  if (!presence) return '';
  if (event.state === 'air') return `${Math.max(1, presence.watching)} watching`;
  if (event.state !== 'doors') return '';
  return presence.here === 1 ? WATCH_TEXT.youAreTheFirstOne : WATCH_TEXT.peopleAreHereEarly(presence.here);
}

wearTextSize(readTextSize());
createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <Page>
      {(event, clockOffsetMs, followed) => (
        <WatchPage event={event} clockOffsetMs={clockOffsetMs} followed={followed} />
      )}
    </Page>
  </StrictMode>,
);
