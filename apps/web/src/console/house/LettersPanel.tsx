import { chooseLetters } from '../../data/commands.js';
import { useOwnLetters } from '../../data/house.js';
import { Failed, Fault, Loading } from '../../ui/states.js';
import { useAction } from '../../ui/useAction.js';

/** Which letters one wants of this house. */
export function LettersPanel() {
  const { data, error, mutate } = useOwnLetters();
  const action = useAction();
  return (
    <section aria-label="Letters to me">
      <h2 className="mb-1 text-[19px]">Letters to me</h2>
      {error && <Failed error={error} onRetry={() => void mutate()} />}
      {!data && !error && <Loading what="your letters" rows={1} />}
      {data && (
        <label className="flex min-h-10 items-center gap-2.5">
          <input
            type="checkbox"
            className="size-5 accent-[var(--pine)]"
            checked={data.morning}
            disabled={action.isBusy}
            onChange={(typed) => void action.run(() => chooseLetters({ morning: typed.target.checked }))}
          />
          <span>In the morning: what is on today, and what is still to do for it</span>
        </label>
      )}
      <Fault error={action.error} />
    </section>
  );
}
