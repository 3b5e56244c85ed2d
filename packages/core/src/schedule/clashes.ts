/** What is needed to see whether two events want one source at once. */
export interface SourceBooking {
  readonly eventId: string;
  readonly sourceId: string | null;
  readonly fromMs: number;
  readonly toMs: number;
}

/** The bookings that want the same source while `booking` does, earliest first. Touching ends do not clash. */
export function findClashes<T extends SourceBooking>(booking: SourceBooking, others: readonly T[]): T[] {
  return others
    .filter(
      (other) =>
        other.eventId !== booking.eventId &&
        booking.sourceId !== null &&
        other.sourceId === booking.sourceId &&
        other.fromMs < booking.toMs &&
        booking.fromMs < other.toMs,
    )
    .sort((a, b) => a.fromMs - b.fromMs);
}
