import { type RefObject, useEffect, useRef } from 'react';

const NEAR_PX = 60;

/** Keeps a list at its end as it grows, unless somebody has scrolled up to read. @param last - changes with what came last. */
export function useFollowEnd<Element extends HTMLElement>(
  last: string | undefined,
): RefObject<Element | null> {
  const list = useRef<Element>(null);
  const isAtEnd = useRef(true);
  useEffect(() => {
    const element = list.current;
    if (!element) return;
    const onScroll = (): void => {
      isAtEnd.current = element.scrollHeight - element.scrollTop - element.clientHeight < NEAR_PX;
    };
    element.addEventListener('scroll', onScroll, { passive: true });
    return () => element.removeEventListener('scroll', onScroll);
  }, []);
  useEffect(() => {
    if (isAtEnd.current) list.current?.scrollTo({ top: list.current.scrollHeight });
  }, [last]);
  return list;
}
