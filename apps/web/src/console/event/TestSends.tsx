import type { EventView } from '@heliphon/contracts/events';
import type { TestSendView } from '@heliphon/contracts/test-sends';
import { useDestinations } from '../../data/destinations.js';
import { beginTestSend, useTestSends } from '../../data/postings.js';
import { useCan } from '../../data/session.js';
import { Button } from '../../ui/Button.js';
import { Mark } from '../../ui/Mark.js';
import { Fault } from '../../ui/states.js';
import { useAction } from '../../ui/useAction.js';
import { TEST_SEND_TEXT, testSendWords } from '../../words/console/test-sends.js';

interface TestSendsProps {
  readonly event: EventView;
  readonly rehearsal: EventView;
}

/** Tries out the places of an event in its rehearsal, each for ten seconds. */
export function TestSends({ event, rehearsal }: TestSendsProps) {
  const { data: places } = useDestinations();
  const { data: tests } = useTestSends(rehearsal.id);
  if (event.destinationIds.length === 0) return null;
  return (
    <div className="grid gap-1">
      <h3 className="font-sans text-[15px] font-semibold">{TEST_SEND_TEXT.title}</h3>
      <p className="text-[13px] text-ink-soft">{TEST_SEND_TEXT.hint}</p>
      <ul aria-label={TEST_SEND_TEXT.title} className="grid gap-1">
        {event.destinationIds.map((id) => (
          <Place
            key={id}
            rehearsal={rehearsal}
            destinationId={id}
            name={places?.items.find((place) => place.id === id)?.name ?? TEST_SEND_TEXT.aPlace}
            test={tests?.items.find(({ destinationId }) => destinationId === id) ?? null}
          />
        ))}
      </ul>
    </div>
  );
}

interface PlaceProps {
  readonly rehearsal: EventView;
  readonly destinationId: string;
  readonly name: string;
  readonly test: TestSendView | null;
}

function Place({ rehearsal, destinationId, name, test }: PlaceProps) {
  const canMove = useCan('events.move');
  const action = useAction();
  const words = test ? TEST_SEND_TEXT.again : TEST_SEND_TEXT.begin;
  const isRunning = test !== null && test.result === null;
  return (
    <li className="flex min-h-10 flex-wrap items-center gap-x-2.5">
      <Mark name={markOf(test)} />
      <b>{name}</b>
      <span role="status" className={test?.result && test.result !== 'taken' ? 'text-rust' : 'text-ink-soft'}>
        {testSendWords(test)}
      </span>
      {canMove && rehearsal.state === 'air' && !isRunning && (
        <Button
          className="!min-h-8 text-[13px]"
          aria-label={TEST_SEND_TEXT.ofPlace(words, name)}
          disabled={action.isBusy}
          onClick={() => void action.run(() => beginTestSend(rehearsal.id, destinationId))}
        >
          {words}
        </Button>
      )}
      <Fault error={action.error} isSmall />
    </li>
  );
}

function markOf(test: TestSendView | null): 'planned' | 'doors' | 'passed' | 'trouble' {
  if (!test) return 'planned';
  if (test.result === null) return 'doors';
  return test.result === 'taken' ? 'passed' : 'trouble';
}
