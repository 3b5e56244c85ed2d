import type { EventState } from '@heliphon/core/schedule/event-life';
import { UI_TEXT } from '../words/ui.js';

/** One drawing is behind all of them: a lamp, and the light it sends. Sixteen units square. */
const SHAPES = {
  planned: <circle cx="8" cy="8" r="4.6" fill="none" stroke="currentColor" strokeWidth="1.7" />,
  doors: (
    <>
      <circle cx="8" cy="8" r="4.6" fill="none" stroke="currentColor" strokeWidth="1.7" />
      <path d="M8 8V3.4A4.6 4.6 0 0 1 12.6 8Z" fill="currentColor" />
    </>
  ),
  air: (
    <>
      <circle cx="8" cy="8" r="3.5" fill="currentColor" />
      <path
        d="M.4 4.2 3.4 6.6a4.9 4.9 0 0 0 0 2.8L.4 11.8ZM15.6 4.2 12.6 6.6a4.9 4.9 0 0 1 0 2.8l3 2.4Z"
        fill="currentColor"
      />
    </>
  ),
  out: (
    <>
      <circle cx="4.6" cy="8" r="3.5" fill="currentColor" />
      <path d="M15 3.2 9.2 6.4a4.9 4.9 0 0 1 0 3.2L15 12.8Z" fill="currentColor" />
    </>
  ),
  kept: <rect x="3.2" y="3.2" width="9.6" height="9.6" rx="1" fill="currentColor" />,
  cancelled: (
    <>
      <circle cx="8" cy="8" r="4.6" fill="none" stroke="currentColor" strokeWidth="1.7" />
      <path d="M2.5 13.5 13.5 2.5" stroke="currentColor" strokeWidth="1.7" />
    </>
  ),
  passed: (
    <path
      d="m2.6 8.6 3.6 3.7 7.2-8.6"
      fill="none"
      stroke="currentColor"
      strokeWidth="2.3"
      strokeLinecap="round"
      strokeLinejoin="round"
    />
  ),
  trouble: (
    <path
      fillRule="evenodd"
      d="M8 1.4 15.2 14.4H.8ZM7.1 5.6v4.6h1.8V5.6ZM7.1 11.4v1.6h1.8v-1.6Z"
      fill="currentColor"
    />
  ),
  caution: (
    <>
      <path d="M8 1.6 14.4 8 8 14.4 1.6 8Z" fill="none" stroke="currentColor" strokeWidth="1.7" />
      <path d="M5.2 8.6 8.6 5.2M7.4 10.8l3.4-3.4" stroke="currentColor" strokeWidth="1.5" />
    </>
  ),
  advice: <path d="M3 8h10" stroke="currentColor" strokeWidth="2.2" strokeLinecap="round" />,
} as const;

export type MarkName = keyof typeof SHAPES;

const COLOURS: Readonly<Record<MarkName, string>> = {
  planned: 'text-pine',
  doors: 'text-pine',
  air: 'text-marigold-text',
  out: 'text-pine',
  kept: 'text-ink-soft',
  cancelled: 'text-ink-soft',
  passed: 'text-pine',
  trouble: 'text-rust',
  caution: 'text-plum',
  advice: 'text-ink-soft',
};

/** A state's shape. A word always stands beside it, so it says nothing to a screen reader. */
export function Mark({
  name,
  sizePx = 17,
  inherit = false,
}: {
  name: MarkName;
  sizePx?: number;
  inherit?: boolean;
}) {
  return (
    <svg
      viewBox="0 0 16 16"
      width={sizePx}
      height={sizePx}
      className={`shrink-0 ${inherit ? '' : COLOURS[name]}`}
      aria-hidden="true"
    >
      {SHAPES[name]}
    </svg>
  );
}

export const STATE_WORDS: Readonly<Record<EventState, string>> = {
  planned: 'planned',
  doors: UI_TEXT.doorsOpen,
  air: UI_TEXT.onAir,
  kept: 'kept',
  cancelled: 'cancelled',
};

/** The wordmark: the lamp and its beam. */
export function Wordmark() {
  return (
    <span className="flex items-center gap-2">
      <svg width="44" height="26" viewBox="0 0 44 26" aria-hidden="true">
        <path d="M44 1 21 8.4a11 11 0 0 1 0 9.2L44 25Z" className="fill-marigold" opacity=".42" />
        <path d="M35 3.9 21 8.4a11 11 0 0 1 0 9.2l14 4.5Z" className="fill-marigold" opacity=".55" />
        <circle cx="10" cy="13" r="8.2" className="fill-pine" />
        <circle cx="10" cy="13" r="3.4" className="fill-marigold" />
      </svg>
      <span className="font-serif text-xl font-[560]">{UI_TEXT.heliphon}</span>
    </span>
  );
}
