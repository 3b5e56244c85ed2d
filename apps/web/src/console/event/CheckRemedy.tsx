import { Link } from 'react-router';
import type { Check } from '@heliphon/core/readiness/readiness';
import { useCan } from '../../data/session.js';
import { Button, buttonClass, type ButtonKind } from '../../ui/Button.js';
import { Fault } from '../../ui/states.js';
import { useAction } from '../../ui/useAction.js';
import { WATCHING_TEXT } from '../../words/console/watching.js';
import { LOOK_TEXT } from '../../words/console/look.js';
import { ACCOUNTS_TEXT } from '../../words/console/accounts.js';
import { openConsent } from '../places/consent-window.js';
import { CHECK_REMEDIES } from './check-remedies.js';

interface CheckRemedyProps {
  readonly check: Check;
  readonly eventId: string;
  readonly kind?: ButtonKind;
}

/** The one step that puts a check right. */
export function CheckRemedy({ check, eventId, kind = 'plain' }: CheckRemedyProps) {
  const remedy = CHECK_REMEDIES[check.code];
  if (remedy === null) return null;
  if (remedy === 'link-again') return <LinkAgain detail={check.detail} kind={kind} />;
  if (remedy === 'look' || remedy === 'watching')
    return (
      <Link to={`/${remedy}/event/${eventId}`} className={buttonClass(kind)}>
        {remedy === 'look' ? LOOK_TEXT.changeTheLook : WATCHING_TEXT.change}
      </Link>
    );
  return (
    <Link to={`/events/${eventId}/${remedy.stage}`} className={buttonClass(kind)}>
      {remedy.words}
    </Link>
  );
}

/** A consent is given again; whether a group lets us in is decided over there. */
function LinkAgain({ detail, kind }: { detail: Check['detail']; kind: ButtonKind }) {
  const canEdit = useCan('destinations.edit');
  const action = useAction();
  if (!canEdit || detail.kind === 'not-let-in')
    return (
      <Link to="/places" className={buttonClass(kind)}>
        {ACCOUNTS_TEXT.seeTheAccount}
      </Link>
    );
  const link = () => openConsent(String(detail.platform), String(detail.accountId));
  return (
    <>
      <Button kind={kind} disabled={action.isBusy} onClick={() => void action.run(link)}>
        {ACCOUNTS_TEXT.linkAgain}
      </Button>
      <Fault error={action.error} isSmall />
    </>
  );
}
