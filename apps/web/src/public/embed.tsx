import { lazy, StrictMode, Suspense, useCallback, useRef, useState } from 'react';
import { createRoot } from 'react-dom/client';
import { readEmbedOptions } from '@heliphon/core/delivery/embed-code';
import type { PublicEvent } from '@heliphon/contracts/public-event';
import { walkByArrows } from './arrow-ways.js';
import { Page } from './Page.js';
import { Stage } from './Stage.js';
import type { FollowedEvent } from './useEvent.js';
import { useOrder } from './useOrder.js';
import { tellHeight } from './tell-height.js';
import './public.css';

const CountdownAlone = lazy(() =>
  import('./CountdownAlone.js').then((module) => ({ default: module.CountdownAlone })),
);
const EmbedExtras = lazy(() =>
  import('./EmbedExtras.js').then((module) => ({ default: module.EmbedExtras })),
);
const { isCountdown, extras } = readEmbedOptions(location.search);

interface EmbedProps {
  readonly event: PublicEvent;
  readonly clockOffsetMs: number;
  readonly followed: FollowedEvent;
}

function Embed({ event, clockOffsetMs, followed }: EmbedProps) {
  const order = useOrder(event, clockOffsetMs);
  const [dateMs, setDateMs] = useState<number | null>(null);
  const seek = useRef<(instantMs: number) => void>(undefined);
  const takeSeek = useCallback((given: (instantMs: number) => void) => (seek.current = given), []);
  const seekToDate = useCallback((instantMs: number) => seek.current?.(instantMs), []);
  const hasMore = extras.includes('sheet') || extras.includes('chat');
  return (
    <main>
      <h1 className={extras.includes('title') ? 'px-4 py-2 font-serif text-2xl' : 'sr-only'}>
        {event.title}
      </h1>
      <Stage
        event={event}
        clockOffsetMs={clockOffsetMs}
        onDenied={followed.refresh}
        chapters={order.chapters}
        hasChapterChoice={!extras.includes('sheet')}
        onDate={setDateMs}
        onReady={takeSeek}
      />
      {hasMore && !event.refusal && (
        <Suspense>
          <EmbedExtras
            event={event}
            followed={followed}
            order={order}
            extras={extras}
            dateMs={dateMs ?? Date.now() + clockOffsetMs}
            onGoTo={event.playback ? seekToDate : null}
          />
        </Suspense>
      )}
    </main>
  );
}

tellHeight();
walkByArrows();
createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <Page>
      {(event, clockOffsetMs, followed) =>
        isCountdown ? (
          <Suspense>
            <CountdownAlone event={event} clockOffsetMs={clockOffsetMs} />
          </Suspense>
        ) : (
          <Embed event={event} clockOffsetMs={clockOffsetMs} followed={followed} />
        )
      }
    </Page>
  </StrictMode>,
);
