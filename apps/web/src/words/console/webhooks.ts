import type { WebhookAnswer, WebhookKind } from '@heliphon/contracts/webhooks';
import type { Filled } from '../filled.js';

/** What is said of the house's webhook. en-GB. */
export const WEBHOOK_TEXT = {
  webhook: 'Webhook',
  whatItIs:
    'A program of yours is told when an event is planned, goes on air, ends, has its replay, or has a fault. Each message is signed, so that it can tell it is us.',
  address: 'Address',
  set: 'Use this address',
  change: 'Change the address',
  tryOut: 'Send a message to try it',
  newSecret: 'Make a new secret',
  remove: 'Stop using it',
  secret: 'Secret',
  copyTheSecret: 'Copy the secret now; it will not be shown again. The old one no longer works.',
  copiedIt: 'I have copied it',
  lastDeliveries: 'The last messages',
  noneYet: 'Nothing has been sent yet.',
  theWebhook: 'the webhook',
  nextTry: (at: Filled) => `next try at ${at}`,
  gaveUp: 'we have given up',
  onItsWay: 'on its way',
} as const;

export const WEBHOOK_KIND_WORDS: Readonly<Record<WebhookKind, string>> = {
  planned: 'Event planned',
  'on-air': 'On air',
  ended: 'Ended',
  'replay-there': 'Replay there',
  'fault-began': 'A fault began',
  'fault-over': 'A fault is over',
  try: 'To try it',
};

const ANSWERS: Readonly<Partial<Record<WebhookAnswer, string>>> = {
  delivered: 'delivered',
  'inner-address': 'not sent: the address lies within our own network',
  'not-found': 'there is no such host',
  unreachable: 'could not be reached',
  'too-slow': 'took too long to answer',
  redirected: 'pointed to another address, which we do not follow',
  'not-secure': 'could not prove its identity',
};

export const webhookAnswerWords = (answer: WebhookAnswer): string =>
  ANSWERS[answer] ?? `answered with an error (${answer.replace('status-', '')})`;
