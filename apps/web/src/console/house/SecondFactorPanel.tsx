import { type FormEvent, useState } from 'react';
import type { SecondFactorOffer } from '@heliphon/contracts/people';
import { confirmSecondFactor, offerSecondFactor, removeSecondFactor } from '../../data/own.js';
import { Button } from '../../ui/Button.js';
import { CopyField } from '../../ui/CopyField.js';
import { TextField } from '../../ui/Field.js';
import { Mark } from '../../ui/Mark.js';
import { QrCode } from '../../ui/QrCode.js';
import { Fault } from '../../ui/states.js';
import { useAction } from '../../ui/useAction.js';
import { fieldSentence, problemSentence } from '../../words/problems.js';
import { HOUSE_TEXT } from '../../words/console/house.js';

/** A code from the telephone besides the password: set up, recovery codes shown once, switched off. */
export function SecondFactorPanel({ isOn }: { isOn: boolean }) {
  const [offer, setOffer] = useState<SecondFactorOffer | null>(null);
  const [codes, setCodes] = useState<readonly string[] | null>(null);
  const action = useAction();
  return (
    <section aria-label={HOUSE_TEXT.secondFactor}>
      <h2 className="mb-1 text-[19px]">{HOUSE_TEXT.secondFactor}</h2>
      {codes && <RecoveryCodes codes={codes} onDone={() => setCodes(null)} />}
      {!codes && isOn && <SwitchOff />}
      {!codes && !isOn && !offer && (
        <div className="flex flex-wrap items-center gap-4">
          <p className="max-w-[60ch] text-ink-soft">{HOUSE_TEXT.whenYouSignInYou}</p>
          <Button onClick={() => void action.run(async () => setOffer(await offerSecondFactor()))}>
            {HOUSE_TEXT.setUpTwoStepSign}
          </Button>
        </div>
      )}
      {!codes && !isOn && offer && (
        <Confirm
          offer={offer}
          onConfirmed={(made) => {
            setOffer(null);
            setCodes(made);
          }}
        />
      )}
      <Fault error={action.error} />
    </section>
  );
}

function Confirm({
  offer,
  onConfirmed,
}: {
  offer: SecondFactorOffer;
  onConfirmed: (codes: readonly string[]) => void;
}) {
  return (
    <div className="flex flex-wrap gap-6 pt-2">
      <QrCode value={offer.uri} label={HOUSE_TEXT.qrCode} />
      <div className="grid min-w-64 flex-1 content-start gap-3">
        <p>{HOUSE_TEXT.scanThisWithAnAuthenticator}</p>
        <CopyField label={HOUSE_TEXT.secret} value={offer.secret} what={HOUSE_TEXT.theSecret} />
        <CodeForm
          button={HOUSE_TEXT.switchItOn}
          onCode={async (code) => onConfirmed((await confirmSecondFactor(code)).recoveryCodes)}
        />
      </div>
    </div>
  );
}

function CodeForm({ button, onCode }: { button: string; onCode: (code: string) => Promise<unknown> }) {
  const [code, setCode] = useState('');
  const action = useAction();
  const submit = (event: FormEvent): void => {
    event.preventDefault();
    void action.run(() => onCode(code));
  };
  return (
    <form onSubmit={submit} className="flex flex-wrap items-start gap-2">
      <div className="w-60">
        <TextField
          label={HOUSE_TEXT.codeShownInTheApp}
          inputMode="numeric"
          autoComplete="one-time-code"
          value={code}
          error={fieldSentence(action.error, 'code') ?? (action.error ? problemSentence(action.error) : null)}
          onChange={(typed) => setCode(typed.target.value)}
        />
      </div>
      <Button kind="main" type="submit" className="mt-[26px]" disabled={action.isBusy || code === ''}>
        {button}
      </Button>
    </form>
  );
}

function RecoveryCodes({ codes, onDone }: { codes: readonly string[]; onDone: () => void }) {
  return (
    <div role="status" className="grid gap-3 rounded-md border border-plum bg-plum-wash p-4">
      <p className="max-w-[60ch]">{HOUSE_TEXT.twoStepSignInIs}</p>
      <ol className="figures grid grid-cols-2 gap-x-8 gap-y-1 justify-self-start">
        {codes.map((code) => (
          <li key={code}>{code}</li>
        ))}
      </ol>
      <div className="flex gap-3">
        <Button onClick={() => window.print()}>{HOUSE_TEXT.printThisPage}</Button>
        <Button kind="main" onClick={onDone}>
          {HOUSE_TEXT.iHaveWrittenThemDown}
        </Button>
      </div>
    </div>
  );
}

function SwitchOff() {
  const [isAsked, setAsked] = useState(false);
  return (
    <div className="grid gap-3">
      <p className="flex items-center gap-2">
        <Mark name="passed" /> {HOUSE_TEXT.secondFactorIsOn}
      </p>
      {isAsked ? (
        <CodeForm button={HOUSE_TEXT.switchItOffNow} onCode={removeSecondFactor} />
      ) : (
        <Button kind="quiet" className="justify-self-start" onClick={() => setAsked(true)}>
          {HOUSE_TEXT.switchItOff}
        </Button>
      )}
    </div>
  );
}
