import { useEffect, useState } from 'react';
import { toast } from 'sonner';
import { CLIP_SECONDS } from '@heliphon/core/packaging/clip-range';
import type { EventView } from '@heliphon/contracts/events';
import { duration } from '@heliphon/contracts/time-words';
import { ApiError } from '../../data/api.js';
import { saveClip, useClip } from '../../data/clips.js';
import { useCan } from '../../data/session.js';
import { Button } from '../../ui/Button.js';
import { Fault } from '../../ui/states.js';
import { useAction } from '../../ui/useAction.js';
import { useKey } from '../../ui/useKey.js';
import { CLIP_TEXT } from '../../words/console/clips.js';

const LENGTHS_SECONDS = [CLIP_SECONDS.least, CLIP_SECONDS.usual, 60, 120, CLIP_SECONDS.most] as const;
const REMEMBERED_AS = 'heliphon.clip.seconds';
const TOLD_MS = 12_000;

/** Saves what has just been shown: by a press, or by `S`. How much is remembered in this browser. */
export function SaveClip({ event }: { event: EventView }) {
  const canSave = useCan('events.move') && event.state === 'air' && event.rehearsalOf === null;
  const [seconds, setSeconds] = useState(rememberedSeconds);
  const [waitingFor, setWaitingFor] = useState<string | null>(null);
  const action = useAction();
  useTold(waitingFor, () => setWaitingFor(null));
  const save = (): void => void action.run(async () => setWaitingFor((await saveClip(event.id, seconds)).id));
  useKey('s', canSave && !action.isBusy ? save : null);
  if (!canSave) return null;
  const choose = (chosen: number): void => {
    setSeconds(chosen);
    localStorage.setItem(REMEMBERED_AS, String(chosen));
  };
  const length = duration(seconds * 1000);
  return (
    <div className="flex items-center">
      <Button
        large
        aria-label={CLIP_TEXT.saveTheLast(length)}
        disabled={action.isBusy || waitingFor !== null}
        onClick={save}
        className="rounded-r-none border-r-0"
      >
        {waitingFor ? CLIP_TEXT.beingMade : CLIP_TEXT.saveTheLastOf}
        <kbd className="figures text-[13px] text-ink-soft max-lg:hidden">S</kbd>
      </Button>
      <select
        aria-label={CLIP_TEXT.howMuch}
        value={seconds}
        onChange={(chosen) => choose(Number(chosen.target.value))}
        className="min-h-11 rounded-md rounded-l-none border border-edge bg-surface px-2"
      >
        {LENGTHS_SECONDS.map((each) => (
          <option key={each} value={each}>
            {duration(each * 1000)}
          </option>
        ))}
      </select>
      <Fault error={action.error} isSmall />
    </div>
  );
}

function rememberedSeconds(): number {
  const seconds = Number(localStorage.getItem(REMEMBERED_AS));
  return LENGTHS_SECONDS.find((one) => one === seconds) ?? CLIP_SECONDS.usual;
}

/** Says when a clip is there, with the way to it, or that there was nothing to save. */
function useTold(waitingFor: string | null, onTold: () => void): void {
  const { data: clip, error } = useClip(waitingFor);
  const isGone = error instanceof ApiError && error.status === 404;
  const isMade = clip !== undefined && clip.durationMs > 0;
  useEffect(() => {
    if (!isMade && !isGone) return;
    onTold();
    if (isGone) return void toast.error(CLIP_TEXT.couldNotBeSaved, { duration: TOLD_MS });
    toast(CLIP_TEXT.isSaved(clip!.title), {
      duration: TOLD_MS,
      action: {
        label: CLIP_TEXT.lookAtIt,
        onClick: () => window.open(`/watch/${clip!.slug}`, '_blank', 'noreferrer'),
      },
    });
  });
}
