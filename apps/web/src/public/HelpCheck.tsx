import { useState } from 'react';
import type { PublicEvent } from '@heliphon/contracts/public-event';
import { type Finding, judge } from './help-check.js';
import { FINDING_WORDS } from '../words/public/help-check.js';
import { WATCH_TEXT } from '../words/public/watch.js';

const PATIENCE_MS = 6000;

/** "No sound? No picture?": asks which, looks, and says whether it is us or them. */
export function HelpCheck({ event }: { event: PublicEvent }) {
  const [isOpen, setOpen] = useState(false);
  const [result, setResult] = useState<Finding | 'checking' | null>(null);
  const check = async (complaint: 'picture' | 'sound'): Promise<void> => {
    setResult('checking');
    const [didServerAnswer, media] = await Promise.all([
      answers(`/api/public/events/${event.slug}`),
      measure(event.playback?.hls ?? null),
    ]);
    const video = document.querySelector('video');
    const facts = {
      isPictureAway: event.signal?.present === false && event.state === 'air',
      state: event.state,
      didServerAnswer,
      ...media,
      isMuted: video?.muted ?? false,
      volume: video?.volume ?? 1,
      isPlaying: video !== null && !video.paused,
      isSoundOnly: document.querySelector('[data-sound-only]') !== null,
    };
    setResult(judge(facts, complaint));
  };
  if (!isOpen) {
    return (
      <button type="button" className="public-link" onClick={() => setOpen(true)}>
        {WATCH_TEXT.noSoundNoPicture}
      </button>
    );
  }
  return (
    <section
      aria-label={WATCH_TEXT.noSoundNoPicture}
      className="w-full rounded-md border border-[#7b7460] bg-[var(--paper)] p-4"
    >
      <h2 className="mb-2 text-xl">{WATCH_TEXT.whatIsMissing}</h2>
      <div className="flex flex-wrap gap-3">
        <button type="button" className="public-button" onClick={() => void check('picture')}>
          {WATCH_TEXT.thePicture}
        </button>
        <button type="button" className="public-button" onClick={() => void check('sound')}>
          {WATCH_TEXT.theSound}
        </button>
        <button type="button" className="public-link" onClick={() => setOpen(false)}>
          {WATCH_TEXT.close}
        </button>
      </div>
      <div role="status" className="pt-3">
        {result === 'checking' && <p>{WATCH_TEXT.weAreLooking}</p>}
        {result !== null && result !== 'checking' && (
          <>
            <p className="font-semibold">
              {
                {
                  us: WATCH_TEXT.itIsAProblemAt,
                  you: WATCH_TEXT.itSeemsToBeAt,
                  none: WATCH_TEXT.nothingIsBroken,
                }[FINDING_WORDS[result].side]
              }
            </p>
            <p>{FINDING_WORDS[result].words}</p>
          </>
        )}
      </div>
    </section>
  );
}

async function answers(address: string): Promise<boolean> {
  try {
    await fetch(address, { signal: AbortSignal.timeout(PATIENCE_MS), cache: 'no-store' });
    return true;
  } catch {
    return false;
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
