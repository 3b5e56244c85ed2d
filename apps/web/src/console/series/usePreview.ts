import { useEffect, useState } from 'react';
import type { PreviewSeries, SeriesPreview } from '@heliphon/contracts/series';
import { previewSeries } from '../../data/series.js';

/** Who is still typing need not be told of every letter. */
const PAUSE_MS = 250;

export interface Preview {
  readonly shown: SeriesPreview | null;
  readonly error: unknown;
}

/** What a rule comes to, asked for while it is being chosen; `null` asks for nothing. */
export function usePreview(wish: PreviewSeries | null): Preview {
  const [preview, setPreview] = useState<Preview>({ shown: null, error: null });
  const key = JSON.stringify(wish);
  useEffect(() => {
    const asked = JSON.parse(key) as PreviewSeries | null;
    let isOver = false;
    const timer = window.setTimeout(() => {
      if (!asked) return setPreview({ shown: null, error: null });
      void previewSeries(asked).then(
        (shown) => !isOver && setPreview({ shown, error: null }),
        (error: unknown) => !isOver && setPreview({ shown: null, error }),
      );
    }, PAUSE_MS);
    return () => {
      isOver = true;
      window.clearTimeout(timer);
    };
  }, [key]);
  return preview;
}
