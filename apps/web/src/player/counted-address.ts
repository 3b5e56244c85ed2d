/** The website that embeds this page, by its host; `null` on a page of our own, empty where it does not say. */
export function embeddingSite(
  view: Pick<Window, 'parent' | 'location'> = window,
  referrer = document.referrer,
): string | null {
  if (view.parent === view) return null;
  const host = URL.canParse(referrer) ? new URL(referrer).host : '';
  return host === view.location.host ? null : host;
}

/** An address by which a viewer is counted, and where they watch. */
export function countedAddress(address: string, viewer: string, site = embeddingSite()): string {
  const counted = `${address}${address.includes('?') ? '&' : '?'}v=${viewer}`;
  return site === null ? counted : `${counted}&w=${encodeURIComponent(site)}`;
}
