import { StrictMode, useEffect } from 'react';
import { createRoot } from 'react-dom/client';
import { ChannelPage } from './ChannelPage.js';
import { wearLook } from './house-look.js';
import { NotShown } from './NotShown.js';
import { readTextSize, wearTextSize } from './text-size.js';
import { useChannel } from './useChannel.js';
import { CHANNEL_TEXT } from '../words/public/channel.js';
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
  if (state.status !== 'here') return <NotShown status={state.status} what={CHANNEL_TEXT.channel} />;
  return <ChannelPage channel={state.channel} path={path} />;
}

wearTextSize(readTextSize());
createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <Channel />
  </StrictMode>,
);
