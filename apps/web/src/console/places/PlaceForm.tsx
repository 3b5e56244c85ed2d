import { type FormEvent, useState } from 'react';
import {
  parseRtmpAddress,
  RTMP_DEFAULT_PORTS,
  RTMP_SCHEMES,
  type RtmpScheme,
} from '@heliphon/core/destinations/rtmp-address';
import type { AddressedPlaceView, DestinationParts, EditDestination } from '@heliphon/contracts/destinations';
import { Button } from '../../ui/Button.js';
import { SelectField, TextField } from '../../ui/Field.js';
import { Fault } from '../../ui/states.js';
import { useAction } from '../../ui/useAction.js';
import { fieldSentence, sentenceFor } from '../../words/problems.js';
import { PLACES_TEXT } from '../../words/console/places.js';

interface PlaceFormProps {
  readonly title: string;
  /** The place that is changed; `null` for a new one. */
  readonly place: AddressedPlaceView | null;
  readonly onSave: (wish: EditDestination & { name: string }) => Promise<unknown>;
  readonly onClose: () => void;
}

/** An address is pasted whole and taken apart before anybody's eyes, or typed in parts. */
export function PlaceForm({ title, place, onSave, onClose }: PlaceFormProps) {
  const [name, setName] = useState(place?.name ?? '');
  const [isInParts, setInParts] = useState(false);
  const [address, setAddress] = useState('');
  const [parts, setParts] = useState<PartsDraft>(() => draftOf(place));
  const action = useAction();
  const wantsAddress = place === null || address.trim() !== '';
  const submit = (event: FormEvent): void => {
    event.preventDefault();
    const where = isInParts ? { parts: partsOf(parts) } : wantsAddress ? { address } : {};
    void action.run(async () => {
      await onSave({ name, ...where });
      onClose();
    });
  };
  return (
    <form onSubmit={submit} className="grid max-w-2xl gap-3 py-4">
      <TextField
        label={PLACES_TEXT.nameOfThePlace}
        needed
        value={name}
        onChange={(typed) => setName(typed.target.value)}
        error={fieldSentence(action.error, 'name')}
      />
      <div role="group" aria-label={PLACES_TEXT.howToGiveTheAddress} className="flex gap-2">
        <Button aria-pressed={!isInParts} onClick={() => setInParts(false)}>
          {PLACES_TEXT.pasteTheWholeAddress}
        </Button>
        <Button aria-pressed={isInParts} onClick={() => setInParts(true)}>
          {PLACES_TEXT.enterItInParts}
        </Button>
      </div>
      {isInParts ? (
        <PartsFields parts={parts} onChange={setParts} isNew={place === null} error={action.error} />
      ) : (
        <WholeAddress address={address} onChange={setAddress} isNew={place === null} error={action.error} />
      )}
      <Fault error={action.error} exceptAt={['name', 'address']} />
      <div className="flex gap-3">
        <Button kind="main" type="submit" disabled={action.isBusy}>
          {title}
        </Button>
        <Button onClick={onClose}>{PLACES_TEXT.cancel}</Button>
      </div>
    </form>
  );
}

interface WholeAddressProps {
  readonly address: string;
  readonly onChange: (address: string) => void;
  readonly isNew: boolean;
  readonly error: unknown;
}

function WholeAddress({ address, onChange, isNew, error }: WholeAddressProps) {
  const parsed = parseRtmpAddress(address);
  const local = address.trim() !== '' && !parsed.ok ? sentenceFor(`address-${parsed.error.code}`) : null;
  return (
    <>
      <TextField
        label={isNew ? PLACES_TEXT.wholeAddressIncludingTheKey : PLACES_TEXT.newWholeAddressIncludingThe}
        needed={isNew}
        value={address}
        autoComplete="off"
        spellCheck={false}
        onChange={(typed) => onChange(typed.target.value)}
        error={local ?? fieldSentence(error, 'address')}
        hint={isNew ? PLACES_TEXT.forInstance : PLACES_TEXT.leaveEmptyToKeepThe}
      />
      {parsed.ok && (
        <dl
          className="grid grid-cols-[auto_1fr] gap-x-4 text-sm text-ink-soft"
          aria-label={PLACES_TEXT.thePartsOfTheAddress}
        >
          <dt>{PLACES_TEXT.secured}</dt>
          <dd>{parsed.value.scheme === 'rtmps' ? 'yes' : 'no'}</dd>
          <dt>{PLACES_TEXT.machine}</dt>
          <dd className="figures">{parsed.value.host}</dd>
          <dt>{PLACES_TEXT.port}</dt>
          <dd className="figures">{parsed.value.port}</dd>
          <dt>{PLACES_TEXT.application}</dt>
          <dd className="figures">{parsed.value.application}</dd>
          <dt>{PLACES_TEXT.key}</dt>
          <dd className="figures">{'•'.repeat(Math.min(12, parsed.value.streamName.length))}</dd>
          {parsed.value.login && (
            <>
              <dt>{PLACES_TEXT.name}</dt>
              <dd className="figures">{parsed.value.login.user}</dd>
            </>
          )}
        </dl>
      )}
    </>
  );
}

type PartsDraft = Record<'host' | 'port' | 'application' | 'streamName' | 'user' | 'password', string> & {
  readonly scheme: RtmpScheme;
};

const draftOf = (place: AddressedPlaceView | null): PartsDraft => ({
  scheme: place?.scheme ?? 'rtmps',
  host: place?.host ?? '',
  port: place ? String(place.port) : '',
  application: place?.application ?? '',
  streamName: '',
  user: place?.user ?? '',
  password: '',
});

const partsOf = (draft: PartsDraft): DestinationParts => ({
  scheme: draft.scheme,
  host: draft.host,
  port: draft.port === '' ? null : Number(draft.port),
  application: draft.application,
  user: draft.user || null,
  ...(draft.streamName ? { streamName: draft.streamName } : {}),
  ...(draft.password ? { password: draft.password } : {}),
});

interface PartsFieldsProps {
  readonly parts: PartsDraft;
  readonly onChange: (parts: PartsDraft) => void;
  readonly isNew: boolean;
  readonly error: unknown;
}

function PartsFields({ parts, onChange, isNew, error }: PartsFieldsProps) {
  const kept = isNew ? undefined : PLACES_TEXT.leaveEmptyToKeepIt;
  const field = (
    name: keyof PartsDraft,
    label: string,
    more: { hint?: string | undefined; secret?: boolean } = {},
  ) => (
    <TextField
      label={label}
      value={parts[name]}
      autoComplete="off"
      spellCheck={false}
      type={more.secret ? 'password' : 'text'}
      hint={more.hint}
      error={fieldSentence(error, `parts.${name}`)}
      onChange={(typed) => onChange({ ...parts, [name]: typed.target.value })}
    />
  );
  return (
    <div className="grid gap-3 sm:grid-cols-3">
      <SelectField
        label={PLACES_TEXT.secured}
        value={parts.scheme}
        onChange={(scheme) => onChange({ ...parts, scheme: scheme as RtmpScheme })}
        options={RTMP_SCHEMES.map((scheme) => ({
          value: scheme,
          label: scheme === 'rtmps' ? PLACES_TEXT.yesRtmps : PLACES_TEXT.noRtmp,
        }))}
      />
      {field('host', 'Machine')}
      {field('port', 'Port', { hint: PLACES_TEXT.unlessToldOtherwise(RTMP_DEFAULT_PORTS[parts.scheme]) })}
      {field('application', 'Application')}
      {field('streamName', 'Key', { secret: true, hint: kept })}
      <span className="max-sm:hidden" />
      {field('user', PLACES_TEXT.userNameIfItNeeds)}
      {field('password', 'Password', { secret: true, hint: kept })}
    </div>
  );
}
