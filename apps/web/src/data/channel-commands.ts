import type { AddChannel, ChannelView, EditChannel } from '@heliphon/contracts/channels';
import { ask } from './api.js';
import { thenRefresh } from './commands.js';

/** What the console asks of channels. */

export const addChannel = (wish: AddChannel): Promise<ChannelView> =>
  thenRefresh('channels', ask('/api/channels', { method: 'POST', body: wish }));

export const editChannel = ({ id, version }: ChannelView, change: EditChannel): Promise<ChannelView> =>
  thenRefresh('channels', ask(`/api/channels/${id}`, { method: 'PATCH', version, body: change }));

export const deleteChannel = (id: string): Promise<void> =>
  thenRefresh('channels', ask(`/api/channels/${id}`, { method: 'DELETE' }));
