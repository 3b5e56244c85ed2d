import { useParams } from 'react-router';
import { useSession, useSourceKey, useSources } from '../../data/house.js';
import { Button } from '../../ui/Button.js';
import { Failed, Loading } from '../../ui/states.js';
import { CodePair } from './KeyCodes.js';

/** One sheet of paper for the encoder's case: address, key, name and password, large enough to type from. */
export function SourceSheetPage() {
  const { id = '' } = useParams();
  const { data: session } = useSession();
  const { data: sources } = useSources();
  const { data: key, error, mutate } = useSourceKey(id);
  const source = sources?.items.find((candidate) => candidate.id === id);
  if (error) return <Failed error={error} onRetry={() => void mutate()} />;
  if (!key || !source) return <Loading what="the sheet" />;
  const rows: [string, string | null][] = [
    ['Address', key.address],
    [`Second address, at ${key.second?.point.place}`, key.second?.address ?? null],
    ['Secured address', key.secureAddress],
    ['Key', key.key],
    ['Name', key.user],
    ['Password', key.password],
    ['Address for SRT', key.srt?.address ?? null],
    ['Passphrase for SRT', key.srt?.passphrase ?? null],
    ['Latency for SRT', key.srt && `${key.srt.latencyMs} ms`],
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
      <h2 className="text-[19px]">In the encoder</h2>
      <ul className="list-disc pl-5">
        <li>H.264 picture, AAC sound, constant bit rate</li>
        <li>a keyframe every 2 seconds</li>
        <li>Whoever has this sheet can send: keep it with the encoder. A lost sheet: renew the key.</li>
      </ul>
      <Button kind="main" large className="mt-6 print:hidden" onClick={() => window.print()}>
        Print this sheet
      </Button>
    </article>
  );
}
