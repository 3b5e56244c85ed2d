import { StrictMode, useEffect } from 'react';
import { createRoot } from 'react-dom/client';
import { ChannelPage } from './ChannelPage.js';
import { walkByArrows } from './arrow-ways.js';
import { applyLook } from './apply-look.js';
import { useLight } from './light.js';
import { NotShown } from './NotShown.js';
import { readTextSize, wearTextSize } from './text-size.js';
import { useChannel } from './useChannel.js';
import './public.css';

/** `/channel/SLUG`. */
const slug = decodeURIComponent(location.pathname.split('/')[2] ?? '');
const path = `/api/public/channels/${encodeURIComponent(slug)}`;

function Channel() {
  const state = useChannel(path);
  const channel = state.status === 'here' ? state.channel : null;
  const light = useLight(channel?.look);
  useEffect(() => {
    if (!channel) return;
    document.title = `${channel.name} · ${channel.house.name}`;
    applyLook(channel.look, light);
  }, [channel, light]);
  if (state.status !== 'here') return <NotShown status={state.status} />;
  return <ChannelPage channel={state.channel} path={path} />;
}

wearTextSize(readTextSize());
walkByArrows();
createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <Channel />
  </StrictMode>,
);
