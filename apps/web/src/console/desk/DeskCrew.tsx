import type { EventView } from '@heliphon/contracts/events';
import { chooseHolder, useAtDesk, useDeskHolder } from '../../data/desk.js';
import { useCan, useSession } from '../../data/session.js';
import { Button } from '../../ui/Button.js';
import { Fault } from '../../ui/states.js';
import { useAction } from '../../ui/useAction.js';
import { useKey } from '../../ui/useKey.js';
import { CREW_TEXT } from '../../words/console/crew.js';

/** Who is at the desk, and who is in charge of it. Shown only when there is somebody else to speak of. */
export function DeskCrew({ event }: { event: EventView }) {
  const people = useAtDesk(event.id);
  const { data: session } = useSession();
  const { data: desk } = useDeskHolder(event.id);
  const canHold = useCan('events.move');
  const action = useAction();
  const mine = session?.person.id;
  const holder = desk?.holder ?? null;
  const isMine = holder !== null && holder.personId === mine;
  const others = people.filter(({ personId }) => personId !== mine);
  const give = (personId: string): void => void action.run(() => chooseHolder(event.id, personId));
  const canTake = canHold && mine !== undefined && desk !== undefined && !isMine;
  const isShown = event.state !== 'kept' && (others.length > 0 || (holder !== null && !isMine));
  useKey('d', canTake && isShown ? () => give(mine) : null);
  if (!isShown) return null;
  const here = others.filter(({ personId }) => personId !== holder?.personId).map(({ name }) => name);
  return (
    <section
      aria-label={CREW_TEXT.atTheDesk}
      className="flex flex-wrap items-center gap-x-3 gap-y-1 text-sm xl:order-2 xl:w-full"
    >
      <p role="status">
        {holderWords(
          holder,
          isMine,
          others.some(({ personId }) => personId === holder?.personId),
        )}{' '}
        {here.length > 0 && (
          <span className="text-ink-soft">{CREW_TEXT.isHereToo(here.join(' and '), here.length > 1)}</span>
        )}
      </p>
      {canTake && (
        <Button disabled={action.isBusy} onClick={() => give(mine)}>
          {CREW_TEXT.iHaveTheDesk} <kbd className="figures text-[13px] text-ink-soft max-lg:hidden">D</kbd>
        </Button>
      )}
      {isMine &&
        others
          .filter((other) => other.canHold)
          .map(({ personId, name }) => (
            <Button key={personId} disabled={action.isBusy} onClick={() => give(personId)}>
              {CREW_TEXT.handOverTo(name)}
            </Button>
          ))}
      <Fault error={action.error} isSmall />
    </section>
  );
}

function holderWords(holder: { readonly name: string } | null, isMine: boolean, isHere: boolean): string {
  if (!holder) return CREW_TEXT.nobodyHasIt;
  if (isMine) return CREW_TEXT.youHaveIt;
  return isHere ? CREW_TEXT.hasIt(holder.name) : CREW_TEXT.hasItAway(holder.name);
}
