import type { PublicEvent } from '@heliphon/contracts/public-event';

const escapeHtml = (text: string): string =>
  text.replace(/[&<>"']/g, (letter) => `&#${letter.charCodeAt(0)};`);

const DESCRIPTION_LENGTH = 200;

/**
 * What other sites read of a watch page: title, picture and text (Open Graph), and where its embed is (oEmbed, 4
 * "Discovery"). Goes into the page's head.
 */
export function shareCard(event: PublicEvent, publicUrl: string): string {
  const address = `${publicUrl}/watch/${event.slug}`;
  const meta = (property: string, content: string): string =>
    `<meta property="${property}" content="${escapeHtml(content)}" />`;
  const title = `${event.title} · ${event.house.name}`;
  const description = event.description.replace(/\s+/g, ' ').slice(0, DESCRIPTION_LENGTH);
  const oembed = `${publicUrl}/oembed?url=${encodeURIComponent(address)}`;
  return [
    meta('og:type', 'video.other'),
    meta('og:site_name', event.house.name),
    meta('og:title', event.title),
    meta('og:url', address),
    ...(description ? [meta('og:description', description)] : []),
    ...(event.posterUrl
      ? [
          meta('og:image', publicUrl + event.posterUrl),
          meta('og:image:width', '1280'),
          meta('og:image:height', '720'),
          meta('og:image:alt', event.title),
        ]
      : []),
    `<meta name="description" content="${escapeHtml(description || title)}" />`,
    `<link rel="canonical" href="${escapeHtml(address)}" />`,
    `<link rel="alternate" type="application/json+oembed" href="${escapeHtml(oembed)}" title="${escapeHtml(event.title)}" />`,
  ].join('\n    ');
}

/** Puts a card and the title into a built page. */
export const withShareCard = (html: string, event: PublicEvent, publicUrl: string): string =>
  html.replace(
    /<title>[^<]*<\/title>/,
    () =>
      `<title>${escapeHtml(`${event.title} · ${event.house.name}`)}</title>\n    ${shareCard(event, publicUrl)}`,
  );
