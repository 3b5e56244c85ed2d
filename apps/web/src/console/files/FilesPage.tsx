import { type DragEvent, useState } from 'react';
import { FILE_KINDS, type FileKind } from '@heliphon/core/files/file-kinds';
import { useCan } from '../../data/session.js';
import { useFiles } from '../../data/files.js';
import { sendFiles } from '../../data/uploads.js';
import { Button } from '../../ui/Button.js';
import { PartsNav } from '../../ui/PartsNav.js';
import { InsteadOfRows } from '../../ui/states.js';
import { KIND_WORDS, LIMIT_WORDS } from '../../words/files.js';
import { ARCHIVE_PARTS } from '../archive/archive-parts.js';
import { FileRow } from './FileRow.js';
import { Sendings } from './Sendings.js';
import { UploadButton } from './UploadButton.js';
import { FILES_TEXT } from '../../words/console/files.js';

/** Pictures, films and sounds of the house, latest first; dropped here, or chosen; and the bin. */
export function FilesPage() {
  const canEdit = useCan('files.edit');
  const [kind, setKind] = useState<FileKind | null>(null);
  const [isBin, setBin] = useState(false);
  const [pages, setPages] = useState<readonly (string | null)[]>([null]);
  const look = (wish: { kind?: FileKind | null; isBin?: boolean }): void => {
    if (wish.kind !== undefined) setKind(wish.kind);
    if (wish.isBin !== undefined) setBin(wish.isBin);
    setPages([null]);
  };
  const drop = (event: DragEvent): void => {
    event.preventDefault();
    if (canEdit) sendFiles(event.dataTransfer.files);
  };
  return (
    <div className="min-h-[70vh] px-5 pt-4 pb-8" onDragOver={(over) => over.preventDefault()} onDrop={drop}>
      <div className="flex flex-wrap items-center gap-x-4 gap-y-2">
        <h1 className="text-[27px]">{isBin ? FILES_TEXT.theBin : 'Files'}</h1>
        {isBin && <p className="text-ink-soft">{FILES_TEXT.filesCanBePutBack}</p>}
        <span className="flex-1" />
        <Button aria-pressed={isBin} onClick={() => look({ isBin: !isBin })}>
          {isBin ? FILES_TEXT.backToTheFiles : FILES_TEXT.openTheBin}
        </Button>
        {canEdit && !isBin && <UploadButton />}
      </div>
      <PartsNav label={FILES_TEXT.partsOfTheArchive} parts={ARCHIVE_PARTS} />
      {!isBin && (
        <div className="mb-3 flex flex-wrap items-center gap-x-4 gap-y-2">
          <div role="group" aria-label={FILES_TEXT.whichKind} className="flex gap-1">
            {([null, ...FILE_KINDS] as const).map((one) => (
              <Button
                key={one ?? 'all'}
                kind={kind === one ? 'plain' : 'quiet'}
                aria-pressed={kind === one}
                onClick={() => look({ kind: one })}
              >
                {one ? `${KIND_WORDS[one][0]!.toUpperCase()}${KIND_WORDS[one].slice(1)}s` : 'All'}
              </Button>
            ))}
          </div>
          {canEdit && (
            <p className="text-[13px] text-ink-soft">
              {FILES_TEXT.dropFilesAnywhere} {LIMIT_WORDS}
            </p>
          )}
        </div>
      )}
      <Sendings />
      <ul>
        {pages.map((after, index) => (
          <FileRows
            key={`${kind} ${isBin} ${after ?? 'first'}`}
            query={`${kind ? `&kind=${kind}` : ''}${isBin ? '&in=bin' : ''}`}
            after={after}
            isLast={index === pages.length - 1}
            onMore={(next) => setPages([...pages, next])}
          />
        ))}
      </ul>
    </div>
  );
}

interface FileRowsProps {
  readonly query: string;
  readonly after: string | null;
  readonly isLast: boolean;
  readonly onMore: (next: string) => void;
}

function FileRows({ query, after, isLast, onMore }: FileRowsProps) {
  const { data, error, mutate } = useFiles(
    `limit=30${query}${after ? `&after=${encodeURIComponent(after)}` : ''}`,
  );
  if (error || !data || data.items.length === 0)
    return (
      <InsteadOfRows
        error={error}
        onRetry={() => void mutate()}
        isLoading={!data}
        what={FILES_TEXT.theFiles}
        empty={query === '' ? FILES_TEXT.noFilesYetKeepPosters : FILES_TEXT.nothingOfThisKindYet}
      />
    );
  const { next } = data;
  return (
    <>
      {data.items.map((file) => (
        <FileRow key={file.id} file={file} />
      ))}
      {isLast && next && (
        <li className="py-4">
          <Button onClick={() => onMore(next)}>{FILES_TEXT.showOlderOnes}</Button>
        </li>
      )}
    </>
  );
}
