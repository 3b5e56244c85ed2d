import { Command } from 'cmdk';
import { useEffect, useState } from 'react';
import { useNavigate } from 'react-router';
import { addDays } from '@heliphon/core/schedule/civil-time';
import { COMMANDS_FROM } from '@heliphon/core/schedule/event-life';
import { moveEvent, useEvents } from '../../data/events.js';
import { signOut, useCan, useZone } from '../../data/session.js';
import { useSources } from '../../data/sources.js';
import { chooseLight, useLight } from '../../ui/light.js';
import { Mark } from '../../ui/Mark.js';
import { dayAndTime } from '@heliphon/contracts/time-words';
import { ROOMS, SIDE_ROOMS } from './rooms.js';
import { useToday } from './useToday.js';
import { FRAME_TEXT } from '../../words/console/frame.js';

const DAYS_BACK = 7;
const DAYS_AHEAD = 30;
const ITEM =
  'flex min-h-10 cursor-pointer items-center gap-2.5 rounded-md px-3 data-[selected=true]:bg-hover data-[selected=true]:outline-2 data-[selected=true]:outline-focus';

/** `Ctrl K`: every room, event and action by its name. What is held elsewhere is held here too: it leads to the button. */
export function CommandPalette({ onKeys }: { onKeys: () => void }) {
  const [isOpen, setOpen] = useState(false);
  useEffect(() => {
    const onKeyDown = (event: KeyboardEvent): void => {
      if (event.key.toLowerCase() !== 'k' || !(event.ctrlKey || event.metaKey)) return;
      event.preventDefault();
      setOpen((open) => !open);
    };
    window.addEventListener('keydown', onKeyDown);
    return () => window.removeEventListener('keydown', onKeyDown);
  }, []);
  return (
    <Command.Dialog
      open={isOpen}
      onOpenChange={setOpen}
      label={FRAME_TEXT.searchAndCommands}
      loop
      overlayClassName="fixed inset-0 z-40 bg-[rgb(8_13_24/45%)]"
      contentClassName="fixed top-[12vh] left-1/2 z-50 w-[min(620px,94vw)] -translate-x-1/2 rounded-md border border-edge bg-ground p-2 text-ink"
    >
      <Command.Input
        placeholder={FRAME_TEXT.goToARoomOr}
        className="mb-2 min-h-11 w-full rounded-md border border-edge bg-surface px-3 placeholder:text-ink-soft"
      />
      <Command.List className="max-h-[52vh] overflow-y-auto">
        <Command.Empty className="p-3 text-ink-soft">{FRAME_TEXT.nothingFound}</Command.Empty>
        {isOpen && <Entries onDone={() => setOpen(false)} onKeys={onKeys} />}
      </Command.List>
    </Command.Dialog>
  );
}

function Entries({ onDone, onKeys }: { onDone: () => void; onKeys: () => void }) {
  const navigate = useNavigate();
  const zone = useZone();
  const { dayMs, onAir } = useToday();
  const { data: events } = useEvents(addDays(dayMs, -DAYS_BACK, zone), addDays(dayMs, DAYS_AHEAD, zone));
  const { data: sources } = useSources();
  const canMove = useCan('events.move');
  const light = useLight('day');
  const go = (to: string) => (): void => {
    onDone();
    void navigate(to);
  };
  const act = (work: () => void) => (): void => {
    onDone();
    work();
  };
  const opening = (events?.items ?? []).filter((event) => COMMANDS_FROM[event.state].includes('open-doors'));
  return (
    <>
      <Command.Group heading={FRAME_TEXT.rooms} className={GROUP}>
        {onAir && (
          <Command.Item
            className={ITEM}
            value={`on air now ${onAir.title}`}
            onSelect={go(`/events/${onAir.id}/air`)}
          >
            <Mark name="air" /> {FRAME_TEXT.onAirNow(onAir.title)}
          </Command.Item>
        )}
        {[...ROOMS, ...SIDE_ROOMS].map(({ to, name }) => (
          <Command.Item key={to} className={ITEM} value={`room ${name}`} onSelect={go(to)}>
            {name}
          </Command.Item>
        ))}
      </Command.Group>
      <Command.Group heading="Events" className={GROUP}>
        {events?.items.map((event) => (
          <Command.Item
            key={event.id}
            className={ITEM}
            value={`event ${event.title} ${event.id}`}
            onSelect={go(event.state === 'air' ? `/events/${event.id}/air` : `/events/${event.id}`)}
          >
            <Mark name={event.state} /> {event.title}
            <span className="text-[13px] text-ink-soft">{dayAndTime(event.startsAtMs, zone)}</span>
          </Command.Item>
        ))}
      </Command.Group>
      <Command.Group heading={FRAME_TEXT.doSomething} className={GROUP}>
        {canMove &&
          opening.slice(0, 3).map((event) => (
            <Command.Item
              key={event.id}
              className={ITEM}
              value={`open the doors of ${event.title} ${event.id}`}
              onSelect={act(() => void moveEvent(event, 'open-doors'))}
            >
              {FRAME_TEXT.openTheDoorsOf(event.title)}
            </Command.Item>
          ))}
        {sources?.items.map((source) => (
          <Command.Item
            key={source.id}
            className={ITEM}
            value={`address and key of ${source.name} ${source.id}`}
            onSelect={go(`/sources/${source.id}/sheet`)}
          >
            {FRAME_TEXT.sheetOf(source.name)}
          </Command.Item>
        ))}
        <Command.Item
          className={ITEM}
          value="light day booth"
          onSelect={act(() => chooseLight(light === 'day' ? 'booth' : 'day'))}
        >
          {light === 'day' ? FRAME_TEXT.changeToBoothLight : FRAME_TEXT.changeToDayLight}
        </Command.Item>
        <Command.Item className={ITEM} value="keys of this screen" onSelect={act(onKeys)}>
          {FRAME_TEXT.showTheKeys}
        </Command.Item>
        <Command.Item className={ITEM} value="sign out" onSelect={act(() => void signOut())}>
          {FRAME_TEXT.signOut}
        </Command.Item>
      </Command.Group>
    </>
  );
}

const GROUP =
  '[&_[cmdk-group-heading]]:px-3 [&_[cmdk-group-heading]]:pt-2 [&_[cmdk-group-heading]]:text-[13px] [&_[cmdk-group-heading]]:text-ink-soft';
