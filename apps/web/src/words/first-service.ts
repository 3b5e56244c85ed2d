import type { FirstServiceView, FirstStep } from '@heliphon/contracts/first-service';

interface StepWords {
  readonly name: string;
  /** What to do, or how far it is. */
  readonly todo: (view: FirstServiceView) => string;
  readonly done: (view: FirstServiceView) => string;
  readonly button: (view: FirstServiceView) => string;
}

/** The way to a first service, step by step. en-GB. */
export const FIRST_STEP_WORDS: Readonly<Record<FirstStep, StepWords>> = {
  look: {
    name: 'Make it look like yours',
    todo: () => 'Your name, logo and colours are on every page viewers see.',
    done: () => 'Your name and colours are on every page viewers see.',
    button: () => 'Set name, logo and colours',
  },
  source: {
    name: 'Connect a camera or encoder',
    todo: ({ silentSource }) =>
      silentSource
        ? `“${silentSource}” has not sent a picture yet. Type its address and key into the encoder, or send from this device.`
        : 'Add a source for it. You get an address and a key to type in, or can send from this device.',
    done: () => 'We have received a picture.',
    button: ({ silentSource }) => (silentSource ? `Connect “${silentSource}”` : 'Add a source'),
  },
  event: {
    name: 'Plan the service',
    todo: () => 'Once, or every week. It opens its doors, goes on air and ends by itself.',
    done: () => 'It is in the plan.',
    button: () => 'Plan an event',
  },
  website: {
    name: 'Put the player on your website',
    todo: ({ slug }) =>
      slug
        ? 'Copy this line into a page of your website and open that page once. We notice by ourselves.'
        : 'Plan the service first; then there is a line to copy here.',
    done: ({ siteHost }) => `Seen on ${siteHost ?? 'your website'}.`,
    button: () => 'Copy the line',
  },
  help: {
    name: 'Get some help',
    todo: ({ invited }) =>
      invited
        ? `${invited} has been invited and has not joined yet.`
        : 'Invite somebody to run the desk or look after the chat.',
    done: () => 'You are not on your own.',
    button: ({ invited }) => (invited ? 'See who is invited' : 'Invite somebody'),
  },
};
