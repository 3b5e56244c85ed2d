import { Link } from 'react-router';
import { FIRST_STEPS, type FirstServiceView, type FirstStep } from '@heliphon/contracts/first-service';
import { useFirstService } from '../../data/house.js';
import { Button, buttonClass } from '../../ui/Button.js';
import { CopyField } from '../../ui/CopyField.js';
import { Mark } from '../../ui/Mark.js';
import { FIRST_STEP_WORDS } from '../../words/first-service.js';
import { WEEK_TEXT } from '../../words/console/week.js';

/** Stands above the week of a new house until all of it is done, for those who can do it. */
export function FirstService({ onPlan }: { onPlan: () => void }) {
  const { data } = useFirstService();
  if (!data || data.done.length === FIRST_STEPS.length) return null;
  const next = FIRST_STEPS.find((step) => !data.done.includes(step));
  return (
    <section
      aria-labelledby="first-service"
      className="mb-5 rounded-md border border-line bg-surface px-5 py-4"
    >
      <h2 id="first-service" className="text-[21px]">
        {WEEK_TEXT.theFirstService}
      </h2>
      <p className="mb-2 text-ink-soft">{WEEK_TEXT.stepsDone(data.done.length, FIRST_STEPS.length)}</p>
      <ol>
        {FIRST_STEPS.map((step) => (
          <Step key={step} step={step} view={data} isNext={step === next} onPlan={onPlan} />
        ))}
      </ol>
    </section>
  );
}

interface StepProps {
  readonly step: FirstStep;
  readonly view: FirstServiceView;
  readonly isNext: boolean;
  readonly onPlan: () => void;
}

function Step({ step, view, isNext, onPlan }: StepProps) {
  const words = FIRST_STEP_WORDS[step];
  const isDone = view.done.includes(step);
  return (
    <li className="flex flex-wrap items-center gap-x-4 gap-y-2 border-t border-line py-3">
      <span className={isDone ? 'text-pine' : 'text-ink-soft'}>
        <Mark name={isDone ? 'passed' : 'planned'} sizePx={20} inherit />
      </span>
      <div className="min-w-52 flex-1">
        <h3 className={`font-sans text-[16px] ${isDone ? 'font-normal text-ink-soft' : 'font-semibold'}`}>
          {words.name}
          <span className="sr-only">{isDone ? WEEK_TEXT.done : WEEK_TEXT.stillToDo}</span>
        </h3>
        <p className="text-[14px] text-ink-soft">{isDone ? words.done(view) : words.todo(view)}</p>
      </div>
      {!isDone && <Action step={step} view={view} isNext={isNext} onPlan={onPlan} />}
    </li>
  );
}

const ROOMS = { look: '/house/look', source: '/sources', help: '/house' } as const;

function Action({ step, view, isNext, onPlan }: StepProps) {
  const words = FIRST_STEP_WORDS[step].button(view);
  const kind = isNext ? 'main' : 'plain';
  if (step === 'event')
    return (
      <Button kind={kind} onClick={onPlan}>
        {words}
      </Button>
    );
  if (step === 'website')
    return view.slug ? (
      <div className="w-full max-w-xl">
        <CopyField
          label={WEEK_TEXT.theLineForYourWebsite}
          value={`<script async src="${location.origin}/embed.js" data-event="${view.slug}"></script>`}
          what={words}
        />
      </div>
    ) : null;
  return (
    <Link className={buttonClass(kind)} to={ROOMS[step]}>
      {words}
    </Link>
  );
}
