import { type FormEvent, useState } from 'react';
import type { WebhookDeliveryView } from '@heliphon/contracts/webhooks';
import { dayAndTime, timeOfDay } from '@heliphon/contracts/time-words';
import { useZone } from '../../data/session.js';
import {
  removeWebhook,
  renewWebhookSecret,
  setWebhook,
  tryWebhook,
  useWebhook,
  useWebhookDeliveries,
} from '../../data/webhooks.js';
import { Button } from '../../ui/Button.js';
import { CopyField } from '../../ui/CopyField.js';
import { TextField } from '../../ui/Field.js';
import { Mark } from '../../ui/Mark.js';
import { Failed, Fault, Loading } from '../../ui/states.js';
import { useAction } from '../../ui/useAction.js';
import { fieldSentence } from '../../words/problems.js';
import { WEBHOOK_KIND_WORDS, WEBHOOK_TEXT, webhookAnswerWords } from '../../words/console/webhooks.js';

/** The address of a program that is told what happens in this house. */
export function WebhookPanel() {
  const { data, error, mutate } = useWebhook();
  return (
    <section aria-label={WEBHOOK_TEXT.webhook}>
      <h2 className="mb-1 text-[19px]">{WEBHOOK_TEXT.webhook}</h2>
      <p className="mb-3 max-w-[70ch] text-ink-soft">{WEBHOOK_TEXT.whatItIs}</p>
      {error ? (
        <Failed error={error} onRetry={() => void mutate()} />
      ) : data === undefined ? (
        <Loading what={WEBHOOK_TEXT.theWebhook} rows={1} />
      ) : (
        <Address key={data?.address} known={data?.address ?? null} />
      )}
    </section>
  );
}

function Address({ known }: { known: string | null }) {
  const [address, setAddress] = useState(known ?? '');
  const [secret, setSecret] = useState<string | null>(null);
  const action = useAction();
  const renew = async (): Promise<void> => setSecret((await renewWebhookSecret()).secret);
  const submit = (event: FormEvent): void => {
    event.preventDefault();
    void action.run(() => setWebhook(address));
  };
  return (
    <div className="grid gap-3">
      <form onSubmit={submit} className="grid items-end gap-3 sm:grid-cols-[1fr_auto]">
        <TextField
          label={WEBHOOK_TEXT.address}
          type="url"
          placeholder="https://"
          value={address}
          error={fieldSentence(action.error, 'address')}
          onChange={(typed) => setAddress(typed.target.value)}
        />
        <Button
          kind="main"
          type="submit"
          disabled={action.isBusy || address.trim() === '' || address === known}
        >
          {known === null ? WEBHOOK_TEXT.set : WEBHOOK_TEXT.change}
        </Button>
      </form>
      <Fault error={action.error} exceptAt={['address']} />
      {known !== null && (
        <>
          <div className="flex flex-wrap gap-3">
            <Button disabled={action.isBusy} onClick={() => void action.run(tryWebhook)}>
              {WEBHOOK_TEXT.tryOut}
            </Button>
            <Button disabled={action.isBusy} onClick={() => void action.run(renew)}>
              {WEBHOOK_TEXT.newSecret}
            </Button>
            <Button disabled={action.isBusy} onClick={() => void action.run(removeWebhook)}>
              {WEBHOOK_TEXT.remove}
            </Button>
          </div>
          {secret && (
            <div role="status" className="grid gap-2 rounded-md border border-plum bg-plum-wash p-4">
              <p>{WEBHOOK_TEXT.copyTheSecret}</p>
              <CopyField label={WEBHOOK_TEXT.secret} value={secret} what={WEBHOOK_TEXT.secret} />
              <Button className="justify-self-start" onClick={() => setSecret(null)}>
                {WEBHOOK_TEXT.copiedIt}
              </Button>
            </div>
          )}
          <Deliveries />
        </>
      )}
    </div>
  );
}

function Deliveries() {
  const zone = useZone();
  const { data } = useWebhookDeliveries(true);
  return (
    <section aria-label={WEBHOOK_TEXT.lastDeliveries}>
      <h3 className="text-[15px] font-semibold">{WEBHOOK_TEXT.lastDeliveries}</h3>
      {data?.items.length === 0 && <p className="text-ink-soft">{WEBHOOK_TEXT.noneYet}</p>}
      <ul>
        {data?.items.map((delivery) => (
          <li key={delivery.id} className="flex flex-wrap items-center gap-x-3 border-t border-line py-1.5">
            <Mark name={markOf(delivery)} />
            <span className="figures text-[13px] text-ink-soft">
              {dayAndTime(delivery.createdAtMs, zone)}
            </span>
            <b>{WEBHOOK_KIND_WORDS[delivery.kind]}</b>
            <span>{deliveryWords(delivery, zone)}</span>
          </li>
        ))}
      </ul>
    </section>
  );
}

function markOf({ deliveredAtMs, answer }: WebhookDeliveryView): 'passed' | 'planned' | 'trouble' {
  if (deliveredAtMs !== null) return 'passed';
  return answer === null ? 'planned' : 'trouble';
}

function deliveryWords({ answer, deliveredAtMs, nextTryAtMs }: WebhookDeliveryView, zone: string): string {
  if (answer === null) return WEBHOOK_TEXT.onItsWay;
  if (deliveredAtMs !== null) return webhookAnswerWords(answer);
  const next =
    nextTryAtMs === null ? WEBHOOK_TEXT.gaveUp : WEBHOOK_TEXT.nextTry(timeOfDay(nextTryAtMs, zone));
  return `${webhookAnswerWords(answer)}; ${next}`;
}
