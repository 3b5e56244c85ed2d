import { useState } from 'react';
import { readTextSize, TEXT_SIZES, wearTextSize } from './text-size.js';
import { WATCH_TEXT } from '../words/public/watch.js';

/** A step for larger words, and back. */
export function TextSize() {
  const [size, setSize] = useState(readTextSize);
  const index = TEXT_SIZES.findIndex((known) => known === size);
  const next = TEXT_SIZES[(index + 1) % TEXT_SIZES.length]!;
  return (
    <button
      type="button"
      className="public-link"
      onClick={() => {
        wearTextSize(next);
        setSize(next);
      }}
    >
      {next === 1 ? WATCH_TEXT.normalText : WATCH_TEXT.largerText}
    </button>
  );
}
