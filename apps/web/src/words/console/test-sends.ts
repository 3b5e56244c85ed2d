import { DESTINATION_REASONS, type DestinationReason } from '@heliphon/core/destinations/destination-state';
import type { TestSendView } from '@heliphon/contracts/test-sends';
import { reasonWords } from '../signal.js';
import { POSTINGS_TEXT } from './postings.js';

/** What is said of trying out places. en-GB. */
export const TEST_SEND_TEXT = {
  title: 'Try out the places',
  hint: 'Each gets the picture for ten seconds. Where an account is linked, only its owner can see it, and it is taken down afterwards; a place with an address of its own shows it as it shows everything.',
  aPlace: 'A place',
  begin: 'Try it',
  again: 'Try it again',
  ofPlace: (words: string, name: string) => `${words}: ${name}`,
} as const;

/** How trying out a place went, or goes. */
export function testSendWords(test: TestSendView | null): string {
  if (!test) return 'not tried yet';
  switch (test.result) {
    case null:
      return 'is being tried';
    case 'taken':
      return 'took the picture for ten seconds: all is well';
    case 'no-picture':
      return 'got no picture in time. Is the source sending?';
    case 'broken-off':
      return 'was not tried to the end: the rehearsal was over';
    default:
      return isReason(test.result)
        ? `did not take it: ${reasonWords(test.result)}`
        : `could not be tried. ${POSTINGS_TEXT.trouble(test.result)}`;
  }
}

const isReason = (result: string): result is DestinationReason =>
  (DESTINATION_REASONS as readonly string[]).includes(result);
