/**
 * What stands before the bytes on the socket of a quick picture (`…/quick`): the next binary message is an init segment,
 * each after it a fragment (ISO/IEC 14496-12), timed by the programme's own time.
 */
export interface QuickRun {
  readonly type: 'run';
  /** As RFC 6381 has them. */
  readonly codecs: string;
  /** The instant at which the programme's own time is zero. */
  readonly startsAtUtcMs: number;
}
