import { useCallback, useEffect, useRef, useState } from 'react';
import { LOOK_PARTS, type LookPart } from '@heliphon/core/appearance/look';
import type { PressedPart, ReadyForTryOut, TryOut } from '@heliphon/contracts/try-out';

interface PageFrameProps {
  /** The page itself, or what stands on websites. */
  readonly kind?: 'watch' | 'embed';
  readonly slug: string;
  readonly title: string;
  /** The same object until the page is to be told otherwise. */
  readonly tryOut: TryOut;
  readonly widthPx: number;
  /** Somebody pressed on the page where this is seen. */
  readonly onPressed?: (part: LookPart) => void;
}

type Told = ReadyForTryOut | PressedPart | null;

/** Of a page that is wider than tall, and of one on a telephone. */
const heightOf = (widthPx: number): number => (widthPx > 1000 ? 860 : widthPx > 600 ? 1080 : 844);

/** The real watch page in a frame, told what to show for once; made smaller where there is no room for its width. */
export function PageFrame({ kind = 'watch', slug, title, tryOut, widthPx, onPressed }: PageFrameProps) {
  const frame = useRef<HTMLIFrameElement>(null);
  const [roomPx, setRoomPx] = useState(0);
  const tell = useCallback(() => {
    frame.current?.contentWindow?.postMessage(tryOut, location.origin);
  }, [tryOut]);
  useEffect(() => {
    tell();
    const heard = ({ origin, source, data }: MessageEvent<Told>): void => {
      if (origin !== location.origin || source !== frame.current?.contentWindow) return;
      if (data?.type === 'ready-for-try-out') tell();
      if (data?.type !== 'pressed-part') return;
      const part = LOOK_PARTS.find((known) => known === data.part);
      if (part) onPressed?.(part);
    };
    window.addEventListener('message', heard);
    return () => window.removeEventListener('message', heard);
  }, [tell, onPressed]);
  const measure = useCallback((room: HTMLDivElement | null) => {
    if (!room) return;
    const watch = new ResizeObserver(() => setRoomPx(room.clientWidth));
    watch.observe(room);
    return () => watch.disconnect();
  }, []);
  const scale = Math.min(1, roomPx / widthPx);
  return (
    <div ref={measure} className="overflow-hidden" style={{ height: heightOf(widthPx) * scale }}>
      <iframe
        ref={frame}
        src={`/${kind}/${slug}`}
        title={title}
        className="mx-auto block border border-line"
        style={{
          width: widthPx,
          height: heightOf(widthPx),
          transform: `scale(${scale})`,
          transformOrigin: 'top left',
        }}
      />
    </div>
  );
}
