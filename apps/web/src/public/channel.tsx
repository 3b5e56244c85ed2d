import { StrictMode, useEffect } from 'react';
import { createRoot } from 'react-dom/client';
import { ChannelPage } from './ChannelPage.js';
import { wearLook } from './house-look.js';
import { Told } from './Told.js';
import { readTextSize, wearTextSize } from './text-size.js';
import { useChannel } from './useChannel.js';
import './public.css';

/** `/channel/SLUG`. */
const slug = decodeURIComponent(location.pathname.split('/')[2] ?? '');
const path = `/api/public/channels/${encodeURIComponent(slug)}`;

function Channel() {
  const state = useChannel(path);
  const channel = state.status === 'here' ? state.channel : null;
  useEffect(() => {
    if (!channel) return;
    document.title = `${channel.name} · ${channel.house.name}`;
    wearLook(channel.house);
  }, [channel]);
  switch (state.status) {
    case 'here':
      return <ChannelPage channel={state.channel} path={path} />;
    case 'missing':
      return (
        <Told title="There is nothing at this address.">
          It may have been mistyped, or the channel was taken away.
        </Told>
      );
    case 'offline':
      return (
        <Told title="We cannot be reached just now.">This page keeps trying and goes on by itself.</Told>
      );
    case 'loading':
      return (
        <div
          role="status"
          aria-label="Loading the channel"
          className="mx-auto h-[60vh] max-w-[846px] animate-pulse bg-[var(--rule)]"
        />
      );
  }
}

wearTextSize(readTextSize());
createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <Channel />
  </StrictMode>,
);
