import { type FormEvent, useState } from 'react';
import { type Role, ROLES } from '@heliphon/core/access/capabilities';
import type { InvitationView, PersonView } from '@heliphon/contracts/people';
import {
  invitePerson,
  removePerson,
  setRoles,
  withdrawInvitation,
  useInvitations,
  usePeople,
} from '../../data/people.js';
import { useCan, useSession, useZone } from '../../data/session.js';
import { Button } from '../../ui/Button.js';
import { TextField } from '../../ui/Field.js';
import { Failed, Fault, Loading } from '../../ui/states.js';
import { toldWithUndo } from '../../ui/undo-toast.js';
import { useAction } from '../../ui/useAction.js';
import { fieldSentence } from '../../words/problems.js';
import { ROLE_WORDS } from '../../words/roles.js';
import { shortDay } from '@heliphon/contracts/time-words';
import { HOUSE_TEXT } from '../../words/console/house.js';

/** Who belongs to the house and what they may do; owners invite, change and take out. */
export function PeoplePart() {
  const canEdit = useCan('people.edit');
  const { data, error, mutate } = usePeople();
  const { data: invitations } = useInvitations(canEdit);
  const [isInviting, setInviting] = useState(false);
  if (error) return <Failed error={error} onRetry={() => void mutate()} />;
  if (!data) return <Loading what={HOUSE_TEXT.thePeople} />;
  return (
    <div className="max-w-4xl">
      <div className="mb-3 flex items-center gap-4">
        <p className="text-ink-soft">
          {data.items.length === 1 ? HOUSE_TEXT.onePerson : `${data.items.length} people`}
          {canEdit ? '' : HOUSE_TEXT.onlyAnOwnerCanInvite}
        </p>
        <span className="flex-1" />
        {canEdit && !isInviting && (
          <Button kind="main" onClick={() => setInviting(true)}>
            {HOUSE_TEXT.inviteSomebody}
          </Button>
        )}
      </div>
      {isInviting && <InviteForm onClose={() => setInviting(false)} />}
      <ul>
        {data.items.map((person) => (
          <PersonRow key={person.id} person={person} canEdit={canEdit} />
        ))}
        {invitations?.items.map((invitation) => (
          <InvitationRow key={invitation.id} invitation={invitation} />
        ))}
      </ul>
    </div>
  );
}

function PersonRow({ person, canEdit }: { person: PersonView; canEdit: boolean }) {
  const { data: session } = useSession();
  const [isOpen, setOpen] = useState(false);
  const action = useAction();
  const isSelf = session?.person.id === person.id;
  const change = (role: Role, isOn: boolean): void => {
    const roles = isOn ? [...person.roles, role] : person.roles.filter((held) => held !== role);
    void action.run(async () => {
      await setRoles(person.id, roles);
      toldWithUndo(HOUSE_TEXT.isNow(person.name, roleList(roles)), person.id);
    });
  };
  return (
    <li className="border-t border-line py-3">
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1">
        <div className="min-w-0 flex-1">
          <h2 className="text-[19px]">
            {person.name}
            {isSelf && (
              <span className="font-sans text-sm font-normal text-ink-soft"> {HOUSE_TEXT.thatIsYou}</span>
            )}
          </h2>
          <p className="text-ink-soft">
            {person.email} · {roleList(person.roles)}
            {person.hasSecondFactor && HOUSE_TEXT.twoStep}
          </p>
        </div>
        {canEdit && (
          <Button aria-expanded={isOpen} onClick={() => setOpen(!isOpen)}>
            {isOpen ? 'Close' : HOUSE_TEXT.changeRoles}
          </Button>
        )}
      </div>
      {isOpen && (
        <div className="grid gap-3 pt-3">
          <RoleBoxes roles={person.roles} onChange={change} />
          {!isSelf && (
            <Button
              kind="quiet"
              className="justify-self-start"
              onClick={() => void action.run(() => removePerson(person.id))}
            >
              {HOUSE_TEXT.removeFromTheHouse(person.name)}
            </Button>
          )}
          <Fault error={action.error} />
        </div>
      )}
    </li>
  );
}

const roleList = (roles: readonly Role[]): string =>
  roles.map((role) => ROLE_WORDS[role].name.toLowerCase()).join(' and ');

function RoleBoxes({
  roles,
  onChange,
}: {
  roles: readonly Role[];
  onChange: (role: Role, isOn: boolean) => void;
}) {
  return (
    <fieldset className="grid gap-1.5 sm:grid-cols-2">
      <legend className="mb-1 font-semibold">{HOUSE_TEXT.roles}</legend>
      {ROLES.map((role) => {
        const isHeld = roles.includes(role);
        return (
          <label key={role} className="flex min-h-8 items-center gap-2.5">
            <input
              type="checkbox"
              className="size-5 accent-[var(--pine)]"
              checked={isHeld}
              disabled={isHeld && roles.length === 1}
              onChange={(typed) => onChange(role, typed.target.checked)}
            />
            <span>
              <b>{ROLE_WORDS[role].name}</b> <span className="text-ink-soft">{ROLE_WORDS[role].may}</span>
            </span>
          </label>
        );
      })}
    </fieldset>
  );
}

function InvitationRow({ invitation }: { invitation: InvitationView }) {
  const zone = useZone();
  const action = useAction();
  return (
    <li className="flex flex-wrap items-center gap-4 border-t border-dashed border-edge py-3">
      <div className="flex-1">
        <h2 className="text-[19px]">{invitation.name}</h2>
        <p className="text-ink-soft">
          {HOUSE_TEXT.invitedUntil(
            invitation.email,
            roleList(invitation.roles),
            shortDay(invitation.expiresAtMs, zone),
          )}
        </p>
      </div>
      <Button
        kind="quiet"
        disabled={action.isBusy}
        onClick={() => void action.run(() => withdrawInvitation(invitation.id))}
      >
        {HOUSE_TEXT.withdraw}
      </Button>
    </li>
  );
}

function InviteForm({ onClose }: { onClose: () => void }) {
  const [wish, setWish] = useState({ name: '', email: '', roles: ['operator'] as readonly Role[] });
  const action = useAction();
  const submit = (event: FormEvent): void => {
    event.preventDefault();
    void action.run(async () => {
      await invitePerson(wish);
      onClose();
    });
  };
  return (
    <form onSubmit={submit} noValidate className="mb-4 grid gap-3 border-t border-line py-4">
      <div className="grid gap-3 sm:grid-cols-2">
        <TextField
          label={HOUSE_TEXT.name}
          needed
          autoFocus
          value={wish.name}
          error={fieldSentence(action.error, 'name')}
          onChange={(typed) => setWish({ ...wish, name: typed.target.value })}
        />
        <TextField
          label={HOUSE_TEXT.email}
          needed
          type="email"
          value={wish.email}
          error={fieldSentence(action.error, 'email')}
          onChange={(typed) => setWish({ ...wish, email: typed.target.value })}
        />
      </div>
      <RoleBoxes
        roles={wish.roles}
        onChange={(role, isOn) =>
          setWish({
            ...wish,
            roles: isOn ? [...wish.roles, role] : wish.roles.filter((held) => held !== role),
          })
        }
      />
      <Fault error={action.error} exceptAt={['email', 'name']} />
      <div className="flex gap-3">
        <Button kind="main" type="submit" disabled={action.isBusy}>
          {HOUSE_TEXT.sendTheInvitation}
        </Button>
        <Button onClick={onClose}>{HOUSE_TEXT.cancel}</Button>
      </div>
    </form>
  );
}
