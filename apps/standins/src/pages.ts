import { ENCODER_FAULTS, type EncoderFault, type EncoderView } from './encoder/encoder.js';
import type { BoxScreen } from './box/box.js';
import type { Letter } from './mail/mail-box.js';
import type { NoticeBoard } from './notices/notice-board.js';
import { PLATFORM_MODES, type PlatformMode, type ReceivedStream } from './platform/platform.js';

const escape = (text: string): string => text.replace(/[&<>"']/g, (letter) => `&#${letter.charCodeAt(0)};`);

const STYLE = `body{font:17px/1.5 system-ui,sans-serif;max-width:980px;margin:32px auto;padding:0 20px;background:#f4f1ea;color:#1c2622}
h1{font-size:26px}article{border-top:1px solid #b9b29d;padding:14px 0;display:flex;gap:18px;align-items:center;flex-wrap:wrap}
img{width:320px;border-radius:6px;background:#222;min-height:120px}button{font:inherit;min-height:44px;padding:0 14px;margin:3px 0;border:1px solid #7b7460;border-radius:6px;background:#fffdf8}button[aria-pressed=true]{background:#0e5a50;color:#fffdf8}pre{white-space:pre-wrap;font:inherit}iframe{width:100%;border:0;aspect-ratio:16/11}
.screen{width:320px;min-height:180px;padding:20px;border-radius:12px;background:#10201c;color:#f4f1ea;text-align:center}.code{font:700 34px/1.2 monospace;letter-spacing:2px}`;

const page = (title: string, body: string, refreshSeconds?: number): string =>
  `<!doctype html><html lang="en-GB"><meta charset="utf-8"><meta name="viewport" content="width=device-width">
${refreshSeconds ? `<meta http-equiv="refresh" content="${refreshSeconds}">` : ''}<title>${escape(title)}</title><style>${STYLE}</style><main><h1>${escape(title)}</h1>${body}</main></html>`;

/** Buttons post JSON to the stand-ins' own addresses. */
const SCRIPT = `<script>document.addEventListener('click',async e=>{const b=e.target.closest('button[data-post]');if(!b)return;
await fetch(b.dataset.post,{method:'POST',body:b.dataset.body});location.reload()})</script>`;

const button = (words: string, address: string, body: object, isChosen = false): string =>
  `<button data-post="${escape(address)}" data-body="${escape(JSON.stringify(body))}" aria-pressed="${isChosen}">${escape(words)}</button>`;

/** What the stand-ins are and do just now, and the faults that can be tried. */
export function overviewPage(
  encoders: readonly EncoderView[],
  streams: readonly ReceivedStream[],
  letters: number,
  sites: readonly { readonly name: string; readonly address: string }[],
): string {
  return page(
    'The simulated outside world',
    `<p>Nothing here is real: encoders, platforms and a mail box of our own. Try what goes wrong on a Sunday.</p>
<h2>Encoders</h2>${encoders.map(encoderRow).join('') || '<p>None has been started.</p>'}
<h2>What the platform receives</h2>${receivedList(streams)}
<h2>Platforms where accounts can be linked</h2>${sites.map(siteRow).join('')}
<h2>The box in the tower</h2><p><a href="/boxes/tower/screen">Its small screen</a>: switch it on, pair it, let it send.</p>
<h2>Mail</h2><p><a href="/mail">The mail box</a> holds ${letters} letters.</p>
<h2>Notice board</h2><p><a href="/board">The notice board</a> takes what a webhook tells it, at <code>/board/post</code>.</p>${SCRIPT}`,
    5,
  );
}

const siteRow = ({ name, address }: { readonly name: string; readonly address: string }): string =>
  `<p><a href="${escape(address)}">${escape(name)}</a>, and <a href="${escape(address)}/faults">what can go wrong there</a></p>`;

const FAULT_WORDS: Readonly<Record<EncoderFault, string>> = {
  none: 'Send as it should',
  silence: 'Send no sound',
  'no picture': 'Send no picture',
  'other size': 'Send another size',
  stutter: 'Let the network stutter',
};

function encoderRow(encoder: EncoderView): string {
  const at = `/encoders/${encodeURIComponent(encoder.name)}`;
  const faults = ENCODER_FAULTS.map((fault) =>
    button(FAULT_WORDS[fault], `${at}/fault`, { fault }, encoder.fault === fault),
  );
  const drops = [10, 60].map((seconds) =>
    button(`Pull the cable for ${seconds} s`, `${at}/drop`, { seconds }),
  );
  return `<article><div><b>${escape(encoder.name)}</b> ${encoder.state}</div><div>${[...drops, ...faults].join(' ')}</div></article>`;
}

const ANSWERS = [
  [204, 'Take them'],
  [503, 'Be out of order'],
] as const;

/** What a webhook has told, the newest first. */
export const noticePage = ({ notices, status }: NoticeBoard): string =>
  page(
    'The notice board',
    ANSWERS.map(([answer, words]) =>
      button(words, '/board/status', { status: answer }, answer === status),
    ).join(' ') +
      (notices
        .toReversed()
        .map(
          ({ atMs, text }) =>
            `<article><pre>${new Date(atMs).toISOString()}\n${escape(text)}</pre></article>`,
        )
        .join('') || '<p>Nothing has been posted yet.</p>') +
      SCRIPT,
    5,
  );

const MODE_WORDS: Readonly<Record<PlatformMode, string>> = {
  accept: 'Take it',
  refuse: 'Refuse the key',
  stall: 'Take nothing any more',
  close: 'Hang up after 5 s',
};

export const receivedPage = (streams: readonly ReceivedStream[]): string =>
  page('Harbour Town Channel: what comes in', receivedList(streams) + SCRIPT, 4);

function receivedList(streams: readonly ReceivedStream[]): string {
  if (streams.length === 0) return '<p>Nothing has come yet.</p>';
  return streams
    .map((stream) => {
      const name = encodeURIComponent(stream.streamName);
      const words = stream.isLive ? `live, ${Math.round(stream.receivedBytes / 1000)} kB so far` : 'not live';
      const modes = PLATFORM_MODES.map((mode) =>
        button(MODE_WORDS[mode], `/platform/${name}/mode`, { mode }, stream.mode === mode),
      );
      return `<article><img src="/platform/${name}/picture.jpg?at=${Date.now()}" alt="The newest picture"><div><b>${escape(stream.streamName.slice(0, 6))}…</b><br>${words}, ${stream.connections} connections<br>${modes.join(' ')}</div></article>`;
    })
    .join('');
}

/** A box's small screen, and its buttons. */
export function boxPage(name: string, screen: BoxScreen): string {
  const at = `/boxes/${encodeURIComponent(name)}`;
  const shown: Readonly<Record<BoxScreen['shows'], string>> = {
    off: '<p>It is off.</p>',
    code:
      screen.shows === 'code'
        ? `<p>Enter this code at<br><b>${escape(screen.page)}</b></p><p class="code">${escape(screen.code)}</p>`
        : '',
    ready:
      'name' in screen
        ? `<p><b>${escape(screen.name)}</b>, ready to send to ${escape(screen.sourceName)}.</p>`
        : '',
    sending:
      'name' in screen
        ? `<p><b>${escape(screen.name)}</b> is sending to ${escape(screen.sourceName)}.</p>`
        : '',
    fault: screen.shows === 'fault' ? `<p>${escape(screen.words)}</p>` : '',
  };
  const buttons = [
    button('Switch it on', `${at}/on`, {}),
    button('Send', `${at}/start`, {}, screen.shows === 'sending'),
    button('Stop', `${at}/stop`, {}),
    button('Switch it off', `${at}/off`, {}, screen.shows === 'off'),
  ];
  const body = `<div class="screen">${shown[screen.shows]}</div><p>${buttons.join(' ')}</p>${SCRIPT}`;
  return page(`The box in the ${name}`, body, 3);
}

/** Every letter that came, newest first; links in it can be followed. */
export function mailPage(letters: readonly Letter[]): string {
  const rows = [...letters].reverse().map((letter) => {
    const text = escape(letter.text).replace(/https?:\/\/\S+/g, (link) => `<a href="${link}">${link}</a>`);
    return `<article><div><b>${escape(letter.subject)}</b> to ${escape(letter.to)}<pre>${text}</pre></div></article>`;
  });
  return page('The mail box', rows.join('') || '<p>No letter has come yet.</p>', 5);
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
