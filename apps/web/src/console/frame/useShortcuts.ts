import { useEffect } from 'react';
import { useNavigate } from 'react-router';
import { useToday } from './useToday.js';

const SECOND_KEY_MS = 1200;

/** `G` then `A` leads to what is on air, from anywhere; not while somebody types. */
export function useShortcuts(): void {
  const navigate = useNavigate();
  const { onAir } = useToday();
  const target = onAir?.id;
  useEffect(() => {
    let firstAtMs = 0;
    const onKeyDown = (event: KeyboardEvent): void => {
      const isTyping = event.target instanceof HTMLElement && event.target.matches('input, textarea, select');
      if (isTyping || event.ctrlKey || event.metaKey || event.altKey) return;
      const key = event.key.toLowerCase();
      if (key === 'a' && target && performance.now() - firstAtMs < SECOND_KEY_MS)
        void navigate(`/events/${target}/air`);
      firstAtMs = key === 'g' ? performance.now() : 0;
    };
    window.addEventListener('keydown', onKeyDown);
    return () => window.removeEventListener('keydown', onKeyDown);
  }, [navigate, target]);
}
