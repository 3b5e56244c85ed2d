import { useState } from 'react';
import type { SourceView } from '@heliphon/contracts/sources';
import { mutate } from 'swr';
import { renewKey, useSourceKey } from '../../data/sources.js';
import { useCan } from '../../data/session.js';
import { Button } from '../../ui/Button.js';
import { CopyField } from '../../ui/CopyField.js';
import { HoldButton } from '../../ui/HoldButton.js';
import { Failed, Loading } from '../../ui/states.js';
import { KeyCodes } from './KeyCodes.js';
import { PointChoice } from './PointChoice.js';
import { SOURCES_TEXT } from '../../words/console/sources.js';

/** Address, key, and name, password and SRT where they are wanted: each with its copy button. */
export function KeySheet({ source }: { source: SourceView }) {
  const { data: key, error, mutate: again } = useSourceKey(source.id);
  const canRenew = useCan('keys.renew');
  const [isAsked, setAsked] = useState(false);
  const [renewError, setRenewError] = useState<unknown>(null);
  if (error) return <Failed error={error} onRetry={() => void again()} />;
  if (!key) return <Loading what={SOURCES_TEXT.theKey} rows={2} />;

  const renew = async (): Promise<void> => {
    try {
      await renewKey(source);
      await mutate(`/api/sources/${source.id}/key`);
      setAsked(false);
    } catch (failed) {
      setRenewError(failed);
    }
  };

  return (
    <div className="grid gap-3">
      <PointChoice source={source} sourceKey={key} />
      <CopyField label={SOURCES_TEXT.address} value={key.address} what={SOURCES_TEXT.theAddress} />
      {key.second && (
        <CopyField
          label={SOURCES_TEXT.secondAddressAtForAn(key.second.point.place)}
          value={key.second.address}
          what={SOURCES_TEXT.theSecondAddress}
        />
      )}
      {key.secureAddress && (
        <CopyField
          label={SOURCES_TEXT.securedAddress}
          value={key.secureAddress}
          what={SOURCES_TEXT.theSecuredAddress}
        />
      )}
      <CopyField label={SOURCES_TEXT.key} value={key.key} what={SOURCES_TEXT.theKey} secret />
      {key.user !== null && (
        <CopyField label={SOURCES_TEXT.name} value={key.user} what={SOURCES_TEXT.theName} />
      )}
      {key.password !== null && (
        <CopyField
          label={SOURCES_TEXT.password}
          value={key.password}
          what={SOURCES_TEXT.thePassword}
          secret
        />
      )}
      {key.whip && (
        <CopyField
          label={SOURCES_TEXT.addressForWhipTheKey}
          value={key.whip}
          what={SOURCES_TEXT.theAddressForWhip}
        />
      )}
      {key.srt && (
        <>
          <CopyField
            label={SOURCES_TEXT.addressForSrt}
            value={key.srt.address}
            what={SOURCES_TEXT.theAddressForSrt}
          />
          <CopyField
            label={SOURCES_TEXT.passphraseForSrtLatencyMs(key.srt.latencyMs)}
            value={key.srt.passphrase}
            what={SOURCES_TEXT.thePassphrase}
            secret
          />
        </>
      )}
      <KeyCodes source={source} sourceKey={key} />
      {canRenew && !isAsked && (
        <Button kind="quiet" className="justify-self-start" onClick={() => setAsked(true)}>
          {SOURCES_TEXT.renewTheKey}
        </Button>
      )}
      {isAsked && (
        <div className="grid gap-2 rounded-md border border-plum bg-plum-wash p-3">
          <p>{SOURCES_TEXT.anyEncoderStillUsingThe}</p>
          <div className="flex flex-wrap gap-2">
            <HoldButton className="border-plum text-plum" onHeld={() => void renew()}>
              {SOURCES_TEXT.renewTheKeyHold}
            </HoldButton>
            <Button onClick={() => setAsked(false)}>{SOURCES_TEXT.keepTheOldKey}</Button>
          </div>
        </div>
      )}
      {renewError !== null && <Failed error={renewError} />}
    </div>
  );
}
