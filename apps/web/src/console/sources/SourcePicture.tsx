import type { SourceNow } from '@heliphon/contracts/sources';

/** The newest thumbnail: it changes every few seconds, which proves that the picture moves. */
export function SourcePicture({
  now,
  name,
  small = false,
}: {
  now: SourceNow | null;
  name: string;
  small?: boolean;
}) {
  const size = small ? 'h-[90px] w-[160px]' : 'aspect-video w-full';
  if (!now?.pictureUrl) {
    return (
      <div
        className={`${size} grid shrink-0 place-items-center rounded-md border border-edge text-[13px] text-ink-soft`}
      >
        {now?.report ? 'picture is coming' : 'no picture'}
      </div>
    );
  }
  return (
    <img
      src={now.pictureUrl}
      alt={`Newest picture of ${name}`}
      className={`${size} shrink-0 rounded-md border border-edge bg-sunk object-cover`}
    />
  );
}
