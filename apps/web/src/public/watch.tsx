import { lazy, StrictMode, Suspense, useCallback, useRef, useState } from 'react';
import { createRoot } from 'react-dom/client';
import type { PublicEvent } from '@heliphon/contracts/public-event';
import { walkByArrows } from './arrow-ways.js';
import { Foot } from './Foot.js';
import { HelpCheck } from './HelpCheck.js';
import { Reminder } from './Reminder.js';
import { TextSize } from './TextSize.js';
import { readTextSize, wearTextSize } from './text-size.js';
import type { OrderItems as Items } from './OrderItems.js';
import { OrderSheet } from './OrderSheet.js';
import { Page } from './Page.js';
import { Stage } from './Stage.js';
import { StateLine } from './StateLine.js';
import { useSplash } from './useSplash.js';
import { useOrder } from './useOrder.js';
import type { FollowedEvent, Presence } from './useEvent.js';
import './public.css';
import { say } from '../words/say.js';

/** The order is words beside the picture: what draws it comes with it. */
let OrderItems: typeof Items | null = null;
async function loadOrderItems(): Promise<void> {
  ({ OrderItems } = await import('./OrderItems.js'));
}
/** Only replays have places to go back to. */
const ReplayPlace = lazy(() =>
  import('./ReplayPlace.js').then((module) => ({ default: module.ReplayPlace })),
);
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
  const order = useOrder(event, clockOffsetMs, loadOrderItems);
  const [dateMs, setDateMs] = useState<number | null>(null);
  const seek = useRef<(instantMs: number) => void>(undefined);
  const takeSeek = useCallback((given: (instantMs: number) => void) => (seek.current = given), []);
  const seekToDate = useCallback((instantMs: number) => seek.current?.(instantMs), []);
  useSplash(event);
  const isStale = followed.view.status === 'here' && followed.view.isStale;
  return (
    <>
      {/* The picture stays in sight: beside it sheet and chat scroll in their own column; above them it holds to the top. */}
      <main className="mx-auto max-w-[1280px] gap-x-[22px] md:px-6 md:py-[18px] lg:grid lg:grid-cols-[minmax(0,846px)_minmax(300px,1fr)]">
        <div className="max-lg:contents">
          <StateLine event={event} />
          <div
            data-look="none"
            className="overflow-hidden max-lg:sticky max-lg:top-0 max-lg:z-10 md:rounded-md max-lg:landscape:static"
          >
            <Stage
              event={event}
              clockOffsetMs={clockOffsetMs}
              onDenied={followed.refresh}
              chapters={order.chapters}
              onDate={setDateMs}
              onReady={takeSeek}
            />
          </div>
          <div className="flex flex-wrap items-center gap-x-5 px-4 md:px-0">
            <p className="flex min-h-[46px] grow items-center text-base text-ink-soft" role="status">
              {isStale ? say('page.pictureMayCarryOn') : presenceWords(event, followed.presence)}
            </p>
            {(event.state === 'planned' || event.state === 'doors') && (
              <Reminder event={event} nowMs={nowMs} />
            )}
            {event.playback?.kind === 'replay' && (
              <Suspense>
                <ReplayPlace key={event.slug} event={event} dateMs={dateMs} onGoTo={seekToDate} />
              </Suspense>
            )}
            <TextSize />
            {!event.refusal && <HelpCheck event={event} />}
          </div>
        </div>
        <OrderSheet
          event={event}
          order={
            OrderItems && order.items.length > 0 ? (
              <OrderItems
                key={event.chat.eventId}
                event={event}
                items={order.items}
                changes={order.changes}
                dateMs={dateMs ?? nowMs()}
                onGoTo={event.playback ? seekToDate : null}
              />
            ) : null
          }
        >
          {/* What stands below the order waits for it, so as not to move. */}
          {order.isRead && event.chat.state !== 'off' && (
            <Suspense fallback={<div className="min-h-[55px] border-t border-[var(--rule)]" />}>
              <ChatDrawer event={event} followed={followed} />
            </Suspense>
          )}
        </OrderSheet>
      </main>
      {order.isRead && <Foot look={event.look} house={event.house} />}
    </>
  );
}

function presenceWords(event: PublicEvent, presence: Presence | null): string {
  if (!presence || event.refusal || !event.look.showsCount) return '';
  if (event.state === 'air') return say('event.watching', { count: Math.max(1, presence.watching) });
  if (event.state !== 'doors') return '';
  return say('event.hereEarly', { count: presence.here });
}

wearTextSize(readTextSize());
walkByArrows();
createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <Page>
      {(event, clockOffsetMs, followed) => (
        <WatchPage event={event} clockOffsetMs={clockOffsetMs} followed={followed} />
      )}
    </Page>
  </StrictMode>,
);
