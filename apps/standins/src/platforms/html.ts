const escapes: Readonly<Record<string, string>> = {
  '&': '&amp;',
  '<': '&lt;',
  '>': '&gt;',
  '"': '&quot;',
  "'": '&#39;',
};

/** HTML that may be put into HTML as it is. */
export class Html {
  constructor(readonly text: string) {}
}

type Piece = string | number | Html | readonly Html[] | false | null;

function textOf(piece: Piece): string {
  if (piece instanceof Html) return piece.text;
  if (piece === null || piece === false) return '';
  if (typeof piece === 'object') return piece.map(({ text }) => text).join('');
  return String(piece).replace(/[&<>"']/g, (letter) => escapes[letter]!);
}

/** A template whose values are text unless they are HTML themselves. */
export const html = (parts: TemplateStringsArray, ...pieces: readonly Piece[]): Html =>
  new Html(parts.reduce((text, part, index) => text + textOf(pieces[index - 1] ?? null) + part));

/** How a platform looks. */
export interface Look {
  readonly name: string;
  readonly motto: string;
  readonly css: string;
}

const BASE = `*{box-sizing:border-box}body{margin:0;font:17px/1.5 system-ui,sans-serif}main{max-width:860px;margin:0 auto;padding:20px}
img{max-width:100%;display:block}button,input,select,textarea{font:inherit;min-height:44px;padding:6px 14px}fieldset{border:0;padding:0;margin:18px 0}legend{font-weight:700}label{display:flex;gap:12px;align-items:center;min-height:44px}input:is([type=checkbox],[type=radio]){min-height:0;width:20px;height:20px}`;

/** @param refreshSeconds - for pages that show something which moves */
export const pageOf = (look: Look, title: string, body: Html, refreshSeconds?: number): string =>
  html`<!doctype html>
    <html lang="en-GB">
      <head>
        <meta charset="utf-8" />
        <meta name="viewport" content="width=device-width" />
        ${refreshSeconds ? html`<meta http-equiv="refresh" content="${refreshSeconds}" />` : null}
        <title>${title}: ${look.name}</title>
        <style>
          ${new Html(BASE + look.css)}
        </style>
      </head>
      <body>
        <header><a href="/">${look.name}</a> <span>${look.motto}</span></header>
        <main>
          <h1>${title}</h1>
          ${body}
        </main>
      </body>
    </html>`.text;
