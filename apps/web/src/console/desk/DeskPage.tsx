import { useState } from 'react';
import { Link } from 'react-router';
import { Group, Panel, Separator, useDefaultLayout } from 'react-resizable-panels';
import { COMMANDS_FROM, type CommandKind } from '@heliphon/core/schedule/event-life';
import type { EventView } from '@heliphon/contracts/events';
import type { HouseFigures } from '@heliphon/contracts/push';
import type { SourceView } from '@heliphon/contracts/sources';
import { moveEvent, skipFilm, useDeskAddress, usePublicEvent } from '../../data/events.js';
import { useCan, useZone } from '../../data/session.js';
import { useDestinations } from '../../data/destinations.js';
import { useSources } from '../../data/sources.js';
import { useLive, useProgrammeNow, useSourceNow } from '../../data/live.js';
import { useServerNow } from '../../data/server-clock.js';
import { Button, buttonClass } from '../../ui/Button.js';
import { HoldButton } from '../../ui/HoldButton.js';
import { Mark, STATE_WORDS } from '../../ui/Mark.js';
import { Fault } from '../../ui/states.js';
import { useAction } from '../../ui/useAction.js';
import { useMedia } from '../../ui/useMedia.js';
import { clock, duration, timeOfDay } from '@heliphon/contracts/time-words';
import { EventGate } from '../event/EventGate.js';
import { STAGE_NAMES } from '../event/StageRail.js';
import { WhenBar } from '../event/WhenBar.js';
import { ComingIn } from './ComingIn.js';
import { DeskChat } from './DeskChat.js';
import { DeskOrder } from './DeskOrder.js';
import { Monitor } from './Monitor.js';
import { NearEnd } from './NearEnd.js';
import { SignalStrips } from './SignalStrips.js';
import { PlacesList } from './PlacesList.js';
import { type DeskFacts, speak, type SpokenLine } from './spoken-line.js';
import { Sentence } from '../../ui/Sentence.js';
import { DESK_TEXT } from '../../words/console/desk.js';

/** The desk of an event: what people are getting right now, and what to do about it. Nothing scrolls away. */
export function DeskPage() {
  return <EventGate>{(event) => <Desk event={event} />}</EventGate>;
}

function Desk({ event }: { event: EventView }) {
  const { data: sources } = useSources();
  const { data: destinations } = useDestinations();
  const programme = useProgrammeNow(event.id);
  const incoming = useSourceNow(event.sourceId);
  const points = useLive().figures?.points ?? [];
  const isWide = useMedia('(min-width: 64rem)');
  const layout = useDefaultLayout({ id: 'heliphon.desk', storage: localStorage });
  const source = sources?.items.find((candidate) => candidate.id === event.sourceId) ?? null;
  const places = event.destinationIds.map((destinationId) => ({
    destinationId,
    isPaused: event.pausedDestinationIds.includes(destinationId),
    name: destinations?.items.find((place) => place.id === destinationId)?.name ?? DESK_TEXT.aPlace,
    state:
      programme?.destinations.find((place) => place.destinationId === destinationId)?.state ??
      ({ state: 'waiting' } as const),
  }));
  const line = speak({
    state: event.state,
    sourceName: source?.name ?? null,
    signalPresent:
      event.state === 'planned' ? Boolean(incoming?.report) : (programme?.signal.present ?? null),
    slateStands: programme?.viewersHave === 'slate',
    strayed: strayedOf(points, source, programme?.nodeId ?? null),
    filmLeftMs: programme?.filmLeftMs ?? null,
    sourceSends: Boolean(incoming?.report?.video),
    hasSound: Boolean(incoming?.report?.audio),
    recordingStopped: programme?.recordingStopped ?? null,
    loudness: incoming?.report?.audio?.loudness ?? null,
    places,
  });
  const picture = (
    <>
      <ProgrammePicture event={event} hasPicture={programme?.signal.present ?? false} />
      <Spoken line={line} event={event} isFilm={programme?.filmLeftMs != null} />
      <EventTime event={event} />
    </>
  );
  const side = (
    <>
      <ComingIn source={source} now={incoming} />
      <PlacesList
        event={event}
        places={places}
        viewersHave={programme?.viewersHave ?? null}
        viewers={programme?.viewers ?? 0}
        waiting={programme?.waiting ?? 0}
      />
      <DeskOrder event={event} />
      <DeskChat event={event} />
    </>
  );
  return (
    <div className="flex flex-1 flex-col lg:h-[calc(100vh-101px)] lg:flex-none">
      <DeskHeader event={event} />
      <NearEnd event={event} />
      {isWide ? (
        <Group
          orientation="horizontal"
          className="min-h-0 flex-1 px-5 pb-4"
          defaultLayout={layout.defaultLayout}
          onLayoutChanged={layout.onLayoutChanged}
        >
          <Panel id="programme" defaultSize="61%" minSize="45%" className="flex min-h-0 flex-col gap-2.5">
            {picture}
          </Panel>
          <Separator
            aria-label={DESK_TEXT.widthOfThePicture}
            className="mx-1.5 w-2.5 rounded-md data-[separator=active]:bg-pressed data-[separator=hover]:bg-hover"
          />
          <Panel id="side" minSize="25%" className="flex min-h-0 flex-col">
            {side}
          </Panel>
        </Group>
      ) : (
        <div className="flex flex-col gap-2.5 px-4 pb-4">
          {picture}
          {side}
        </div>
      )}
    </div>
  );
}

/** The ingest point that the source should send to has gone, and the event runs at another. */
function strayedOf(
  points: HouseFigures['points'],
  source: SourceView | null,
  runsAt: string | null,
): DeskFacts['strayed'] {
  const chosen = points.find(({ nodeId }) => nodeId === (source?.nodeId ?? points[0]?.nodeId));
  const now = points.find(({ nodeId }) => nodeId === runsAt);
  return chosen?.presence === 'away' && now && now !== chosen ? { from: chosen.place, to: now.place } : null;
}

function DeskHeader({ event }: { event: EventView }) {
  const zone = useZone();
  const nowMs = useServerNow();
  return (
    <header className="flex min-h-[54px] flex-wrap items-center gap-x-4 gap-y-2 px-5 py-2 max-lg:px-4">
      <StateLamp event={event} nowMs={nowMs} />
      <h1 className="text-[22px]">{event.title}</h1>
      <span className="text-ink-soft">{endWords(event, nowMs, zone)}</span>
      <nav
        aria-label={DESK_TEXT.stages}
        className="flex gap-4 text-sm text-ink-soft lg:max-xl:order-1 lg:max-xl:w-full xl:ml-2"
      >
        {(['plan', 'connect', 'rehearse', 'keep'] as const).map((stage) => (
          <Link key={stage} to={`/events/${event.id}/${stage}`} className="hover:text-ink hover:underline">
            {STAGE_NAMES[stage]}
          </Link>
        ))}
      </nav>
      <span className="flex-1" />
      <Commands event={event} />
    </header>
  );
}

function StateLamp({ event, nowMs }: { event: EventView; nowMs: number }) {
  if (event.state === 'air') {
    return (
      <p className="flex h-[38px] items-center gap-2.5 rounded-md bg-marigold py-1 pr-3.5 pl-2.5 text-[17px] font-bold text-on-marigold outline-2 outline-marigold-text">
        <Mark name="air" sizePx={24} inherit />
        <Sentence
          words={DESK_TEXT.onAirFor}
          time={<span className="figures">{clock(nowMs - (event.airAtMs ?? nowMs))}</span>}
        />
      </p>
    );
  }
  return (
    <p className="flex h-[38px] items-center gap-2.5 rounded-md border border-edge px-3 text-[17px] font-bold">
      <Mark name={event.state} sizePx={20} />
      {STATE_WORDS[event.state]}
      {event.state === 'doors' && (
        <span className="figures">{clock(event.startsAtMs - event.filmMs - nowMs)}</span>
      )}
    </p>
  );
}

function endWords(event: EventView, nowMs: number, zone: string): string {
  if (event.state === 'air') {
    const leftMs = event.stopsAtMs - nowMs;
    const at = timeOfDay(event.stopsAtMs, zone);
    return leftMs > 0 ? DESK_TEXT.endsAtIn(at, duration(leftMs)) : DESK_TEXT.shouldHaveEndedAt(at);
  }
  if (event.state === 'planned' || event.state === 'doors')
    return DESK_TEXT.goesOnAirByItself(timeOfDay(event.startsAtMs - event.filmMs, zone));
  return event.endAtMs ? DESK_TEXT.endedAt(timeOfDay(event.endAtMs, zone)) : '';
}

const COMMAND_WORDS: Readonly<Record<CommandKind, string>> = {
  'open-doors': DESK_TEXT.openTheDoors,
  'go-on-air': DESK_TEXT.goOnAirHold,
  end: DESK_TEXT.endForEveryoneHold,
};

/** Going on air and ending are held for a second; opening the doors is not. */
function Commands({ event }: { event: EventView }) {
  const canMove = useCan('events.move');
  const [error, setError] = useState<unknown>(null);
  const run = (kind: CommandKind): void => {
    setError(null);
    moveEvent(event, kind).catch(setError);
  };
  if (!canMove) return null;
  return (
    <div className="flex items-center gap-3">
      <Fault error={error} isSmall />
      {COMMANDS_FROM[event.state]
        .filter((kind) => kind !== 'end' || event.state === 'air')
        .map((kind) =>
          kind === 'open-doors' ? (
            <button key={kind} type="button" className={buttonClass('plain', true)} onClick={() => run(kind)}>
              {COMMAND_WORDS[kind]}
            </button>
          ) : (
            <HoldButton
              key={kind}
              onHeld={() => run(kind)}
              className={
                kind === 'go-on-air' ? 'border-marigold-text bg-marigold text-on-marigold' : 'border-ink-soft'
              }
            >
              {COMMAND_WORDS[kind]}
            </HoldButton>
          ),
        )}
    </div>
  );
}

/** What line, time and strips leave free, and in it a picture as large as it may be: nothing scrolls. */
const FREE_ROOM = 'lg:[container-type:size] lg:min-h-0 lg:flex-1';
const LARGEST = 'lg:w-[min(100cqw,calc(100cqh*16/9))]';

/**
 * The programme as viewers have it: the same parts, under the desk's own grant, so that the desk is not counted among
 * them; once kept, the replay.
 */
function ProgrammePicture({ event, hasPicture }: { event: EventView; hasPicture: boolean }) {
  const isLit = event.state === 'air';
  const desk = useDeskAddress(isLit ? event.id : null);
  const kept = usePublicEvent(event.state === 'kept' ? event.slug : null);
  const [source, renew] = isLit
    ? [desk.data && ({ kind: 'live', hls: desk.data.hls } as const), desk.mutate]
    : [kept.data?.playback, kept.mutate];
  if (source)
    return (
      <div className={FREE_ROOM}>
        <div className={LARGEST}>
          <Monitor source={source} title={event.title} isLit={isLit} onDenied={() => void renew()} />
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

const REMEDIES = {
  places: { words: DESK_TEXT.checkThePlace, to: () => '/places' },
  connect: { words: DESK_TEXT.howToConnect, to: ({ id }: EventView) => `/events/${id}/connect` },
  archive: { words: DESK_TEXT.makeRoomInTheArchive, to: () => '/archive' },
} as const;

function Spoken({ line, event, isFilm }: { line: SpokenLine; event: EventView; isFilm: boolean }) {
  const canMove = useCan('events.move');
  const action = useAction();
  const remedy = line.remedy && REMEDIES[line.remedy];
  return (
    <div className="flex min-h-[58px] items-center gap-3 text-[17px] leading-snug" role="status">
      <p className="flex-1">
        {line.seen}
        {line.trouble && <strong className="block font-semibold text-rust">{line.trouble}</strong>}
      </p>
      <Fault error={action.error} isSmall />
      {isFilm && canMove && (
        <Button large disabled={action.isBusy} onClick={() => void action.run(() => skipFilm(event.id))}>
          {DESK_TEXT.cutToTheLivePicture}
        </Button>
      )}
      {remedy && (
        <Link to={remedy.to(event)} className={buttonClass('mend', true)}>
          {remedy.words}
        </Link>
      )}
    </div>
  );
}
