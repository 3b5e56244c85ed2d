import { useParams } from 'react-router';
import { SHOWN_LEVELS } from '@heliphon/contracts/websites';
import { useSession } from '../../data/session.js';
import { useWebsites, websitesPath } from '../../data/websites.js';
import { Button } from '../../ui/Button.js';
import { QrCode } from '../../ui/QrCode.js';
import { Failed, Loading } from '../../ui/states.js';
import { WEBSITES_TEXT } from '../../words/console/websites.js';

const CODE_PX = 420;

/** A sheet for the notice board: what it is, and the code and the address that lead to it. */
export function AddressSheetPage() {
  const { level: named, id = '' } = useParams();
  const level = SHOWN_LEVELS.find((known) => known === named) ?? 'event';
  const { data: session } = useSession();
  const { data, error, mutate } = useWebsites(websitesPath(level, id));
  if (error) return <Failed error={error} onRetry={() => void mutate()} />;
  if (!data) return <Loading what={WEBSITES_TEXT.websites} />;
  const address = `${location.host}/watch/${data.slug}`;
  return (
    <article
      data-light="day"
      className="mx-auto grid w-full max-w-3xl justify-items-center gap-5 bg-surface p-8 text-center text-ink"
    >
      <p className="text-xl text-ink-soft">{session?.house.name}</p>
      <h1 className="text-[44px] leading-tight">{data.name}</h1>
      <QrCode
        value={`${location.protocol}//${address}`}
        label={WEBSITES_TEXT.codeOf(data.name)}
        sizePx={CODE_PX}
      />
      <p className="text-xl">{WEBSITES_TEXT.pointCamera}</p>
      <p className="figures text-2xl break-all">{address}</p>
      <Button kind="main" large className="mt-4 print:hidden" onClick={() => window.print()}>
        {WEBSITES_TEXT.printTheSheet}
      </Button>
    </article>
  );
}
