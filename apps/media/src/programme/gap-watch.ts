import type { DesiredSlate } from '@heliphon/core/control/desired-state';
import {
  type Continuity,
  type ContinuityEvent,
  eventOf,
  isAway,
  nextContinuity,
  NOT_THERE,
  verdictOf,
} from '@heliphon/core/media/continuity';
import type { Frame } from '@heliphon/core/media/frame';
import type { Tracks } from '@heliphon/core/media/track';
import type { ArrivedFrame } from '@heliphon/core/media/waiting-pictures';
import type { Clock } from '../clock.js';
import type { FrameListener } from '../ingest/source-connection.js';
import type { StandIn } from '../slate/stand-in.js';

/** Players hold little more than the limit in their buffers, so every moment counts. */
const LOOKS_EVERY_MS = 50;

/** Sees to it that a programme has no gap: what stops is replaced by the slate until it has come back for good. */
export class GapWatch implements FrameListener {
  #continuity: Continuity = NOT_THERE;
  #held: ArrivedFrame[] = [];
  #timer: NodeJS.Timeout | null = null;

  /** @param onto - gets the frames that go out, and hears when what feeds the programme went. */
  constructor(
    private readonly clock: Clock,
    private readonly onto: FrameListener,
    private readonly standIn: StandIn,
  ) {}

  /** The doors are open, and there is a slate. */
  get #rule(): DesiredSlate | null {
    return this.#timer ? this.standIn.want : null;
  }

  begin(): void {
    this.#timer ??= setInterval(() => this.#look(), LOOKS_EVERY_MS);
  }

  finish(): void {
    if (this.#timer) clearInterval(this.#timer);
    this.#timer = null;
    this.#held = [];
    this.standIn.stop();
  }

  /**
   * Something else feeds the programme, or the same once more.
   * @param isConnected - whether anything can come of it.
   */
  chosen(isConnected: boolean, isOther: boolean): void {
    if (!this.#rule) return this.onto.sourceWent();
    if (!isConnected) return this.#apply({ type: 'closed', atMs: this.#nowMs });
    // What comes back has to prove itself; what was chosen by hand has not.
    if (!isOther && isAway(this.#continuity)) return;
    if (!isAway(this.#continuity)) this.onto.sourceWent();
    this.#apply({ type: 'chosen', atMs: this.#nowMs });
  }

  /** On the monotone clock, how far the programme goes; `null` where it stands, or has not begun. */
  get reachedAtMs(): number | null {
    const isRunning = this.#continuity.presence.is === 'here' || this.standIn.isPlaying;
    if (!this.#rule || !isRunning) return null;
    return this.#nowMs - Math.max(0, this.standIn.stoppedMs);
  }

  /** Something else feeds the programme, and begins with pictures that came some time ago. */
  joined(frames: readonly ArrivedFrame[]): void {
    this.#apply({ type: 'chosen', atMs: this.#nowMs });
    for (const { frame, tracks, atMs } of frames) this.frame(frame, tracks, this.#nowMs - atMs);
  }

  /** Something that begins in a moment takes the place of all that is there, the slate too. */
  replaced(): void {
    this.standIn.stop();
    this.onto.sourceWent();
    if (this.#rule) this.#apply({ type: 'chosen', atMs: this.#nowMs });
  }

  sourceWent(): void {
    if (this.#rule) this.#apply({ type: 'closed', atMs: this.#nowMs });
    else this.onto.sourceWent();
  }

  #look(): void {
    if (!this.#rule) return;
    this.#apply({ type: 'clock', atMs: this.#nowMs });
    // The reel may have become ready just now, or another has.
    if (isAway(this.#continuity)) this.standIn.play();
  }

  frame(frame: Frame, tracks: Tracks, lateMs: number): void {
    if (!this.#rule) return this.onto.frame(frame, tracks, lateMs);
    const atMs = this.#nowMs - lateMs;
    const before = this.#continuity.presence;
    const event = eventOf(frame, tracks, atMs);
    if (event) this.#apply(event);
    switch (verdictOf(before, this.#continuity.presence, event !== null)) {
      case 'pass-over':
        return;
      case 'hold-from-here':
        this.#held = [{ frame, tracks, atMs }];
        return;
      case 'hold':
        this.#held.push({ frame, tracks, atMs });
        return;
      case 'release':
        this.#release();
        break;
      case 'show':
    }
    this.onto.frame(frame, tracks, lateMs);
  }

  #release(): void {
    const held = this.#held;
    this.#held = [];
    for (const { frame, tracks, atMs } of held) this.onto.frame(frame, tracks, this.#nowMs - atMs);
  }

  #apply(event: ContinuityEvent): void {
    const { awayAfterMs } = this.#rule!;
    const before = this.#continuity.presence;
    this.#continuity = nextContinuity(this.#continuity, event, awayAfterMs);
    const after = this.#continuity.presence;
    if (after.is === before.is) return;
    switch (after.is) {
      case 'here':
        return this.standIn.makeWay();
      case 'proving':
        return this.standIn.hold();
      case 'away':
        this.#held = [];
        if (!this.standIn.isPlaying) this.onto.sourceWent();
        return this.standIn.play();
      case 'awaited':
    }
  }

  get #nowMs(): number {
    return this.clock.monotonicMs();
  }
}
