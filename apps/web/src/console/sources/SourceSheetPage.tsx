import { useParams } from 'react-router';
import { useSession } from '../../data/session.js';
import { useSourceKey, useSources } from '../../data/sources.js';
import { Button } from '../../ui/Button.js';
import { Failed, Loading } from '../../ui/states.js';
import { CodePair } from './KeyCodes.js';
import { SOURCES_TEXT } from '../../words/console/sources.js';

/** One sheet of paper for the encoder's case: address, key, name and password, large enough to type from. */
export function SourceSheetPage() {
  const { id = '' } = useParams();
  const { data: session } = useSession();
  const { data: sources } = useSources();
  const { data: key, error, mutate } = useSourceKey(id);
  const source = sources?.items.find((candidate) => candidate.id === id);
  if (error) return <Failed error={error} onRetry={() => void mutate()} />;
  if (!key || !source) return <Loading what={SOURCES_TEXT.theSheet} />;
  const rows: [string, string | null][] = [
    ['Address', key.address],
    [SOURCES_TEXT.secondAddressAt(key.second?.point.place ?? ''), key.second?.address ?? null],
    [SOURCES_TEXT.securedAddress, key.secureAddress],
    ['Key', key.key],
    ['Name', key.user],
    ['Password', key.password],
    [SOURCES_TEXT.addressForSrt, key.srt?.address ?? null],
    [SOURCES_TEXT.passphraseForSrt, key.srt?.passphrase ?? null],
    [SOURCES_TEXT.latencyForSrt, key.srt && `${key.srt.latencyMs} ms`],
  ];
  return (
    <article data-light="day" className="mx-auto w-full max-w-3xl bg-surface p-8 text-ink">
      <p className="text-ink-soft">{session?.house.name}</p>
      <h1 className="mb-4 text-[32px]">{source.name}</h1>
      <dl className="grid gap-3">
        {rows.map(
          ([name, value]) =>
            value && (
              <div key={name} className="border-t border-line pt-2">
                <dt className="text-ink-soft">{name}</dt>
                <dd className="figures text-xl break-all">{value}</dd>
              </div>
            ),
        )}
      </dl>
      <div className="my-6">
        <CodePair sourceKey={key} />
      </div>
      <h2 className="text-[19px]">{SOURCES_TEXT.inTheEncoder}</h2>
      <ul className="list-disc pl-5">
        <li>{SOURCES_TEXT.h264PictureAacSound}</li>
        <li>{SOURCES_TEXT.aKeyframeEvery2Seconds}</li>
        <li>{SOURCES_TEXT.anyoneWithThisSheetCan}</li>
      </ul>
      <Button kind="main" large className="mt-6 print:hidden" onClick={() => window.print()}>
        {SOURCES_TEXT.printThisSheet}
      </Button>
    </article>
  );
}
