import { Music } from 'lucide-react';
import { type FormEvent, useState } from 'react';
import { Link } from 'react-router';
import { FILE_LIMITS } from '@heliphon/core/files/file-kinds';
import type { FileUse, FileView } from '@heliphon/contracts/files';
import { dayAndTime } from '@heliphon/contracts/time-words';
import { binFile, makeFile, renameFile, restoreFile, stopMaking } from '../../data/files.js';
import { useCan, useZone } from '../../data/session.js';
import { Button, buttonClass } from '../../ui/Button.js';
import { TextField } from '../../ui/Field.js';
import { Mark } from '../../ui/Mark.js';
import { Progress } from '../../ui/Progress.js';
import { Fault } from '../../ui/states.js';
import { toldWithUndo } from '../../ui/undo-toast.js';
import { useAction } from '../../ui/useAction.js';
import { changeWords, fileFacts, REFUSAL_WORDS } from '../../words/files.js';
import { Sentence } from '../../ui/Sentence.js';
import { FILES_TEXT } from '../../words/console/files.js';

/** A file: what it is, whether it can be used, what uses it, and what can be done with it. */
export function FileRow({ file }: { file: FileView }) {
  const zone = useZone();
  const canEdit = useCan('files.edit');
  const [open, setOpen] = useState<'play' | 'rename' | null>(null);
  const action = useAction();
  const isBinned = file.binnedAtMs !== null;
  const toggle = (what: 'play' | 'rename'): void => setOpen(open === what ? null : what);
  return (
    <li aria-label={file.name} className="border-t border-line py-3">
      <div className="flex flex-wrap items-center gap-x-4 gap-y-2">
        <FileLook file={file} />
        <div className="min-w-60 flex-1">
          <h2 className="font-sans text-[16px] font-semibold [overflow-wrap:anywhere]">{file.name}</h2>
          <p className="text-[13px] text-ink-soft">
            {fileFacts(file)} · {dayAndTime(file.addedAtMs, zone)}
          </p>
          <FileState file={file} />
          <Uses file={file} />
        </div>
        {isBinned && canEdit && (
          <Button kind="main" onClick={() => void action.run(() => restoreFile(file.id))}>
            {FILES_TEXT.putItBack}
          </Button>
        )}
        {!isBinned && (
          <>
            {file.playUrl && (
              <Button aria-expanded={open === 'play'} onClick={() => toggle('play')}>
                {open === 'play' ? 'Close' : FILES_TEXT.playIt}
              </Button>
            )}
            <a className={buttonClass()} href={`/api/files/${file.id}/original`} download={file.name}>
              {FILES_TEXT.download}
            </a>
            {canEdit && (
              <>
                <Button kind="quiet" aria-expanded={open === 'rename'} onClick={() => toggle('rename')}>
                  {FILES_TEXT.rename}
                </Button>
                <Button
                  kind="quiet"
                  disabled={action.isBusy}
                  onClick={() =>
                    void action.run(async () => {
                      await binFile(file.id);
                      toldWithUndo(FILES_TEXT.isInTheBin(file.name), file.id);
                    })
                  }
                >
                  {FILES_TEXT.putItInTheBin}
                </Button>
              </>
            )}
          </>
        )}
      </div>
      {open === 'play' && <Playing file={file} />}
      {open === 'rename' && <Rename key={file.version} file={file} onDone={() => setOpen(null)} />}
      <Fault error={action.error} />
    </li>
  );
}

/** A small picture of a file, always of the same size. */
export function FileLook({ file }: { file: FileView }) {
  const box = 'h-[72px] w-32 shrink-0 rounded-md';
  if (file.lookUrl) return <img src={file.lookUrl} alt="" className={`${box} bg-sunk object-contain`} />;
  return (
    <span className={`${box} grid place-items-center border border-edge text-ink-soft`}>
      {file.kind === 'sound' && <Music size={22} strokeWidth={1.75} aria-hidden />}
    </span>
  );
}

/** Whether it can be used; nothing where it can, and is as it came. */
function FileState({ file }: { file: FileView }) {
  const canEdit = useCan('files.edit');
  const action = useAction();
  const { state, refusal, madePercent } = file;
  const again = (words: string) =>
    canEdit && (
      <Button disabled={action.isBusy} onClick={() => void action.run(() => makeFile(file.id))}>
        {words}
      </Button>
    );
  switch (state) {
    case 'waiting':
      return (
        <p role="status" className="text-[13px] text-ink-soft">
          {FILES_TEXT.waitingToBeChecked}
        </p>
      );
    case 'making':
      return (
        <div className="mt-1 flex max-w-md items-center gap-3">
          <div className="flex-1">
            <Progress percent={madePercent} what={FILES_TEXT.makingPlayable(file.name)} />
          </div>
          <span className="figures text-[13px]">{madePercent} %</span>
          {canEdit && (
            <Button disabled={action.isBusy} onClick={() => void action.run(() => stopMaking(file.id))}>
              {FILES_TEXT.stopConverting}
            </Button>
          )}
          <Fault error={action.error} isSmall />
        </div>
      );
    case 'stopped':
      return (
        <p className="mt-1 flex flex-wrap items-center gap-3">
          <Mark name="advice" /> {FILES_TEXT.conversionStopped}
          {again(FILES_TEXT.convertIt)}
        </p>
      );
    case 'refused':
      return (
        <p className="mt-1 flex max-w-[80ch] flex-wrap items-center gap-2">
          <Mark name="trouble" />
          <span className="flex-1">{REFUSAL_WORDS[refusal ?? 'making-failed']}</span>{' '}
          {again(FILES_TEXT.tryAgain)}
        </p>
      );
    case 'ready':
      return <p className="text-[13px] text-ink-soft">{changeWords(file)}</p>;
  }
}

const USE_PATHS: Readonly<Record<FileUse['of'], (id: string) => string>> = {
  event: (id) => `/events/${id}`,
  series: (id) => `/series/${id}`,
  recording: () => '/archive',
  house: () => '/house/look',
};

function Uses({ file }: { file: FileView }) {
  const more = file.usesCount - file.uses.length;
  if (file.state !== 'ready') return null;
  if (file.usesCount === 0) return <p className="text-[13px] text-ink-soft">{FILES_TEXT.notUsedAnywhere}</p>;
  return (
    <p className="text-[13px]">
      {file.uses.map(({ of, id, title, as }, nth) => (
        <span key={`${of} ${id}`}>
          {nth > 0 && ', '}
          <Sentence
            words={of === 'series' ? FILES_TEXT.usedAsOfSeries : FILES_TEXT.usedAsOf}
            as={as}
            title={
              <Link className="text-pine underline underline-offset-2" to={USE_PATHS[of](id)}>
                {title}
              </Link>
            }
          />
        </span>
      ))}
      {more > 0 && FILES_TEXT.andMore(more)}
    </p>
  );
}

function Playing({ file }: { file: FileView }) {
  if (!file.playUrl) return null;
  return file.kind === 'sound' ? (
    <audio className="mt-3 w-full max-w-xl" src={file.playUrl} controls aria-label={file.name} />
  ) : (
    <video
      className="mt-3 aspect-video w-full max-w-xl rounded-md bg-black"
      src={file.playUrl}
      controls
      aria-label={file.name}
    />
  );
}

function Rename({ file, onDone }: { file: FileView; onDone: () => void }) {
  const [name, setName] = useState(file.name);
  const action = useAction();
  const submit = (event: FormEvent): void => {
    event.preventDefault();
    void action.run(async () => {
      await renameFile(file, name);
      toldWithUndo(FILES_TEXT.theFileHasBeenRenamed, file.id);
      onDone();
    });
  };
  return (
    <form onSubmit={submit} className="mt-3 flex max-w-xl items-end gap-3">
      <div className="flex-1">
        <TextField
          label={FILES_TEXT.nameOfTheFile}
          needed
          autoFocus
          value={name}
          maxLength={FILE_LIMITS.nameLength}
          onChange={(typed) => setName(typed.target.value)}
        />
      </div>
      <Button kind="main" type="submit" disabled={action.isBusy}>
        {FILES_TEXT.saveTheName}
      </Button>
      <Fault error={action.error} isSmall />
    </form>
  );
}
