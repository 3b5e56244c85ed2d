import { request as plain } from 'node:http';
import { request as secure } from 'node:https';
import type { WebhookAnswer } from '@heliphon/contracts/webhooks';
import { outside, outsideFault } from '../platform/outside.js';

/** A receiver that takes longer gets the message again later, so that the other houses need not wait. */
const ANSWERS_WITHIN_MS = 10_000;

/**
 * Posts a body to an address of others, never to an inner one, never further than that address.
 * @param mayBeInner - where somebody tries it out on one machine.
 */
export function postOutside(
  address: string,
  body: string,
  headers: Readonly<Record<string, string>>,
  mayBeInner: boolean,
): Promise<WebhookAnswer> {
  const url = new URL(address);
  const request = url.protocol === 'https:' ? secure : plain;
  return new Promise<WebhookAnswer>((tell, refuse) => {
    const sent = request(url, {
      method: 'POST',
      headers: { ...headers, 'Content-Length': Buffer.byteLength(body) },
      signal: AbortSignal.timeout(ANSWERS_WITHIN_MS),
      ...outside(url, mayBeInner),
    });
    sent.once('response', (response) => {
      // What they have to say is not read.
      response.destroy();
      tell(answerOf(response.statusCode ?? 0));
    });
    sent.once('error', refuse);
    sent.end(body);
  }).catch(outsideFault);
}

function answerOf(status: number): WebhookAnswer {
  if (status >= 200 && status < 300) return 'delivered';
  return status >= 300 && status < 400 ? 'redirected' : `status-${status}`;
}
