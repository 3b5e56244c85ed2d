import { escaped } from '@heliphon/core/delivery/embed-code';
import { fitEmbed } from '@heliphon/core/delivery/embed-size';
import type { PublicChannel } from '@heliphon/contracts/channels';
import type { PublicEvent } from '@heliphon/contracts/public-event';
import { jsonInHtml } from './page-html.js';

const DESCRIPTION_LENGTH = 200;

/** What other sites read of a page. */
interface Card {
  readonly type: 'video.other' | 'website';
  readonly title: string;
  readonly siteName: string;
  readonly description: string;
  /** Where it is found, whole. */
  readonly address: string;
  /** 1280 × 720; `null` for none. */
  readonly imageUrl: string | null;
  /** Where it plays within another page, and how large. */
  readonly player: { readonly url: string; readonly widthPx: number; readonly heightPx: number };
  /** Where its embed is described (oEmbed, 4 "Discovery"). */
  readonly oembedUrl: string;
  /** What search engines read of it (schema.org, as JSON-LD); `null` for none. */
  readonly facts: object | null;
}

const oembedOf = (publicUrl: string, address: string): string =>
  `${publicUrl}/oembed?url=${encodeURIComponent(address)}`;
const playerOf = (publicUrl: string, slug: string): Card['player'] => ({
  url: `${publicUrl}/embed/${slug}`,
  ...fitEmbed(null, null),
});
const absolute = (publicUrl: string, path: string | null): string | null => path && publicUrl + path;

export function eventCard(event: PublicEvent, publicUrl: string): Card {
  const address = `${publicUrl}/watch/${event.slug}`;
  return {
    type: 'video.other',
    title: event.title,
    siteName: event.house.name,
    description: event.description,
    address,
    imageUrl: absolute(publicUrl, event.posterUrl),
    player: playerOf(publicUrl, event.slug),
    oembedUrl: oembedOf(publicUrl, address),
    facts: factsOf(event, address, publicUrl),
  };
}

/** `BroadcastEvent` before and on air, `VideoObject` afterwards. */
function factsOf(event: PublicEvent, address: string, publicUrl: string): object {
  const { title, description, house, state } = event;
  const at = (ms: number): string => new Date(ms).toISOString();
  const of = {
    '@context': 'https://schema.org',
    name: title,
    ...(description ? { description } : {}),
    url: address,
  };
  const image = absolute(publicUrl, event.posterUrl);
  if (state === 'kept')
    return {
      ...of,
      '@type': 'VideoObject',
      uploadDate: at(event.endsAtMs),
      duration: `PT${Math.round((event.endsAtMs - (event.airAtMs ?? event.startsAtMs)) / 1000)}S`,
      embedUrl: playerOf(publicUrl, event.slug).url,
      ...(image ? { thumbnailUrl: image } : {}),
    };
  return {
    ...of,
    '@type': 'BroadcastEvent',
    isLiveBroadcast: state === 'air',
    eventStatus: `https://schema.org/${state === 'cancelled' ? 'EventCancelled' : 'EventScheduled'}`,
    eventAttendanceMode: 'https://schema.org/OnlineEventAttendanceMode',
    location: { '@type': 'VirtualLocation', url: address },
    startDate: at(event.startsAtMs),
    endDate: at(event.endsAtMs),
    organizer: { '@type': 'Organization', name: house.name },
    ...(image ? { image } : {}),
  };
}

export function channelCard(channel: PublicChannel, publicUrl: string): Card {
  const address = `${publicUrl}/channel/${channel.slug}`;
  const [shown] = [...channel.present, ...channel.coming];
  return {
    type: 'website',
    title: channel.name,
    siteName: channel.house.name,
    description: channel.description,
    address,
    imageUrl: absolute(publicUrl, shown?.posterUrl ?? null),
    player: playerOf(publicUrl, channel.slug),
    oembedUrl: oembedOf(publicUrl, address),
    facts: null,
  };
}

/** Puts a card (Open Graph) and the title into the head of a built page. */
export function withCard(html: string, card: Card): string {
  const whole = `${card.title} · ${card.siteName}`;
  return html.replace(/<title>[^<]*<\/title>/, () => `<title>${escaped(whole)}</title>\n    ${tagsOf(card)}`);
}

function tagsOf(card: Card): string {
  const meta = (property: string, content: string): string =>
    `<meta property="${property}" content="${escaped(content)}" />`;
  const description = card.description.replace(/\s+/g, ' ').slice(0, DESCRIPTION_LENGTH);
  const whole = `${card.title} · ${card.siteName}`;
  return [
    meta('og:type', card.type),
    meta('og:site_name', card.siteName),
    meta('og:title', card.title),
    meta('og:url', card.address),
    ...(description ? [meta('og:description', description)] : []),
    ...(card.imageUrl
      ? [
          meta('og:image', card.imageUrl),
          meta('og:image:width', '1280'),
          meta('og:image:height', '720'),
          meta('og:image:alt', card.title),
        ]
      : []),
    meta('og:video', card.player.url),
    ...(card.player.url.startsWith('https:') ? [meta('og:video:secure_url', card.player.url)] : []),
    meta('og:video:type', 'text/html'),
    meta('og:video:width', String(card.player.widthPx)),
    meta('og:video:height', String(card.player.heightPx)),
    `<meta name="description" content="${escaped(description || whole)}" />`,
    `<link rel="canonical" href="${escaped(card.address)}" />`,
    `<link rel="alternate" type="application/json+oembed" href="${escaped(card.oembedUrl)}" title="${escaped(card.title)}" />`,
    `<link rel="alternate" type="text/xml+oembed" href="${escaped(`${card.oembedUrl}&format=xml`)}" title="${escaped(card.title)}" />`,
    ...(card.facts ? [`<script type="application/ld+json">${jsonInHtml(card.facts)}</script>`] : []),
  ].join('\n    ');
}
