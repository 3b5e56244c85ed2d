import { StrictMode, useEffect } from 'react';
import { createRoot } from 'react-dom/client';
import useSWR from 'swr';
import type { PublicChannel } from '@heliphon/contracts/channels';
import { ApiError, ask } from '../data/api.js';
import { ChannelPage } from './ChannelPage.js';
import { wearLook } from './house-look.js';
import { Told } from './Told.js';
import { readTextSize, wearTextSize } from './text-size.js';
import './public.css';

/** `/channel/SLUG`. */
const slug = decodeURIComponent(location.pathname.split('/')[2] ?? '');
const ASK_EVERY_MS = 20_000;

function Channel() {
  const path = `/api/public/channels/${encodeURIComponent(slug)}`;
  const { data, error } = useSWR<PublicChannel, unknown>(path, ask, { refreshInterval: ASK_EVERY_MS });
  useEffect(() => {
    if (!data) return;
    document.title = `${data.name} · ${data.house.name}`;
    wearLook(data.house);
  }, [data]);
  if (data) return <ChannelPage channel={data} path={path} />;
  if (error instanceof ApiError && error.status === 404)
    return (
      <Told title="There is nothing at this address.">
        It may have been mistyped, or the channel was taken away.
      </Told>
    );
  if (error)
    return <Told title="We cannot be reached just now.">This page keeps trying and goes on by itself.</Told>;
  return (
    <div
      role="status"
      aria-label="Loading the channel"
      className="mx-auto h-[60vh] max-w-[846px] animate-pulse bg-[var(--rule)]"
    />
  );
}

wearTextSize(readTextSize());
createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <Channel />
  </StrictMode>,
);
