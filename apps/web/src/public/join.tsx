import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { JoinPage } from './JoinPage.js';
import { readTextSize, wearTextSize } from './text-size.js';
import './join.css';

/** `/join/LINK`. */
const link = decodeURIComponent(location.pathname.split('/')[2] ?? '');

wearTextSize(readTextSize());
createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <JoinPage link={link} />
  </StrictMode>,
);
