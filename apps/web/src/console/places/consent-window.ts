import { beginLink } from '../../data/accounts.js';

const CHANNEL = 'heliphon.linked';
const SIZE = 'popup,width=560,height=760';

/**
 * Opens a platform's consent in a window of its own. Where browsers allow none, it takes the place of this page.
 * @throws ApiError where the consent cannot be asked for; no window stays open then
 */
export async function openConsent(platform: string, accountId?: string): Promise<void> {
  // Opened at once, while the browser still knows that somebody has pressed a button.
  const opened = window.open('', 'heliphon-consent', SIZE);
  try {
    const { address } = await beginLink(platform, accountId);
    (opened ?? window).location.href = address;
  } catch (error) {
    opened?.close();
    throw error;
  }
}

/** Tells the window from which the consent was opened, and closes this one. */
export function tellLinked(): void {
  const channel = new BroadcastChannel(CHANNEL);
  channel.postMessage('linked');
  channel.close();
  window.close();
}

/** @returns its undo */
export function onLinked(then: () => void): () => void {
  const channel = new BroadcastChannel(CHANNEL);
  channel.onmessage = then;
  return () => channel.close();
}
