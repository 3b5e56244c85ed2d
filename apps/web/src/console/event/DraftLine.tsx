import type { EventView } from '@heliphon/contracts/events';
import { editEvent } from '../../data/commands.js';
import { useCan } from '../../data/house.js';
import { Button } from '../../ui/Button.js';
import { Fault } from '../../ui/states.js';
import { useAction } from '../../ui/useAction.js';

/** That an event is a draft, and the step that makes it public. */
export function DraftLine({ event }: { event: EventView }) {
  const canPlan = useCan('events.edit');
  const action = useAction();
  if (!event.isDraft) return null;
  return (
    <section
      aria-label="Draft"
      className="mt-3 flex flex-wrap items-center gap-x-4 gap-y-2 border-y border-dashed border-edge py-2"
    >
      <p>
        <b>This is a draft.</b> Only your team sees it, nobody has been told, and it does not go on air.
      </p>
      {canPlan && (
        <Button
          kind="main"
          disabled={action.isBusy}
          onClick={() => void action.run(() => editEvent(event.id, event.version, { isDraft: false }))}
        >
          Publish the event
        </Button>
      )}
      <Fault error={action.error} isSmall />
    </section>
  );
}
