import { Group, Panel, Separator, useDefaultLayout } from 'react-resizable-panels';
import type { EventView } from '@heliphon/contracts/events';
import { useServerNow } from '../../data/server-clock.js';
import { useMedia } from '../../ui/useMedia.js';
import { DESK_TEXT } from '../../words/console/desk.js';
import { EventGate } from '../event/EventGate.js';
import { WhenBar } from '../event/WhenBar.js';
import { ComingIn } from './ComingIn.js';
import { DeskChat } from './DeskChat.js';
import { Commands, DeskHeader } from './DeskHeader.js';
import { DeskOrder } from './DeskOrder.js';
import { useFaultSound } from './fault-sound.js';
import { ViewersTell } from './ViewersTell.js';
import { LastMinutes } from './LastMinutes.js';
import { NearEnd } from './NearEnd.js';
import { NoteLine } from './NoteLine.js';
import { PlacesList } from './PlacesList.js';
import { ProgrammePicture } from './ProgrammePicture.js';
import { SaveClip } from './SaveClip.js';
import { SignalStrips } from './SignalStrips.js';
import { Spoken } from './Spoken.js';
import { Standby } from './Standby.js';
import { useDesk } from './useDesk.js';

/** The desk of an event: what people are getting right now, and what to do about it. Nothing scrolls away. */
export function DeskPage() {
  return <EventGate>{(event) => <Desk event={event} />}</EventGate>;
}

function Desk({ event }: { event: EventView }) {
  const { programme, incoming, source, sourceOf, places, isMoving, faults, line } = useDesk(event);
  const isWide = useMedia('(min-width: 64rem)');
  const isRoomy = useMedia('(min-width: 80rem)');
  const layout = useDefaultLayout({
    id: isRoomy ? 'heliphon.desk' : 'heliphon.desk.narrow',
    storage: localStorage,
  });
  useFaultSound(event.state === 'air' ? faults : []);
  const picture = (
    <>
      <ProgrammePicture event={event} hasPicture={programme?.signal.present ?? false} />
      <div className="flex shrink-0 flex-wrap items-center gap-3">
        <Spoken line={line} event={event} isFilm={programme?.filmLeftMs != null} />
        {isWide && (
          <div className="flex flex-wrap items-center gap-3 has-[form]:w-full">
            <NoteLine event={event} />
            <SaveClip event={event} />
          </div>
        )}
      </div>
    </>
  );
  const standby = event.standbySourceId && (
    <Standby
      event={event}
      feedingId={programme?.sourceId ?? null}
      first={sourceOf(event.sourceId)}
      standby={sourceOf(event.standbySourceId)}
    />
  );
  const goesTo = (
    <>
      <PlacesList event={event} places={places} isMoving={isMoving} programme={programme} />
      <DeskOrder event={event} />
    </>
  );
  if (!isWide)
    return (
      <div className="flex flex-1 flex-col">
        <DeskHeader event={event} />
        <NearEnd event={event} />
        <LastMinutes event={event} />
        <ViewersTell event={event} />
        <div className="flex flex-1 flex-col gap-2.5 px-4 pb-4">
          {picture}
          {standby}
          {goesTo}
          <EventTime event={event} />
          <ComingIn source={source} now={incoming} />
          <DeskChat event={event} />
        </div>
        {/* What has to be pressed in a hurry is at the thumb. */}
        <div className="sticky bottom-0 z-10 flex flex-wrap items-center justify-between gap-2 border-t border-edge bg-surface px-4 py-2">
          <NoteLine event={event} />
          <SaveClip event={event} />
          <div className="grow [&_button]:w-full">
            <Commands event={event} />
          </div>
        </div>
      </div>
    );
  return (
    // As high as the frame leaves it, and no higher.
    <div className="flex h-0 grow flex-col">
      <DeskHeader event={event} />
      <NearEnd event={event} />
      <LastMinutes event={event} />
      <ViewersTell event={event} />
      <Group
        orientation="horizontal"
        className="min-h-0 flex-1 px-5 pb-4 max-xl:pb-2"
        defaultLayout={layout.defaultLayout}
        onLayoutChanged={layout.onLayoutChanged}
      >
        <Panel
          id="programme"
          defaultSize={isRoomy ? '61%' : '52%'}
          minSize="45%"
          className="flex min-h-0 flex-col gap-2.5"
        >
          {picture}
          <EventTime event={event} />
        </Panel>
        <Separator
          aria-label={DESK_TEXT.widthOfThePicture}
          className="mx-1.5 w-2.5 rounded-md data-[separator=active]:bg-pressed data-[separator=hover]:bg-hover"
        />
        {/* Positioned, so that what only screen readers get scrolls with it and does not lengthen the page. */}
        <Panel id="side" minSize="25%" className="relative flex min-h-0 flex-col">
          <ComingIn source={source} now={incoming} />
          {standby}
          {goesTo}
          <DeskChat event={event} />
        </Panel>
      </Group>
    </div>
  );
}

/** The event's time, drawn to scale, and where we are in it. */
function EventTime({ event }: { event: EventView }) {
  const nowMs = useServerNow();
  return (
    <section aria-label={DESK_TEXT.theEventsTime} className="shrink-0 border-t border-line pt-2">
      <WhenBar event={event} nowMs={nowMs} />
      <SignalStrips event={event} />
    </section>
  );
}
