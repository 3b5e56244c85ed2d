import useSWR from 'swr';
import type { Page } from '@heliphon/contracts/problem';
import type { WebhookDeliveryView, WebhookSecret, WebhookView } from '@heliphon/contracts/webhooks';
import { ApiError, ask } from './api.js';
import { fetcher, thenAskAgain } from './cache.js';

const WEBHOOK = '/api/house/webhook';
const DELIVERIES = `${WEBHOOK}/deliveries?limit=10`;

/** `null` where none is set. */
export const useWebhook = () =>
  useSWR<WebhookView | null>(WEBHOOK, (path: string) =>
    ask<WebhookView>(path).catch((error: unknown) => {
      if (error instanceof ApiError && error.status === 404) return null;
      throw error;
    }),
  );

export const useWebhookDeliveries = (isSet: boolean) =>
  useSWR<Page<WebhookDeliveryView>>(isSet ? DELIVERIES : null, fetcher, { refreshInterval: 3000 });

export const setWebhook = (address: string): Promise<WebhookView> =>
  thenAskAgain(WEBHOOK, ask(WEBHOOK, { method: 'PUT', body: { address } }));

export const removeWebhook = (): Promise<void> => thenAskAgain(WEBHOOK, ask(WEBHOOK, { method: 'DELETE' }));

export const renewWebhookSecret = (): Promise<WebhookSecret> => ask(`${WEBHOOK}/secret`, { method: 'POST' });

export const tryWebhook = (): Promise<void> =>
  thenAskAgain(DELIVERIES, ask(`${WEBHOOK}/try`, { method: 'POST' }));
