import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { BrowserRouter } from 'react-router';
import { SWRConfig } from 'swr';
import { App } from './App.js';
import './console.css';

createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <SWRConfig value={{ errorRetryInterval: 2000, focusThrottleInterval: 10_000 }}>
      <BrowserRouter>
        <App />
      </BrowserRouter>
    </SWRConfig>
  </StrictMode>,
);
