/** Tells the page around how high this embed wants to be; where nobody listens it does no harm. */
export function tellHeight(): void {
  if (window.parent === window) return;
  const tell = (): void => {
    const heightPx = document.documentElement.getBoundingClientRect().height;
    window.parent.postMessage({ type: 'heliphon-height', heightPx }, '*');
  };
  new ResizeObserver(tell).observe(document.documentElement);
}
