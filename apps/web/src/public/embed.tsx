import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { Page } from './Page.js';
import { Stage } from './Stage.js';
import { tellHeight } from './tell-height.js';
import './public.css';

tellHeight();
createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <Page>
      {(event, clockOffsetMs, followed) => (
        <main>
          <h1 className="sr-only">{event.title}</h1>
          <Stage event={event} clockOffsetMs={clockOffsetMs} onDenied={followed.refresh} />
        </main>
      )}
    </Page>
  </StrictMode>,
);
