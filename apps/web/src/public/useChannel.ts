import { useEffect, useState } from 'react';
import type { PublicChannel } from '@heliphon/contracts/channels';
import { ApiError, ask } from '../data/api.js';

const ASK_EVERY_MS = 20_000;

export type ChannelState =
  | { readonly status: 'loading' | 'missing' | 'offline' }
  | { readonly status: 'here'; readonly channel: PublicChannel };

/** A channel by its path in the API, asked for again now and then; what was shown stays while nobody answers. */
export function useChannel(path: string): ChannelState {
  const [state, setState] = useState<ChannelState>({ status: 'loading' });
  useEffect(() => {
    let isLeft = false;
    const look = async (): Promise<void> => {
      try {
        const channel = await ask<PublicChannel>(path);
        if (!isLeft) setState({ status: 'here', channel });
      } catch (error) {
        const isMissing = error instanceof ApiError && error.status === 404;
        if (!isLeft) setState((known) => (isMissing ? { status: 'missing' } : orStill(known)));
      }
    };
    void look();
    const timer = window.setInterval(() => void look(), ASK_EVERY_MS);
    return () => {
      isLeft = true;
      window.clearInterval(timer);
    };
  }, [path]);
  return state;
}

const orStill = (known: ChannelState): ChannelState =>
  known.status === 'here' ? known : { status: 'offline' };
