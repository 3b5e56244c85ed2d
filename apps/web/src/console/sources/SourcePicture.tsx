import { useState } from 'react';
import type { SourceNow } from '@heliphon/contracts/sources';
import { SOURCES_TEXT } from '../../words/console/sources.js';

const SIZES = { full: 'aspect-video w-full', small: 'h-[90px] w-[160px]', tiny: 'h-[54px] w-24' } as const;

/** The newest thumbnail: it changes every few seconds, which proves that the picture moves. */
export function SourcePicture({
  now,
  name,
  size = 'full',
}: {
  now: SourceNow | null;
  name: string;
  size?: keyof typeof SIZES;
}) {
  /** It could not be had: its node may be away for a moment. The next has another address. */
  const [lostUrl, setLostUrl] = useState<string | null>(null);
  if (!now?.pictureUrl || now.pictureUrl === lostUrl) {
    return (
      <div
        className={`${SIZES[size]} grid shrink-0 place-items-center rounded-md border border-edge text-[13px] text-ink-soft`}
      >
        {now?.report ? SOURCES_TEXT.pictureIsComing : SOURCES_TEXT.noPicture}
      </div>
    );
  }
  return (
    <img
      src={now.pictureUrl}
      onError={() => setLostUrl(now.pictureUrl)}
      alt={SOURCES_TEXT.newestPictureOf(name)}
      className={`${SIZES[size]} shrink-0 rounded-md border border-edge bg-sunk object-cover`}
    />
  );
}
