/** Somebody at the desk of an event. */
export interface AtDesk {
  readonly personId: string;
  readonly name: string;
  /** May do what the desk does, and so hold it. */
  readonly canHold: boolean;
}

/** Who holds the desk of an event: `GET /api/events/:id/holder`. */
export interface DeskHolderView {
  readonly holder: { readonly personId: string; readonly name: string; readonly sinceMs: number } | null;
}

/** Who is to hold it: oneself, or somebody to whom it is handed over; `null` lets go of it. */
export interface ChooseHolder {
  readonly personId: string | null;
}
