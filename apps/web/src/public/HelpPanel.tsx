import { useState } from 'react';
import type { PublicEvent } from '@heliphon/contracts/public-event';
import type { Complaint, TellOfTrouble, ViewerFinding } from '@heliphon/contracts/viewer-reports';
import { ApiError, ask } from '../data/api.js';
import { loggedMoments } from '../player/player-log.js';
import { admissionHeaders, passHeaders } from './admissions.js';
import { type CheckFacts, FINDING_SIDES, judge } from './help-check.js';
import { say } from '../words/say.js';

const PATIENCE_MS = 6000;

interface HelpPanelProps {
  readonly event: PublicEvent;
  readonly onClose: () => void;
}

/** "No sound? No picture?": asks which, looks, and says whether it is us or them. */
export function HelpPanel({ event, onClose }: HelpPanelProps) {
  const [result, setResult] = useState<ViewerFinding | 'checking' | null>(null);
  const [complaint, setComplaint] = useState<Complaint>('picture');
  const check = async (complaint: Complaint): Promise<void> => {
    setComplaint(complaint);
    setResult('checking');
    const [server, media] = await Promise.all([askAgain(event), measure(event.playback?.hls ?? null)]);
    const video = document.querySelector('video');
    const facts = {
      ...server,
      ...media,
      isMuted: video?.muted ?? false,
      volume: video?.volume ?? 1,
      isPlaying: video !== null && !video.paused,
      isSoundOnly: document.querySelector('[data-sound-only]') !== null,
    };
    setResult(judge(facts, complaint));
  };
  return (
    <section
      aria-label={say('help.title')}
      className="w-full rounded-md border border-edge bg-[var(--paper)] p-4"
    >
      <h2 className="mb-2 text-xl">{say('help.whatIsMissing')}</h2>
      <div className="flex flex-wrap gap-3">
        <button type="button" className="public-button" onClick={() => void check('picture')}>
          {say('help.picture')}
        </button>
        <button type="button" className="public-button" onClick={() => void check('sound')}>
          {say('help.sound')}
        </button>
        <button type="button" className="public-link" onClick={onClose}>
          {say('page.close')}
        </button>
      </div>
      <div role="status" className="pt-3">
        {result === 'checking' && <p>{say('help.looking')}</p>}
        {result !== null && result !== 'checking' && (
          <>
            <p className="font-semibold">
              {
                {
                  us: say('help.atOurEnd'),
                  you: say('help.atYourEnd'),
                  none: say('help.nothingBroken'),
                }[FINDING_SIDES[result]]
              }
            </p>
            <p>{say(`finding.${result}`)}</p>
            <TellTheHouse key={complaint} event={event} complaint={complaint} finding={result} />
          </>
        )}
      </div>
    </section>
  );
}

interface TellTheHouseProps extends Pick<TellOfTrouble, 'complaint' | 'finding'> {
  readonly event: PublicEvent;
}

/** Tells those at the desk, with what the player did: they see it at once, and in the report afterwards. */
function TellTheHouse({ event, complaint, finding }: TellTheHouseProps) {
  const [said, setSaid] = useState<string | null>(null);
  const tell = async (): Promise<void> => {
    const body: TellOfTrouble = { complaint, finding, moments: loggedMoments() };
    const path = `/api/public/events/${encodeURIComponent(event.slug)}/reports`;
    try {
      await ask(path, { method: 'POST', body, headers: passHeaders(event.pass) });
      setSaid(say('help.told', { house: event.house.name }));
    } catch (error) {
      const isTold = error instanceof ApiError && error.status === 429;
      setSaid(isTold ? say('help.told', { house: event.house.name }) : say('page.cannotBeReached'));
    }
  };
  if (event.state !== 'air' && event.state !== 'kept') return null;
  return said === null ? (
    <button type="button" className="public-link" onClick={() => void tell()}>
      {say('help.tell', { house: event.house.name })}
    </button>
  ) : (
    <p>{said}</p>
  );
}

/** What the house knows now: what this page was told last may be half a minute old. */
async function askAgain(
  known: PublicEvent,
): Promise<Pick<CheckFacts, 'isPictureAway' | 'state' | 'didServerAnswer'>> {
  const of = ({ state, signal }: PublicEvent) => ({
    state,
    isPictureAway: state === 'air' && signal?.present === false,
  });
  try {
    const answer = await fetch(`/api/public/events/${encodeURIComponent(known.slug)}`, {
      signal: AbortSignal.timeout(PATIENCE_MS),
      cache: 'no-store',
      headers: admissionHeaders(),
    });
    const now = answer.ok ? ((await answer.json()) as PublicEvent) : known;
    return { didServerAnswer: true, ...of(now) };
  } catch {
    return { didServerAnswer: false, ...of(known) };
  }
}

/** Asks for the playlist and for the newest segment in it, and how fast that came. */
async function measure(
  hls: string | null,
): Promise<{ didMediaAnswer: boolean | null; downloadBps: number | null }> {
  if (!hls) return { didMediaAnswer: null, downloadBps: null };
  try {
    const signal = AbortSignal.timeout(PATIENCE_MS);
    const text = await (await fetch(hls, { signal, cache: 'no-store' })).text();
    const segment = /^seg-\d+\.m4s$/gm.exec(text)?.[0];
    if (!segment) return { didMediaAnswer: true, downloadBps: null };
    const startMs = performance.now();
    const bytes = await (await fetch(new URL(segment, hls), { signal, cache: 'no-store' })).arrayBuffer();
    const seconds = Math.max(0.001, (performance.now() - startMs) / 1000);
    return { didMediaAnswer: true, downloadBps: (bytes.byteLength * 8) / seconds };
  } catch {
    return { didMediaAnswer: false, downloadBps: null };
  }
}
