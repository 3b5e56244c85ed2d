import { type FormEvent, useState } from 'react';
import type { RecordingView } from '@heliphon/contracts/house';
import { editRecording, setRecordingPoster, useRecordingFiles } from '../../data/recordings.js';
import { usePlayer } from '../../player/usePlayer.js';
import { Button, buttonClass } from '../../ui/Button.js';
import { TextArea, TextField } from '../../ui/Field.js';
import { Fault, Loading } from '../../ui/states.js';
import { toldWithUndo } from '../../ui/undo-toast.js';
import { useAction } from '../../ui/useAction.js';
import { fieldSentence } from '../../words/problems.js';
import { clock, duration } from '@heliphon/contracts/time-words';
import { ARCHIVE_TEXT } from '../../words/console/archive.js';

interface RecordingEditorProps {
  readonly recording: RecordingView;
  readonly onBin: () => void;
}

/** A recording's words, its picture, its file, and the bin. */
export function RecordingEditor({ recording, onBin }: RecordingEditorProps) {
  const { data: files } = useRecordingFiles(recording.id);
  return (
    <div className="grid gap-6 pt-4 md:grid-cols-2 md:pl-36">
      <WordsForm key={recording.version} recording={recording} />
      <div className="grid content-start gap-4">
        {files ? (
          <PosterFromFrame recording={recording} frames={files.frames} replay={files.replay} />
        ) : (
          <Loading what={ARCHIVE_TEXT.thePicture} rows={2} />
        )}
        <div className="flex flex-wrap gap-3">
          {files && (
            <a className={buttonClass()} href={files.mp4} download>
              {ARCHIVE_TEXT.downloadAsMp4}
            </a>
          )}
          <Button onClick={onBin}>{ARCHIVE_TEXT.putItInTheBin}</Button>
        </div>
      </div>
    </div>
  );
}

function WordsForm({ recording }: { recording: RecordingView }) {
  const [title, setTitle] = useState(recording.title);
  const [description, setDescription] = useState(recording.description);
  const [keepsGaps, setKeepsGaps] = useState(recording.keepsGaps);
  const action = useAction();
  const submit = (event: FormEvent): void => {
    event.preventDefault();
    void action.run(async () => {
      await editRecording(recording, { title, description, keepsGaps });
      toldWithUndo(ARCHIVE_TEXT.theRecordingIsSaved, recording.id);
    });
  };
  const isUnchanged =
    title === recording.title && description === recording.description && keepsGaps === recording.keepsGaps;
  return (
    <form onSubmit={submit} className="grid content-start gap-3">
      <TextField
        label={ARCHIVE_TEXT.titleOfTheRecording}
        needed
        value={title}
        error={fieldSentence(action.error, 'title')}
        onChange={(typed) => setTitle(typed.target.value)}
      />
      <TextArea
        label={ARCHIVE_TEXT.description}
        rows={4}
        value={description}
        onChange={(typed) => setDescription(typed.target.value)}
      />
      {recording.gapsMs > 0 && (
        <label className="flex min-h-10 items-center gap-2.5">
          <input
            type="checkbox"
            className="size-5 accent-[var(--pine)]"
            checked={keepsGaps}
            onChange={(typed) => setKeepsGaps(typed.target.checked)}
          />
          <span>{ARCHIVE_TEXT.keepTheGaps(duration(Math.max(1000, recording.gapsMs)))}</span>
        </label>
      )}
      <Fault error={action.error} />
      <Button
        kind="main"
        type="submit"
        className="justify-self-start"
        disabled={action.isBusy || isUnchanged}
      >
        {ARCHIVE_TEXT.saveTheDescription}
      </Button>
    </form>
  );
}

/** The replay, stopped where somebody likes it: that frame becomes the poster. */
function PosterFromFrame({
  recording,
  frames,
  replay,
}: {
  recording: RecordingView;
  frames: string;
  replay: string;
}) {
  const { videoRef, state, engine } = usePlayer({ kind: 'replay', hls: replay }, false, () => undefined);
  const action = useAction();
  const take = (): void => {
    const atMs = Math.round((state.positionSeconds - state.startSeconds) * 1000);
    void action.run(async () => {
      const answer = await fetch(`${frames}${atMs}.jpg`);
      if (!answer.ok) throw new Error(ARCHIVE_TEXT.noFrameAtMs(atMs));
      await setRecordingPoster(recording.id, await answer.blob());
      toldWithUndo(ARCHIVE_TEXT.thisPictureIsNowThe, recording.id);
    });
  };
  return (
    <div className="grid gap-2">
      <video
        ref={videoRef}
        playsInline
        muted
        aria-label={ARCHIVE_TEXT.recordingOf(recording.title)}
        className="aspect-video w-full rounded-md bg-sunk object-contain"
      />
      <div className="flex items-center gap-3">
        <Button onClick={() => (state.status === 'playing' ? engine?.pause() : void engine?.resume())}>
          {state.status === 'playing' ? 'Stop' : 'Play'}
        </Button>
        <input
          type="range"
          aria-label={ARCHIVE_TEXT.whereInTheRecording}
          aria-valuetext={clock((state.positionSeconds - state.startSeconds) * 1000)}
          className="flex-1 accent-[var(--pine)]"
          min={state.startSeconds}
          max={Math.max(state.startSeconds + 0.1, state.endSeconds)}
          step={0.04}
          value={state.positionSeconds}
          onChange={(moved) => {
            engine?.pause();
            engine?.seekTo(Number(moved.target.value));
          }}
        />
        <span className="figures text-[13px]">
          {clock((state.positionSeconds - state.startSeconds) * 1000)}
        </span>
      </div>
      <Button className="justify-self-start" onClick={take} disabled={action.isBusy}>
        {ARCHIVE_TEXT.makeThisFrameThePoster}
      </Button>
      <Fault error={action.error} />
    </div>
  );
}
