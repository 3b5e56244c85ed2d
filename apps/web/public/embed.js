/**
 * Puts an event's player where this script stands, and fits it to the room it has:
 * <script async src="https://HOUSE/embed.js" data-event="harbour-blessing"></script>
 * Several may stand in one page. One that stands in the head puts its player at the end of the page. As a module it
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
    frame.src = `${origin}/embed/${slug}`;
    frame.title = script.dataset.title || slug.replaceAll('-', ' ');
    frame.allow = 'autoplay; fullscreen; picture-in-picture';
    frame.loading = 'lazy';
    frame.style.cssText = 'display:block;width:100%;border:0;aspect-ratio:16/11';
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
