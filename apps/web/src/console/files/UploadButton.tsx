import { Upload } from 'lucide-react';
import { useRef } from 'react';
import { sendFiles } from '../../data/uploads.js';
import { Button } from '../../ui/Button.js';
import { FILES_TEXT } from '../../words/console/files.js';

/** Chooses files and sends them. @param accept - as of an `input` of files; all kinds without it */
export function UploadButton({ accept = 'image/*,video/*,audio/*' }: { accept?: string }) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <>
      <Button kind="main" onClick={() => input.current?.click()}>
        <Upload size={16} strokeWidth={1.75} aria-hidden />
        {FILES_TEXT.uploadFiles}
      </Button>
      <input
        ref={input}
        type="file"
        multiple
        accept={accept}
        className="sr-only"
        tabIndex={-1}
        aria-label={FILES_TEXT.filesToUpload}
        onChange={(chosen) => {
          sendFiles(chosen.target.files ?? []);
          chosen.target.value = '';
        }}
      />
    </>
  );
}
