import { useState } from 'react';
import { readTextSize, TEXT_SIZES, wearTextSize } from './text-size.js';
import { say } from '../words/say.js';

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
      {next === 1 ? say('page.normalText') : say('page.largerText')}
    </button>
  );
}
