import { useEffect } from 'react';
import { useNavigate } from 'react-router';
import { useToday } from './useToday.js';

const SECOND_KEY_MS = 1200;
const ROOM_OF_KEY: Readonly<Record<string, string>> = {
  w: '/',
  s: '/sources',
  p: '/places',
  r: '/archive',
  h: '/house',
  l: '/wall',
};

/** `G` and a letter leads to a room, `G` `A` to what is on air, `?` shows the keys; never while somebody types. */
export function useShortcuts(onKeys: () => void): void {
  const navigate = useNavigate();
  const { onAir } = useToday();
  const target = onAir?.id;
  useEffect(() => {
    let firstAtMs = -Infinity;
    const onKeyDown = (event: KeyboardEvent): void => {
      const isTyping = event.target instanceof HTMLElement && event.target.matches('input, textarea, select');
      if (isTyping || event.ctrlKey || event.metaKey || event.altKey) return;
      const key = event.key.toLowerCase();
      const isSecond = performance.now() - firstAtMs < SECOND_KEY_MS;
      const room = key === 'a' ? target && `/events/${target}/air` : ROOM_OF_KEY[key];
      if (isSecond && room) {
        // The letter alone may do something where one is.
        event.stopPropagation();
        void navigate(room);
      }
      if (key === '?') onKeys();
      firstAtMs = key === 'g' ? performance.now() : -Infinity;
    };
    window.addEventListener('keydown', onKeyDown, true);
    return () => window.removeEventListener('keydown', onKeyDown, true);
  }, [navigate, target, onKeys]);
}
