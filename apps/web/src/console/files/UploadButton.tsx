import { Upload } from 'lucide-react';
import { useRef } from 'react';
import { sendFiles } from '../../data/uploads.js';
import { Button } from '../../ui/Button.js';

/** Chooses files and sends them. @param accept - as of an `input` of files; all kinds without it */
export function UploadButton({ accept = 'image/*,video/*,audio/*' }: { accept?: string }) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <>
      <Button kind="main" onClick={() => input.current?.click()}>
        <Upload size={16} strokeWidth={1.75} aria-hidden />
        Upload files
      </Button>
      <input
        ref={input}
        type="file"
        multiple
        accept={accept}
        className="sr-only"
        tabIndex={-1}
        aria-label="Files to upload"
        onChange={(chosen) => {
          sendFiles(chosen.target.files ?? []);
          chosen.target.value = '';
        }}
      />
    </>
  );
}
