import type { VisitCounter } from '@heliphon/contracts/house';

const keyOf = ({ scriptUrl }: VisitCounter): string => `heliphon.counted ${new URL(scriptUrl).origin}`;

/** What somebody answered when they were asked; `null`: not yet. It holds for one counter, on this device. */
export function readConsent(counter: VisitCounter): boolean | null {
  try {
    const kept = localStorage.getItem(keyOf(counter));
    return kept === null ? null : kept === 'yes';
  } catch {
    return null;
  }
}

export function keepConsent(counter: VisitCounter, mayCount: boolean): void {
  try {
    localStorage.setItem(keyOf(counter), mayCount ? 'yes' : 'no');
  } catch {
    // it holds for this visit
  }
}

const ID = 'visit-counter';

/** Lets the house's counter run in this page, once. */
export function startCounting({ scriptUrl, attribute, siteId }: VisitCounter): void {
  if (document.getElementById(ID)) return;
  const script = Object.assign(document.createElement('script'), { id: ID, src: scriptUrl, async: true });
  script.setAttribute(attribute, siteId);
  document.head.append(script);
}
