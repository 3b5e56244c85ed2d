import { Link } from 'react-router';
import { Button, buttonClass } from '../../ui/Button.js';
import { CopyField } from '../../ui/CopyField.js';
import { QrCode } from '../../ui/QrCode.js';
import { Fault } from '../../ui/states.js';
import { useAction } from '../../ui/useAction.js';
import { WEBSITES_TEXT } from '../../words/console/websites.js';

interface AddressPartProps {
  readonly name: string;
  readonly slug: string;
  readonly sheetPath: string;
}

const PNG_PX = 1200;

/** The page's address for people: to copy, as a code for cameras, and on paper. */
export function AddressPart({ name, slug, sheetPath }: AddressPartProps) {
  const address = `${location.origin}/watch/${slug}`;
  const action = useAction();
  const download = (kind: 'svg' | 'png'): Promise<void> =>
    action.run(async () => {
      const { default: codes } = await import('qrcode');
      const href =
        kind === 'png'
          ? await codes.toDataURL(address, { width: PNG_PX, margin: 2 })
          : `data:image/svg+xml;utf8,${encodeURIComponent(await codes.toString(address, { type: 'svg', margin: 2 }))}`;
      const link = Object.assign(document.createElement('a'), { href, download: `${slug}.${kind}` });
      link.click();
    });
  return (
    <section aria-label={WEBSITES_TEXT.itsAddress} className="grid gap-3">
      <CopyField label={WEBSITES_TEXT.page} value={address} what={WEBSITES_TEXT.theAddress} />
      <div className="flex flex-wrap items-center gap-4">
        <QrCode value={address} label={WEBSITES_TEXT.codeOf(name)} sizePx={120} />
        <div className="flex flex-wrap gap-2">
          <Button disabled={action.isBusy} onClick={() => void download('svg')}>
            {WEBSITES_TEXT.downloadSvg}
          </Button>
          <Button disabled={action.isBusy} onClick={() => void download('png')}>
            {WEBSITES_TEXT.downloadPng}
          </Button>
          <Link to={sheetPath} className={buttonClass()}>
            {WEBSITES_TEXT.sheet}
          </Link>
        </div>
      </div>
      <Fault error={action.error} />
    </section>
  );
}
