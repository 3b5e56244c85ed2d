import type { EventView } from '@heliphon/contracts/events';
import { editEvent } from '../../data/events.js';
import { useCan } from '../../data/session.js';
import { Button } from '../../ui/Button.js';
import { Fault } from '../../ui/states.js';
import { useAction } from '../../ui/useAction.js';
import { EVENT_TEXT } from '../../words/console/event.js';

/** That an event is a draft, and the step that makes it public. */
export function DraftLine({ event }: { event: EventView }) {
  const canPlan = useCan('events.edit');
  const action = useAction();
  if (!event.isDraft) return null;
  return (
    <section
      aria-label={EVENT_TEXT.draft}
      className="mt-3 flex flex-wrap items-center gap-x-4 gap-y-2 border-y border-dashed border-edge py-2"
    >
      <p>
        <b>{EVENT_TEXT.thisIsADraft}</b> {EVENT_TEXT.onlyYourTeamSeesIt}
      </p>
      {canPlan && (
        <Button
          kind="main"
          disabled={action.isBusy}
          onClick={() => void action.run(() => editEvent(event.id, event.version, { isDraft: false }))}
        >
          {EVENT_TEXT.publishTheEvent}
        </Button>
      )}
      <Fault error={action.error} isSmall />
    </section>
  );
}
