import { useState } from 'react';
import type { EventView } from '@heliphon/contracts/events';
import { useDeskAddress, usePublicEvent } from '../../data/events.js';
import { useKey } from '../../ui/useKey.js';
import { DESK_TEXT } from '../../words/console/desk.js';
import { Monitor } from './Monitor.js';
import { QuickMonitor } from './QuickMonitor.js';

/** What line, time and strips leave free, and in it a picture as large as it may be: nothing scrolls. */
const FREE_ROOM = 'lg:[container-type:size] lg:min-h-0 lg:flex-1';
const LARGEST = 'lg:w-[min(100cqw,calc(100cqh*16/9))]';
/** With the line under it, and room for the small one beside it. */
const LARGEST_OF_TWO = 'lg:w-[min(100cqw-12rem,calc((100cqh-1.75rem)*16/9))]';
const LARGEST_LIT = 'lg:w-[min(100cqw,calc((100cqh-1.75rem)*16/9))]';
/** Where the picture is narrower than the line under it, there is room beside it. */
const ONE_LINE = 'lg:[&_figcaption]:flex-nowrap lg:[&_figcaption]:whitespace-nowrap';
const REMEMBERED_AS = 'heliphon.desk.quick';

interface ProgrammePictureProps {
  readonly event: EventView;
  readonly hasPicture: boolean;
}

/**
 * The programme as viewers have it: the same parts, under the desk's own grant, so that the desk is not counted among
 * them; once kept, the replay. Where somebody wants it sooner, the quick picture stands beside it.
 */
export function ProgrammePicture({ event, hasPicture }: ProgrammePictureProps) {
  const isLit = event.state === 'air';
  const desk = useDeskAddress(isLit ? event.id : null);
  const kept = usePublicEvent(event.state === 'kept' ? event.slug : null);
  if (isLit && desk.data)
    return <OnAir hls={desk.data.hls} title={event.title} onDenied={() => void desk.mutate()} />;
  if (kept.data?.playback)
    return (
      <div className={FREE_ROOM}>
        <div className={LARGEST}>
          <Monitor
            source={kept.data.playback}
            title={event.title}
            isLit={false}
            onDenied={() => void kept.mutate()}
          />
        </div>
      </div>
    );
  return (
    <div className={FREE_ROOM}>
      <div
        className={`relative grid aspect-video place-items-center overflow-hidden rounded-md border-[3px] border-edge bg-sunk ${LARGEST}`}
      >
        {event.posterUrl && (
          <img src={event.posterUrl} alt="" className="absolute h-full w-full object-cover opacity-40" />
        )}
        <p className="relative max-w-[36ch] rounded-md bg-ground p-3 text-center">
          {hasPicture ? DESK_TEXT.thePictureIsReadyFor : DESK_TEXT.viewersSeeThePosterThere}
        </p>
      </div>
    </div>
  );
}

interface OnAirProps {
  readonly hls: string;
  readonly title: string;
  readonly onDenied: () => void;
}

/** Both pictures, each with how late it is; which is the large one is remembered in this browser. */
function OnAir({ hls, title, onDenied }: OnAirProps) {
  const [isQuick, setQuick] = useState(() => localStorage.getItem(REMEMBERED_AS) === 'yes');
  const toggle = (): void => {
    localStorage.setItem(REMEMBERED_AS, isQuick ? 'no' : 'yes');
    setQuick(!isQuick);
  };
  useKey('q', toggle);
  return (
    <div className={FREE_ROOM}>
      <div className="flex flex-wrap gap-3 lg:flex-nowrap">
        {isQuick && (
          <div className={`w-full ${LARGEST_OF_TWO}`}>
            <QuickMonitor address={hls} title={title} onDenied={onDenied} />
          </div>
        )}
        <div key="viewers" className={isQuick ? 'w-44 shrink-0' : `w-full ${LARGEST_LIT} ${ONE_LINE}`}>
          <Monitor source={{ kind: 'live', hls }} title={title} isLit isSmall={isQuick} onDenied={onDenied}>
            <button type="button" className="min-h-6 text-pine underline underline-offset-2" onClick={toggle}>
              {isQuick ? DESK_TEXT.putQuickAway : DESK_TEXT.quickPicture}
              <kbd className="figures ml-1.5 no-underline max-lg:hidden">Q</kbd>
            </button>
          </Monitor>
        </div>
      </div>
    </div>
  );
}
