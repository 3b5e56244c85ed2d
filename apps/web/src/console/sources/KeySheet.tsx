import { useState } from 'react';
import type { SourceView } from '@heliphon/contracts/sources';
import { mutate } from 'swr';
import { renewKey } from '../../data/commands.js';
import { useCan, useSourceKey } from '../../data/house.js';
import { Button } from '../../ui/Button.js';
import { CopyField } from '../../ui/CopyField.js';
import { HoldButton } from '../../ui/HoldButton.js';
import { Failed, Loading } from '../../ui/states.js';
import { KeyCodes } from './KeyCodes.js';
import { PointChoice } from './PointChoice.js';

/** Address, key, and name, password and SRT where they are wanted: each with its copy button. */
export function KeySheet({ source }: { source: SourceView }) {
  const { data: key, error, mutate: again } = useSourceKey(source.id);
  const canRenew = useCan('keys.renew');
  const [isAsked, setAsked] = useState(false);
  const [renewError, setRenewError] = useState<unknown>(null);
  if (error) return <Failed error={error} onRetry={() => void again()} />;
  if (!key) return <Loading what="the key" rows={2} />;

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
      <CopyField label="Address" value={key.address} what="the address" />
      {key.second && (
        <CopyField
          label={`Second address, at ${key.second.point.place}, for an encoder that takes two`}
          value={key.second.address}
          what="the second address"
        />
      )}
      {key.secureAddress && (
        <CopyField label="Secured address" value={key.secureAddress} what="the secured address" />
      )}
      <CopyField label="Key" value={key.key} what="the key" secret />
      {key.user !== null && <CopyField label="Name" value={key.user} what="the name" />}
      {key.password !== null && (
        <CopyField label="Password" value={key.password} what="the password" secret />
      )}
      {key.whip && (
        <CopyField
          label="Address for WHIP; the key is its bearer token"
          value={key.whip}
          what="the address for WHIP"
        />
      )}
      {key.srt && (
        <>
          <CopyField label="Address for SRT" value={key.srt.address} what="the address for SRT" />
          <CopyField
            label={`Passphrase for SRT; latency ${key.srt.latencyMs} ms`}
            value={key.srt.passphrase}
            what="the passphrase"
            secret
          />
        </>
      )}
      <KeyCodes source={source} sourceKey={key} />
      {canRenew && !isAsked && (
        <Button kind="quiet" className="justify-self-start" onClick={() => setAsked(true)}>
          Renew the key …
        </Button>
      )}
      {isAsked && (
        <div className="grid gap-2 rounded-md border border-plum bg-plum-wash p-3">
          <p>An encoder that still has the old key is cut off at once.</p>
          <div className="flex flex-wrap gap-2">
            <HoldButton className="border-plum text-plum" onHeld={() => void renew()}>
              Renew the key: hold
            </HoldButton>
            <Button onClick={() => setAsked(false)}>Keep the old key</Button>
          </div>
        </div>
      )}
      {renewError !== null && <Failed error={renewError} />}
    </div>
  );
}
