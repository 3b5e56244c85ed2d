import { Dialog } from 'radix-ui';
import { useState } from 'react';
import type { FileKind } from '@heliphon/core/files/file-kinds';
import type { FileView } from '@heliphon/contracts/files';
import { useFiles } from '../../data/files.js';
import { Button } from '../../ui/Button.js';
import { Empty, Failed, Loading } from '../../ui/states.js';
import { fileFacts, KIND_WORDS } from '../../words/files.js';
import { FileLook } from './FileRow.js';
import { Sendings } from './Sendings.js';
import { UploadButton } from './UploadButton.js';
import { FILES_TEXT } from '../../words/console/files.js';

interface ChooseFileProps {
  readonly kind: FileKind;
  readonly onChoose: (file: FileView) => void;
  readonly onClose: () => void;
}

const SHOWN = 30;
const ACCEPTED: Readonly<Record<FileKind, string>> = {
  picture: 'image/*',
  film: 'video/*',
  sound: 'audio/*',
};

/** One of the house's files of a kind; or a new one, which stands here as soon as it can be used. */
export function ChooseFile({ kind, onChoose, onClose }: ChooseFileProps) {
  const [count, setCount] = useState(SHOWN);
  const { data, error, mutate } = useFiles(`kind=${kind}&state=ready&limit=${count}`);
  const { data: latest } = useFiles('limit=30');
  const isWorking = latest?.items.some(({ state }) => state === 'waiting' || state === 'making') ?? false;
  return (
    <Dialog.Root open onOpenChange={(isOpen) => !isOpen && onClose()}>
      <Dialog.Overlay className="fixed inset-0 z-20 bg-[rgb(8_13_24/45%)]" />
      <Dialog.Content
        aria-describedby={undefined}
        className="fixed top-1/2 left-1/2 z-30 max-h-[86vh] w-[min(680px,94vw)] -translate-1/2 overflow-y-auto rounded-md border border-edge bg-ground p-6 text-ink"
      >
        <div className="mb-4 flex items-center gap-4">
          <Dialog.Title className="flex-1 text-2xl">{FILES_TEXT.chooseA(KIND_WORDS[kind])}</Dialog.Title>
          <UploadButton accept={ACCEPTED[kind]} />
          <Button onClick={onClose}>{FILES_TEXT.cancel}</Button>
        </div>
        <Sendings />
        {isWorking && (
          <p role="status" className="mb-2 text-ink-soft">
            {FILES_TEXT.aFileIsBeingChecked}
          </p>
        )}
        {error && <Failed error={error} onRetry={() => void mutate()} />}
        {!data && !error && <Loading what={FILES_TEXT.theFiles} />}
        {data?.items.length === 0 && <Empty>{FILES_TEXT.noneYet(KIND_WORDS[kind])}</Empty>}
        <ul>
          {data?.items.map((file) => (
            <li key={file.id} className="border-t border-line">
              <button
                type="button"
                className="flex w-full items-center gap-4 py-2.5 text-left hover:bg-hover"
                onClick={() => onChoose(file)}
              >
                <FileLook file={file} />
                <span className="min-w-0">
                  <b className="block [overflow-wrap:anywhere]">{file.name}</b>
                  <span className="block text-[13px] text-ink-soft">{fileFacts(file)}</span>
                </span>
              </button>
            </li>
          ))}
        </ul>
        {data?.next && <Button onClick={() => setCount(count + SHOWN)}>{FILES_TEXT.showOlderOnes}</Button>}
      </Dialog.Content>
    </Dialog.Root>
  );
}
