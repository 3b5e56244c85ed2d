import type { Palette } from '@heliphon/core/appearance/palette';
import { escaped } from '@heliphon/core/delivery/embed-code';
import type { PublicEvent } from '@heliphon/contracts/public-event';
import { dayAndTime, withClockThere } from '../words/public-time.js';
import { say, spokenLanguage } from '../words/say.js';

/** Where `watch-worker.js` finds them. */
const SPLASHES = 'heliphon-splashes';
const MOST = 20;
/** Opens the page once it can be reached. A page that only loads itself again and again would be read out again and again. */
const LOOKS_AGAIN = `
const open = () => fetch(location.href, { method: 'HEAD', cache: 'no-store' }).then(() => location.reload(), () => undefined);
setInterval(open, 10000);
addEventListener('online', open);
`;

/** Keeps, in this browser, what stands at this address while it cannot be reached: whose page it is, and that it comes back by itself. */
export async function keepSplash(event: PublicEvent): Promise<void> {
  // Neither is there on a page that came without encryption, and one in a frame is of another website.
  if (!('serviceWorker' in navigator) || !('caches' in window) || window.parent !== window) return;
  const splash = new Response(await splashOf(event), {
    headers: {
      'content-type': 'text/html; charset=utf-8',
      'content-security-policy': `default-src 'none'; style-src 'unsafe-inline'; img-src data:; connect-src 'self'; script-src '${await hashOf(LOOKS_AGAIN)}'`,
    },
  });
  const cache = await caches.open(SPLASHES);
  await cache.delete(location.pathname);
  await cache.put(location.pathname, splash);
  const known = await cache.keys();
  await Promise.all(known.slice(0, Math.max(0, known.length - MOST)).map((oldest) => cache.delete(oldest)));
  await navigator.serviceWorker.register('/watch-worker.js', { scope: '/watch/' });
}

async function splashOf({ title, house, look, state, startsAtMs, zone }: PublicEvent): Promise<string> {
  const { tag, direction } = spokenLanguage();
  const logo = look.logoUrl && (await inWords(look.logoUrl).catch(() => null));
  const isAhead = state === 'planned' || state === 'doors';
  const when = isAhead ? `<p>${escaped(withClockThere(dayAndTime(startsAtMs), startsAtMs, zone))}</p>` : '';
  const night = look.night ? `@media (prefers-color-scheme: dark) { ${coloursOf(look.night)} }` : '';
  return `<!doctype html>
<html lang="${tag}" dir="${direction}">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<title>${escaped(`${title} · ${house.name}`)}</title>
<style>
${coloursOf(look.palette)}
${night}
body { margin: 0; min-height: 100vh; display: grid; place-content: center; text-align: center; font: 1.25rem/1.5 system-ui, sans-serif; background: var(--ground); color: var(--ink); }
main { padding: 24px; max-width: 34ch; }
img { height: 72px; max-width: 200px; padding: 8px; background: ${look.palette.sheet}; }
h1 { font-size: 1.75rem; line-height: 1.25; }
b { color: var(--links); }
</style>
</head>
<body>
<main>
${logo ? `<img src="${escaped(logo)}" alt="">` : ''}
<p><b>${escaped(house.name)}</b></p>
<h1>${escaped(title)}</h1>
${when}
<p>${escaped(say('page.offline'))}</p>
</main>
<script>${LOOKS_AGAIN}</script>
</body>
</html>`;
}

const coloursOf = ({ ground, text, links }: Palette): string =>
  `:root { --ground: ${ground}; --ink: ${text}; --links: ${links}; }`;

/** As a policy names a script that may run (W3C CSP Level 3, 6.7.2.3). */
async function hashOf(script: string): Promise<string> {
  const bytes = new Uint8Array(await crypto.subtle.digest('SHA-256', new TextEncoder().encode(script)));
  return `sha256-${btoa(String.fromCharCode(...bytes))}`;
}

/** A picture as an address that needs no line. */
async function inWords(url: string): Promise<string> {
  const picture = await (await fetch(url)).blob();
  return new Promise((resolve, reject) => {
    const reader = new FileReader();
    reader.onload = () => resolve(String(reader.result));
    reader.onerror = () => reject(reader.error ?? new Error('It could not be read'));
    reader.readAsDataURL(picture);
  });
}
