import { useState } from 'react';
import { Link } from 'react-router';
import type { SourceKey, SourceView } from '@heliphon/contracts/sources';
import { Button, buttonClass } from '../../ui/Button.js';
import { QrCode } from '../../ui/QrCode.js';
import { SOURCES_TEXT } from '../../words/console/sources.js';

/** Codes for a telephone's camera, and the way to the sheet that can be printed. */
export function KeyCodes({ source, sourceKey }: { source: SourceView; sourceKey: SourceKey }) {
  const [isShown, setShown] = useState(false);
  return (
    <div className="grid gap-3">
      <div className="flex flex-wrap gap-2">
        <Button aria-expanded={isShown} onClick={() => setShown(!isShown)}>
          {isShown ? SOURCES_TEXT.hideTheCodes : SOURCES_TEXT.showCodesForACamera}
        </Button>
        <Link className={buttonClass()} to={`/sources/${source.id}/sheet`} target="_blank">
          {SOURCES_TEXT.sheetToPrint}
        </Link>
      </div>
      {isShown && <CodePair sourceKey={sourceKey} />}
    </div>
  );
}

/** Address and key as two codes: encoders' apps scan them one after another. */
export function CodePair({ sourceKey }: { sourceKey: SourceKey }) {
  const address = sourceKey.secureAddress ?? sourceKey.address;
  return (
    <div className="flex flex-wrap gap-6">
      <figure className="grid justify-items-center gap-1">
        <QrCode value={address} label={SOURCES_TEXT.codeOfTheAddress} />
        <figcaption>{SOURCES_TEXT.address}</figcaption>
      </figure>
      <figure className="grid justify-items-center gap-1">
        <QrCode value={sourceKey.key} label={SOURCES_TEXT.codeOfTheKey} />
        <figcaption>{SOURCES_TEXT.key}</figcaption>
      </figure>
    </div>
  );
}
