import type { Admitted, AdmitWish } from '@heliphon/contracts/watching';
import { ask } from '../data/api.js';

const KEY = 'heliphon.admissions';
/** The server looks at so many. */
const MOST = 10;

/** What shows that this browser was let in, the newest first: in its storage, never in a cookie or an address. */
let tokens: readonly string[] = read();
let isInvitationRefused = false;

function read(): readonly string[] {
  try {
    const value: unknown = JSON.parse(localStorage.getItem(KEY) ?? '[]');
    return Array.isArray(value) ? value.filter((token) => typeof token === 'string') : [];
  } catch {
    return [];
  }
}

export const admissionHeaders = (): Record<string, string> =>
  tokens.length > 0 ? { 'heliphon-admission': tokens.join() } : {};

export const passHeaders = (pass: string | null): Record<string, string> =>
  pass ? { 'heliphon-pass': pass } : {};

/** @throws ApiError with the reason why it does not open the event */
export async function admit(slug: string, wish: AdmitWish): Promise<void> {
  const path = `/api/public/events/${encodeURIComponent(slug)}/admit`;
  const { token } = await ask<Admitted>(path, { method: 'POST', body: wish });
  tokens = [token, ...tokens].slice(0, MOST);
  try {
    localStorage.setItem(KEY, JSON.stringify(tokens));
  } catch {
    // It is good for as long as the page is open.
  }
}

/** Takes up the invitation that the page's address carries, and takes it out of there. */
export async function takeUpInvitation(slug: string): Promise<void> {
  const invitation = /^#i=([0-9a-z]+)$/.exec(location.hash)?.[1];
  if (!invitation) return;
  history.replaceState(null, '', location.pathname + location.search);
  await admit(slug, { invitation }).catch(() => (isInvitationRefused = true));
}

/** The address carried an invitation that opens nothing. */
export const wasInvitationRefused = (): boolean => isInvitationRefused;
