import { chooseLetters, useOwnLetters } from '../../data/own.js';
import { Failed, Fault, Loading } from '../../ui/states.js';
import { useAction } from '../../ui/useAction.js';
import { HOUSE_TEXT } from '../../words/console/house.js';

/** Which letters one wants of this house. */
export function LettersPanel() {
  const { data, error, mutate } = useOwnLetters();
  const action = useAction();
  return (
    <section aria-label={HOUSE_TEXT.emailsToMe}>
      <h2 className="mb-1 text-[19px]">{HOUSE_TEXT.emailsToMe}</h2>
      {error && <Failed error={error} onRetry={() => void mutate()} />}
      {!data && !error && <Loading what={HOUSE_TEXT.yourLetters} rows={1} />}
      {data && (
        <label className="flex min-h-10 items-center gap-2.5">
          <input
            type="checkbox"
            className="size-5 accent-[var(--pine)]"
            checked={data.morning}
            disabled={action.isBusy}
            onChange={(typed) => void action.run(() => chooseLetters({ morning: typed.target.checked }))}
          />
          <span>{HOUSE_TEXT.everyMorningWhatIsOn}</span>
        </label>
      )}
      <Fault error={action.error} />
    </section>
  );
}
