import { Parser } from 'htmlparser2';

/** What draws, and what it is drawn with (SVG 2). Nothing that fetches, runs, or lets other languages in. */
const ELEMENTS = new Set(
  'svg g defs title desc path rect circle ellipse line polyline polygon text tspan use symbol clipPath mask linearGradient radialGradient stop pattern'.split(
    ' ',
  ),
);
const ATTRIBUTES = new Set(
  `xmlns viewBox width height x y x1 y1 x2 y2 cx cy r rx ry fx fy d points transform id class fill stroke stroke-width
  stroke-linecap stroke-linejoin stroke-miterlimit stroke-dasharray stroke-dashoffset fill-rule clip-rule fill-opacity
  stroke-opacity opacity color clip-path mask offset stop-color stop-opacity gradientUnits gradientTransform spreadMethod
  patternUnits patternTransform preserveAspectRatio font-family font-size font-weight font-style text-anchor
  letter-spacing dominant-baseline clipPathUnits maskUnits href xlink:href xmlns:xlink`.split(/\s+/),
);
/** What makes a drawing more than one, so that leaving it out would show something else than was meant. */
const REFUSED = new Set([
  'script',
  'foreignObject',
  'iframe',
  'image',
  'style',
  'animate',
  'animateTransform',
  'set',
]);
const MOST_ELEMENTS = 5000;

export type SvgRefusal =
  | { readonly why: 'no-svg' }
  | { readonly why: 'too-much' }
  /** Something in it that is not let in. */
  | { readonly why: 'not-let-in'; readonly name: string };

/**
 * A drawing with nothing in it but what draws. What is only of use to programs that made it is left out.
 * @returns the cleaned drawing, or why it is refused
 */
export function cleanSvg(text: string): string | SvgRefusal {
  const out: string[] = [];
  let refusal: SvgRefusal | null = null;
  let elements = 0;
  /** Elements within one that is left out. */
  let skipped = 0;
  const refuse = (found: SvgRefusal): void => void (refusal ??= found);
  const parser = new Parser(
    {
      onopentag: (name, attributes) => {
        if (REFUSED.has(name)) refuse({ why: 'not-let-in', name: `<${name}>` });
        if (++elements > MOST_ELEMENTS) refuse({ why: 'too-much' });
        if (elements === 1 && name !== 'svg') refuse({ why: 'no-svg' });
        if (skipped > 0 || !ELEMENTS.has(name)) return void (skipped += 1);
        const kept = Object.entries(attributes).flatMap(([attribute, value]) => {
          if (/^on/i.test(attribute)) refuse({ why: 'not-let-in', name: attribute });
          if (leadsOutside(attribute, value))
            refuse({ why: 'not-let-in', name: `${attribute}="${value.slice(0, 40)}"` });
          return ATTRIBUTES.has(attribute) ? [` ${attribute}="${escaped(value)}"`] : [];
        });
        out.push(`<${name}${kept.join('')}>`);
      },
      ontext: (words) => {
        if (skipped === 0 && elements > 0) out.push(escaped(words));
      },
      onclosetag: (name) => {
        if (skipped > 0) skipped -= 1;
        else if (ELEMENTS.has(name)) out.push(`</${name}>`);
      },
    },
    { xmlMode: true, decodeEntities: true },
  );
  parser.write(text);
  parser.end();
  if (refusal) return refusal;
  return elements > 1 ? withNamespace(out.join('')) : { why: 'no-svg' };
}

/** A part of the drawing itself may be named (`#id`), nothing else. */
function leadsOutside(attribute: string, value: string): boolean {
  if (/(^|:)href$/i.test(attribute)) return !value.trim().startsWith('#');
  return /url\(\s*['"]?(?!#)/i.test(value) || /javascript:/i.test(value);
}

/** Without it a browser draws nothing. */
const withNamespace = (svg: string): string =>
  /^<svg[^>]*\sxmlns=/.test(svg) ? svg : svg.replace('<svg', '<svg xmlns="http://www.w3.org/2000/svg"');

const escaped = (text: string): string =>
  text.replace(/[&<>"]/g, (letter) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[letter]!);
