/** Everything that may happen in a house. The list is closed: history, undo and words know each of them. */
export const HAPPENING_KINDS = [
  'event-planned',
  'event-edited',
  'event-deleted',
  'event-doors',
  'event-air',
  'event-kept',
  'event-cancelled',
  'event-reinstated',
  'event-went-over',
  'series-planned',
  'series-edited',
  'series-dates-made',
  'date-skipped',
  'date-taken-up',
  'duty-accepted',
  'duty-refused',
  'order-written',
  'order-moved',
  'rehearsal-started',
  'rehearsal-kept',
  'film-skipped',
  'poster-changed',
  'place-paused',
  'place-resumed',
  'recording-stopped',
  'recording-resumed',
  'source-added',
  'source-edited',
  'source-deleted',
  'source-came',
  'source-went',
  'source-refused',
  'key-renewed',
  'source-advised',
  'secret-unreadable',
  'line-opened',
  'guest-invited',
  'guest-link-opened',
  'guest-withdrawn',
  'box-paired',
  'box-edited',
  'box-let-go',
  'destination-added',
  'destination-edited',
  'destination-deleted',
  'destination-key-shown',
  'file-added',
  'file-ready',
  'file-refused',
  'file-stopped',
  'file-made-again',
  'file-edited',
  'file-binned',
  'file-restored',
  'channel-added',
  'channel-edited',
  'channel-deleted',
  'recording-kept',
  'recording-joined',
  'recording-edited',
  'recording-binned',
  'recording-restored',
  'recording-deleted',
  'message-hidden',
  'message-restored',
  'chat-person-hidden',
  'chat-person-restored',
  'person-invited',
  'person-joined',
  'person-removed',
  'invitation-withdrawn',
  'roles-changed',
  'password-renewed',
  'house-edited',
  'undone',
] as const;
export type HappeningKind = (typeof HAPPENING_KINDS)[number];

/** What something may happen to. */
export type SubjectKind =
  | 'event'
  | 'source'
  | 'destination'
  | 'recording'
  | 'chat'
  | 'person'
  | 'house'
  | 'series'
  | 'channel'
  | 'file'
  | 'box';
