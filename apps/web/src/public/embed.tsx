import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import type { PublicEvent } from '@heliphon/contracts/public-event';
import { Page } from './Page.js';
import { Stage } from './Stage.js';
import { useOrder } from './useOrder.js';
import { tellHeight } from './tell-height.js';
import './public.css';

interface EmbeddedStageProps {
  readonly event: PublicEvent;
  readonly clockOffsetMs: number;
  readonly onDenied: () => void;
}

function EmbeddedStage(props: EmbeddedStageProps) {
  const { changes, titleOf } = useOrder(props.event, props.clockOffsetMs);
  const chapters = changes.map(({ atMs, itemId }) => ({ atMs, title: titleOf(itemId) }));
  return <Stage {...props} chapters={chapters} hasChapterChoice />;
}

tellHeight();
createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <Page>
      {(event, clockOffsetMs, followed) => (
        <main>
          <h1 className="sr-only">{event.title}</h1>
          <EmbeddedStage event={event} clockOffsetMs={clockOffsetMs} onDenied={followed.refresh} />
        </main>
      )}
    </Page>
  </StrictMode>,
);
