import { type ReactNode, useState } from 'react';
import type { Companion } from '@heliphon/core/appearance/look';
import type { PublicEvent } from '@heliphon/contracts/public-event';
import { dayAndTime } from '../words/public-time.js';
import { say } from '../words/say.js';

interface CompanionsProps {
  readonly event: PublicEvent;
  readonly kinds: readonly Companion[];
}

/** What the house wants to stand beside the picture, besides the sheet; what there is nothing of is left out. */
export function Companions({ event, kinds }: CompanionsProps) {
  return kinds.map((kind) => <One key={kind} kind={kind} event={event} />);
}

function One({ kind, event }: { kind: Companion; event: PublicEvent }) {
  const { look, next, house } = event;
  switch (kind) {
    case 'sheet':
      return null;
    case 'words':
      return (
        look.words && (
          <p dir="auto" className="px-5 py-2 whitespace-pre-line">
            {withLinks(look.words)}
          </p>
        )
      );
    case 'address':
      return (
        look.address && (
          <Part title={say('sheet.gettingHere')}>
            <address dir="auto" className="whitespace-pre-line not-italic">
              {look.address}
            </address>
          </Part>
        )
      );
    case 'dates':
      return (
        next.length > 0 && (
          <Part title={say('sheet.nextDates')}>
            <ul>
              {next.map(({ slug, title, startsAtMs }) => (
                <li key={slug}>
                  <a className="public-link" href={`/watch/${slug}`}>
                    {dayAndTime(startsAtMs)}
                  </a>{' '}
                  {title}
                </li>
              ))}
            </ul>
          </Part>
        )
      );
    case 'share':
      return <Share title={event.title} slug={event.slug} />;
    case 'give':
      return (
        look.giveUrl && (
          <p className="px-5 py-2">
            <a className="public-link" href={look.giveUrl} target="_blank" rel="noopener">
              {say('sheet.giveTo', { house: house.name })}
            </a>
          </p>
        )
      );
  }
}

const Part = ({ title, children }: { title: string; children: ReactNode }) => (
  <section className="px-5 py-2">
    <h2 className="text-[1.0625rem] font-semibold">{title}</h2>
    {children}
  </section>
);

function Share({ title, slug }: { title: string; slug: string }) {
  const [isCopied, setCopied] = useState(false);
  const share = async (): Promise<void> => {
    const url = `${location.origin}/watch/${slug}`;
    if ('share' in navigator) return navigator.share({ title, url }).catch(() => undefined);
    await (navigator as Navigator).clipboard.writeText(url);
    setCopied(true);
  };
  return (
    <p className="px-5 py-2">
      <button type="button" className="public-link" onClick={() => void share()}>
        {say('sheet.share')}
      </button>{' '}
      <span role="status">{isCopied && say('sheet.copied')}</span>
    </p>
  );
}

/** A full stop after an address belongs to the sentence. */
const ADDRESS = /(https?:\/\/[^\s<>"]*[^\s<>".,;:!?)])/;

const withLinks = (words: string): ReactNode[] =>
  words.split(ADDRESS).map((part, index) =>
    index % 2 === 0 ? (
      part
    ) : (
      <a
        key={index}
        className="underline underline-offset-4"
        href={part}
        target="_blank"
        rel="noopener nofollow"
      >
        {part.replace(/^https?:\/\//, '')}
      </a>
    ),
  );
