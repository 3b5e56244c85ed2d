import useSWR from 'swr';
import type { ChannelView, AddChannel, EditChannel } from '@heliphon/contracts/channels';
import type { Page } from '@heliphon/contracts/problem';
import { ask } from './api.js';
import { fetcher, thenRefresh } from './cache.js';

export const useChannels = () => useSWR<Page<ChannelView>>('/api/channels?limit=200', fetcher);

/** What the console asks of channels. */

export const addChannel = (wish: AddChannel): Promise<ChannelView> =>
  thenRefresh('channels', ask('/api/channels', { method: 'POST', body: wish }));

export const editChannel = ({ id, version }: ChannelView, change: EditChannel): Promise<ChannelView> =>
  thenRefresh('channels', ask(`/api/channels/${id}`, { method: 'PATCH', version, body: change }));

export const deleteChannel = (id: string): Promise<void> =>
  thenRefresh('channels', ask(`/api/channels/${id}`, { method: 'DELETE' }));
