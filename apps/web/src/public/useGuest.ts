import { useCallback, useEffect, useState } from 'react';
import type { GuestView } from '@heliphon/contracts/send-tokens';
import { ApiError, ask } from '../data/api.js';

const ASK_EVERY_MS = 4000;
const DEVICE_BYTES = 20;

export type GuestState =
  | { readonly status: 'loading' }
  | { readonly status: 'here'; readonly guest: GuestView; readonly device: string }
  /** Told by the server: nothing will come of this link. */
  | { readonly status: 'refused'; readonly error: unknown }
  | { readonly status: 'offline'; readonly last: GuestView | null; readonly device: string };

/** What this browser shows as its own for a link: only it can come back by it. */
function deviceFor(link: string): string {
  const key = `heliphon guest ${link}`;
  const known = readKept(key);
  if (known) return known;
  const bytes = crypto.getRandomValues(new Uint8Array(DEVICE_BYTES));
  const made = Array.from(bytes, (byte) => byte.toString(16).padStart(2, '0')).join('');
  try {
    localStorage.setItem(key, made);
  } catch {
    // kept nowhere: this page can send until it is closed
  }
  return made;
}

function readKept(key: string): string | null {
  try {
    return localStorage.getItem(key);
  } catch {
    return null;
  }
}

/** The event that a guest was invited to, and whether their picture is shown; asked again and again. */
export function useGuest(link: string): GuestState {
  const [device] = useState(() => deviceFor(link));
  const [state, setState] = useState<GuestState>({ status: 'loading' });
  const look = useCallback(async (): Promise<GuestState> => {
    try {
      const path = `/api/public/guests/${encodeURIComponent(link)}/open`;
      return {
        status: 'here',
        guest: await ask<GuestView>(path, { method: 'POST', body: { device } }),
        device,
      };
    } catch (error) {
      if (error instanceof ApiError && error.status < 500 && error.status !== 429)
        return { status: 'refused', error };
      return { status: 'offline', last: null, device };
    }
  }, [link, device]);
  useEffect(() => {
    let isOver = false;
    let timer: number | undefined;
    const again = (): void => {
      void look().then((next) => {
        if (isOver) return;
        setState((before) =>
          next.status === 'offline' && 'guest' in before ? { ...next, last: before.guest } : next,
        );
        if (next.status !== 'refused') timer = window.setTimeout(again, ASK_EVERY_MS);
      });
    };
    again();
    return () => {
      isOver = true;
      window.clearTimeout(timer);
    };
  }, [look]);
  return state;
}
