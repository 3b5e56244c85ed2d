/**
 * Puts an event's player where this script stands, and fits it to the room it has:
 * <script async src="https://HOUSE/embed.js" data-event="harbour-blessing"></script>
 * `data-only="countdown"` shows the countdown alone, `data-with="title,sheet,chat"` what is to stand with the picture,
 * `data-width="640"` keeps it to a width in pixels. Several may stand in one page. One that stands in the head puts its player at the end of the page. As a module it
 * runs once for all of its scripts, and finds them itself. Nothing is stored and nothing is read of the page around.
 */
(() => {
  const current = document.currentScript;
  const scripts = current ? [current] : document.querySelectorAll('script[type="module"][src$="/embed.js"]');
  for (const script of scripts) {
    const slug = script.dataset.event;
    if (!slug || !/^[a-z0-9-]+$/.test(slug)) {
      console.error('embed.js needs data-event="ADDRESS-OF-THE-EVENT"');
      continue;
    }
    const origin = new URL(script.src).origin;
    const frame = document.createElement('iframe');
    const { only, with: extras, width } = script.dataset;
    const query = only
      ? `?only=${encodeURIComponent(only)}`
      : extras
        ? `?with=${encodeURIComponent(extras)}`
        : '';
    frame.src = `${origin}/embed/${slug}${query}`;
    frame.title = script.dataset.title || slug.replaceAll('-', ' ');
    frame.allow = 'autoplay; fullscreen; picture-in-picture';
    frame.loading = 'lazy';
    const widthPx = Number(width) >= 200 ? `${Math.round(Number(width))}px` : '100%';
    frame.style.cssText = `display:block;width:${widthPx};max-width:100%;border:0;${only === 'countdown' ? 'height:320px' : 'aspect-ratio:16/11'}`;
    window.addEventListener('message', (event) => {
      const isOurs = event.source === frame.contentWindow && event.origin === origin;
      const height =
        isOurs && event.data && event.data.type === 'heliphon-height' && Number(event.data.heightPx);
      if (!height || height < 100 || height > 4000) return;
      frame.style.aspectRatio = 'auto';
      frame.style.height = `${Math.ceil(height)}px`;
    });
    if (script.closest('body')) script.after(frame);
    else if (document.body) document.body.append(frame);
    else document.addEventListener('DOMContentLoaded', () => document.body.append(frame));
  }
})();
