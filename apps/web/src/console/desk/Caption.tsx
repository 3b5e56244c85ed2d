import type { ReactNode } from 'react';
import { serverNowMs } from '../../data/server-clock.js';
import { DESK_TEXT } from '../../words/console/desk.js';

interface CaptionProps {
  readonly words: string;
  readonly dateMs: number | null;
  /** What can be done about it. */
  readonly children?: ReactNode;
}

/** What a monitor shows, and how late: from when a picture arrived here until it is seen. */
export function Caption({ words, dateMs, children }: CaptionProps) {
  const behindSeconds = dateMs === null ? null : Math.max(0, serverNowMs() - dateMs) / 1000;
  return (
    <figcaption className="flex flex-wrap items-baseline gap-x-3 text-[13px] text-ink-soft">
      <span>
        {words}
        {behindSeconds !== null && (
          <>
            , <span className="figures">{DESK_TEXT.behind(behindSeconds.toFixed(1))}</span>
          </>
        )}
      </span>
      {children}
    </figcaption>
  );
}
