import { type FormEvent, type ReactNode, useState } from 'react';
import type { WatchRefusal } from '@heliphon/core/access/watch-rules';
import type { PublicEvent } from '@heliphon/contracts/public-event';
import { dayAndTime, withClockThere } from '../words/public-time.js';
import { ApiError } from '../data/api.js';
import { admit, wasInvitationRefused } from './admissions.js';
import { say } from '../words/say.js';

interface RefusedProps {
  readonly event: PublicEvent;
  readonly refusal: WatchRefusal;
  readonly onAdmitted: () => void;
}

/** What stands in the picture's place for somebody who may not watch: when it is, why they may not, and what to do. */
export function Refused({ event, refusal, onAdmitted }: RefusedProps) {
  const isAhead = event.state === 'planned' || event.state === 'doors';
  return (
    <div className="relative grid aspect-video place-items-center bg-[var(--player-deep)] [overflow:clip]">
      {event.posterUrl && (
        <img src={event.posterUrl} alt="" className="absolute inset-0 h-full w-full object-cover" />
      )}
      <div className="relative grid h-full w-full content-center justify-items-center gap-3 bg-[rgb(8_13_24/78%)] p-5 text-center text-[1.125rem] text-[var(--player-ink)]">
        {isAhead && <p>{withClockThere(dayAndTime(event.startsAtMs), event.startsAtMs, event.zone)}</p>}
        <Why event={event} refusal={refusal} onAdmitted={onAdmitted} />
      </div>
    </div>
  );
}

function Why({ event, refusal, onAdmitted }: RefusedProps) {
  const { house, slug } = event;
  switch (refusal.why) {
    case 'site':
      return (
        <Told
          title={refusal.hosts.length > 0 ? say('refused.onlyElsewhere') : say('refused.notOnThisWebsite')}
        >
          {refusal.hosts.length === 0 ? (
            <Way href={`/watch/${slug}`}>{say('refused.openOwnPage')}</Way>
          ) : (
            refusal.hosts.map((host) => (
              <Way key={host} href={`${location.protocol}//${host}`}>
                {host}
              </Way>
            ))
          )}
        </Told>
      );
    case 'country':
      return (
        <Told title={say('refused.notInYourCountry')}>
          {say('refused.askIfMistaken', { house: house.name })}
        </Told>
      );
    case 'password':
      return (
        <Told title={say('refused.needsPassword')}>
          <PasswordForm
            slug={slug}
            hint={say('refused.whoTellsPassword', { house: house.name })}
            onAdmitted={onAdmitted}
          />
        </Told>
      );
    case 'invited':
      return (
        <Told title={wasInvitationRefused() ? say('refused.invitationNotGood') : say('refused.forInvited')}>
          {say('refused.openYourLink', { house: house.name })}
        </Told>
      );
    case 'devices':
      return (
        <Told title={say('refused.invitationInUse', { count: refusal.most })}>
          {say('refused.closeItThere')}
        </Told>
      );
    case 'house':
      return (
        <Told title={say('refused.forPeopleOf', { house: house.name })}>
          <Way href="/">{say('refused.signIn')}</Way>
        </Told>
      );
  }
}

const Told = ({ title, children }: { title: string; children: ReactNode }) => (
  <section role="status" className="grid max-w-[44ch] justify-items-center gap-3">
    <h2 className="font-serif text-[clamp(1.25rem,3vw,1.625rem)] leading-tight font-semibold">{title}</h2>
    <div className="grid justify-items-center gap-1">{children}</div>
  </section>
);

/** Opens outside of a frame: what is in an embed cannot be signed in to, nor does it lead anywhere. */
const Way = ({ href, children }: { href: string; children: ReactNode }) => (
  <a
    href={href}
    target="_top"
    className="inline-flex min-h-[46px] items-center font-semibold underline underline-offset-4"
  >
    {children}
  </a>
);

interface PasswordFormProps {
  readonly slug: string;
  readonly hint: string;
  readonly onAdmitted: () => void;
}

function PasswordForm({ slug, hint, onAdmitted }: PasswordFormProps) {
  const [password, setPassword] = useState('');
  const [error, setError] = useState<unknown>(null);
  const submit = (submitted: FormEvent): void => {
    submitted.preventDefault();
    setError(null);
    admit(slug, { password }).then(onAdmitted, setError);
  };
  return (
    <form onSubmit={submit} className="grid w-[min(340px,100%)] gap-2 text-start">
      <label className="grid gap-1">
        <span className="font-semibold">{say('refused.password')}</span>
        {/* Shown as it is typed: it is told to everybody who may come, and long to spell. */}
        <input
          className="min-h-[46px] w-full rounded-md border border-[var(--player-ink)] bg-[var(--player-deep)] px-3 text-[var(--player-ink)]"
          value={password}
          onChange={(typed) => setPassword(typed.target.value)}
          autoComplete="off"
          autoCapitalize="none"
          spellCheck={false}
          required
        />
      </label>
      <p className="text-[1rem]" role={error === null ? undefined : 'alert'}>
        {error === null ? hint : wrongWords(error)}
      </p>
      <button type="submit" className="public-button">
        {say('refused.watch')}
      </button>
    </form>
  );
}

function wrongWords(error: unknown): string {
  if (!(error instanceof ApiError)) return say('problem.offline');
  const { code, params } = error.problem;
  if (code === 'watch-password-wrong') return say('refused.passwordWrong');
  return code === 'watch-too-many-tries'
    ? say('refused.tooManyTries', { seconds: params['seconds'] ?? '' })
    : say('problem.offline');
}
