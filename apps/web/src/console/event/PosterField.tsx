import { ImagePlus } from 'lucide-react';
import { type DragEvent, useRef, useState } from 'react';
import type { EventView } from '@heliphon/contracts/events';
import { removePoster, setPoster } from '../../data/events.js';
import { choosePoster } from '../../data/files.js';
import { Button } from '../../ui/Button.js';
import { Fault } from '../../ui/states.js';
import { ChooseFile } from '../files/ChooseFile.js';
import { EVENT_TEXT } from '../../words/console/event.js';

/** A picture for people who come early: dropped here, or chosen. */
export function PosterField({ event }: { event: EventView }) {
  const input = useRef<HTMLInputElement>(null);
  const [error, setError] = useState<unknown>(null);
  const [isSending, setSending] = useState(false);
  const [isChoosing, setChoosing] = useState(false);

  const send = async (file: File | undefined): Promise<void> => {
    if (!file) return;
    setSending(true);
    setError(null);
    await setPoster(event.id, file).catch(setError);
    setSending(false);
  };
  const drop = (dropped: DragEvent): void => {
    dropped.preventDefault();
    void send(dropped.dataTransfer.files[0]);
  };

  return (
    <div className="grid content-start gap-1">
      <span className="font-semibold" id="poster-label">
        {EVENT_TEXT.poster}
      </span>
      <div
        onDragOver={(over) => over.preventDefault()}
        onDrop={drop}
        className="flex min-h-[132px] items-center justify-center gap-3 overflow-hidden rounded-md border border-dashed border-edge"
      >
        {event.posterUrl && (
          <img
            src={event.posterUrl.replace('1280', '640')}
            alt={EVENT_TEXT.thePoster}
            className="h-[132px] object-cover"
          />
        )}
        <div className="grid justify-items-center gap-2 p-3">
          {!event.posterUrl && (
            <span className="text-center text-ink-soft">{EVENT_TEXT.dropAPictureHereOr}</span>
          )}
          <Button onClick={() => input.current?.click()} disabled={isSending}>
            <ImagePlus size={16} strokeWidth={1.75} aria-hidden />
            {isSending
              ? EVENT_TEXT.sending
              : event.posterUrl
                ? EVENT_TEXT.chooseAnother
                : EVENT_TEXT.chooseAPicture}
          </Button>
          <Button kind="quiet" onClick={() => setChoosing(true)}>
            {EVENT_TEXT.fromOurFiles}
          </Button>
          {event.posterUrl && (
            <Button kind="quiet" onClick={() => void removePoster(event.id).catch(setError)}>
              {EVENT_TEXT.removeIt}
            </Button>
          )}
        </div>
        <input
          ref={input}
          type="file"
          accept="image/*"
          className="sr-only"
          tabIndex={-1}
          aria-labelledby="poster-label"
          onChange={(chosen) => void send(chosen.target.files?.[0])}
        />
      </div>
      <Fault error={error} isSmall />
      {isChoosing && (
        <ChooseFile
          kind="picture"
          onClose={() => setChoosing(false)}
          onChoose={({ id }) => {
            setChoosing(false);
            setError(null);
            choosePoster('events', event.id, id).catch(setError);
          }}
        />
      )}
    </div>
  );
}
