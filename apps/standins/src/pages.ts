import type { EncoderView } from './encoder/encoder.js';
import type { ReceivedStream } from './platform/platform.js';

const escape = (text: string): string => text.replace(/[&<>"']/g, (letter) => `&#${letter.charCodeAt(0)};`);

const STYLE = `body{font:17px/1.5 system-ui,sans-serif;max-width:980px;margin:32px auto;padding:0 20px;background:#f4f1ea;color:#1c2622}
h1{font-size:26px}article{border-top:1px solid #b9b29d;padding:14px 0;display:flex;gap:18px;align-items:center;flex-wrap:wrap}
img{width:320px;border-radius:6px;background:#222;min-height:120px}iframe{width:100%;border:0;aspect-ratio:16/11}`;

const page = (title: string, body: string, refreshSeconds?: number): string =>
  `<!doctype html><html lang="en-GB"><meta charset="utf-8"><meta name="viewport" content="width=device-width">
${refreshSeconds ? `<meta http-equiv="refresh" content="${refreshSeconds}">` : ''}<title>${escape(title)}</title><style>${STYLE}</style><main><h1>${escape(title)}</h1>${body}</main></html>`;

/** What the stand-ins are and do just now. */
export function overviewPage(encoders: readonly EncoderView[], streams: readonly ReceivedStream[]): string {
  const sending = encoders.map(
    (encoder) => `<article><b>${escape(encoder.name)}</b> ${encoder.state}</article>`,
  );
  return page(
    'The simulated outside world',
    `<h2>Encoders</h2>${sending.join('') || '<p>None has been started.</p>'}<h2>What the platform receives</h2>${receivedList(streams)}`,
    5,
  );
}

export const receivedPage = (streams: readonly ReceivedStream[]): string =>
  page('Harbour Town Channel: what comes in', receivedList(streams), 4);

function receivedList(streams: readonly ReceivedStream[]): string {
  if (streams.length === 0) return '<p>Nothing has come yet.</p>';
  return streams
    .map((stream) => {
      const name = encodeURIComponent(stream.streamName);
      const words = stream.isLive ? `live, ${Math.round(stream.receivedBytes / 1000)} kB so far` : 'not live';
      return `<article><img src="/platform/${name}/picture.jpg?at=${Date.now()}" alt="The newest picture"><div><b>${escape(stream.streamName.slice(0, 6))}…</b><br>${words}, ${stream.connections} connections, mode: ${stream.mode}</div></article>`;
    })
    .join('');
}

/** A page of the customer's own website, with our embed in it. */
export function websitePage(embedAddress: string): string {
  return page(
    'Lantern Quay Commons',
    `<p>Welcome to the harbour chapel and its hall. This is our own website; the picture below comes from Heliphon.</p>
<iframe src="${escape(embedAddress)}" title="Live from the quay" allow="autoplay; fullscreen; picture-in-picture" allowfullscreen></iframe>
<p>Tea is in the hall afterwards.</p>`,
  );
}
