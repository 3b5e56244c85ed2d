import type { default as Hls, ErrorData, Fragment, LevelDetails } from 'hls.js';
import { countedAddress } from './counted-address.js';
import { streamOf, withGrantOf } from './granted-address.js';
import { ElementSound } from './element-sound.js';
import { loadAgain, recover, takeLess } from './hls-mending.js';
import { RETRY_MS, settingsFor } from './hls-settings.js';
import type { PlayerEvents, PlayerSource, PlayerState } from './player-state.js';
import { INITIAL_STATE, isSameState, soundOf } from './player-state.js';
import { lookedAt, type LookedAt } from './minute-picture.js';
import { MissedWatch, SLEPT_MS } from './missed.js';
import { Presence } from './presence.js';
import { dateAt, firstDateOf, offsetAt, positionAt, reachOf } from './playlist-dates.js';
import { LoadWatch } from './load-watch.js';
import { setSpeed, type Speed } from './speed.js';
import { SizesWatch } from './sizes-watch.js';
import { isStuck, type Standstill, standstill } from './standstill.js';
import { TrackKinds } from './track-kinds.js';
import {
  aheadSeconds,
  behindEdge,
  LATE_SECONDS,
  showCaptions,
  shownIn,
  signsOf,
  statusOf,
} from './video-state.js';

const CHANGES = ['playing', 'pause', 'waiting', 'seeking', 'volumechange', 'timeupdate', 'ended'] as const;
/** So little left to play that going on cannot wait; what is left is lost where the kinds of tracks change. */
const NEARLY_DRY_SECONDS = 0.5;
const UPDATE_EVERY_MS = 250;
const PAST_HANGING_MS = 500;

/** Plays an event in a video element: live at low latency, and its replay once it has ended. Owns hls.js. */
export class PlayerEngine {
  #hls: Hls | null = null;
  #source: PlayerSource | null = null;
  #next: PlayerSource | null = null;
  #state = INITIAL_STATE;
  #hasEndList = false;
  /** Counts how often a stream was opened: only the last goes on. */
  #turn = 0;
  /** Where a stream that is being reopened shall begin; `null` at its usual place. */
  #place: Date | null = null;
  /** What was shown last before the stream was reopened. */
  #lastSeen: Date | null = null;
  #details: LevelDetails | null = null;
  /** Loading waits before an init segment that may bring other kinds of tracks. */
  #isHeldBack = false;
  #standstill: Standstill | null = null;
  #loads: LoadWatch | null = null;
  #sizes: SizesWatch | null = null;
  readonly #missing = new MissedWatch();
  #updatedAtMs = performance.now();
  readonly #presence = new Presence(() => (this.video.paused ? null : this.#source));
  readonly sound: ElementSound;
  readonly #abort = new AbortController();
  readonly #updating: number;

  constructor(
    readonly video: HTMLVideoElement,
    private readonly events: PlayerEvents,
    withSound: boolean,
  ) {
    this.sound = new ElementSound(video, withSound, (wantsSound) => this.#set({ wantsSound }));
    const { signal } = this.#abort;
    for (const name of CHANGES) video.addEventListener(name, () => this.#update(), { signal });
    // The system's own player takes a newer grant only by being opened again, which comes of that.
    video.addEventListener('error', () => !this.#hls && this.events.denied(), { signal });
    window.addEventListener('online', () => this.#hls?.startLoad(), { signal });
    this.#updating = window.setInterval(() => this.#update(), UPDATE_EVERY_MS);
  }

  /** Plays a source. A replay that follows the live picture waits until that has been seen to its end. */
  async play(source: PlayerSource): Promise<void> {
    const known = this.#source;
    if (known && streamOf(source.hls) === streamOf(known.hls) && !this.video.error) {
      // Its grant may be newer: whatever is asked for next carries it.
      this.#source = source;
      if (!source.main !== !known.main) await this.#open(source, this.#keepsPlace ? this.#seen : null);
      return;
    }
    const follows = known?.kind === 'live' && source.kind === 'replay' && !this.video.ended;
    if (!follows) return this.#open(source, null);
    this.#next = source;
    if (this.#hasEndList) this.#followEndList();
  }

  pause(): void {
    this.video.pause();
  }

  async resume(): Promise<void> {
    try {
      await this.video.play();
    } catch (error) {
      if (!(error instanceof DOMException) || error.name !== 'NotAllowedError' || this.video.muted) return;
      this.sound.refused();
      await this.video.play().catch(() => this.#set({ status: 'blocked' }));
    }
  }

  turnSoundOn(): void {
    this.sound.turnOn();
    void this.resume();
  }

  seekTo(seconds: number): void {
    const { status, startSeconds, endSeconds, positionSeconds } = this.#state;
    const from = status === 'loading' ? (this.#place ?? this.#lastSeen) : null;
    if (!from) {
      this.video.currentTime = Math.min(endSeconds, Math.max(startSeconds, seconds));
      return this.#update();
    }
    // Nothing to seek in yet: the way goes on from where it was going to, or from what was seen last. It is reopened
    // there: hls.js may stop for good when it is sent elsewhere in the middle of an init segment.
    const place = new Date(from.getTime() + (seconds - positionSeconds) * 1000);
    this.#set({ positionSeconds: Math.max(0, seconds) });
    void this.#open(this.#source!, place);
  }

  /** To an instant of the programme; before what can still be had, its beginning. */
  seekToDate(dateMs: number): void {
    this.#set({ missed: null });
    const seconds = this.placeOf(dateMs);
    if (seconds !== null) this.seekTo(seconds);
  }

  /** Where an instant of the programme stands on the player's time line, in seconds; `null` where nobody knows. */
  placeOf(dateMs: number): number | null {
    return positionAt(this.#details, new Date(dateMs));
  }

  /** What stands at a place of the time line; `null` where nobody knows. */
  lookAt(seconds: number): LookedAt | null {
    const date = dateAt(this.#details, seconds);
    return date && this.#source && lookedAt(this.#source.hls, date.getTime());
  }

  goToNow(): void {
    this.#set({ missed: null });
    const { seekable } = this.video;
    const edge =
      this.#hls?.liveSyncPosition ?? (seekable.length > 0 ? seekable.end(seekable.length - 1) : null);
    if (edge) this.video.currentTime = edge;
    void this.resume();
  }

  /** @param heightPx - of one of the renditions; `null` leaves the choice to the player. */
  chooseHeight(heightPx: number | null): void {
    if (!this.#hls) return;
    this.#hls.nextLevel =
      heightPx === null ? -1 : this.#hls.levels.findIndex(({ height }) => height === heightPx);
    this.#set({ chosenHeightPx: heightPx });
  }

  /** Leaves the picture out, or takes it in again; anyone who had gone back, or sees a replay, keeps the place. */
  chooseSoundOnly(isSoundOnly: boolean): void {
    if (!this.#source || isSoundOnly === this.#state.isSoundOnly) return;
    const place = this.#place ?? (this.#keepsPlace ? this.#seen : null);
    this.#set({ isSoundOnly });
    void this.#open(this.#source, place);
  }

  setSpeed(speed: Speed): void {
    setSpeed(this.video, speed);
    this.#set({ speed });
  }

  showCaptions(shown: boolean): void {
    showCaptions(this.video, shown);
    this.#update();
  }

  close(): void {
    this.#abort.abort();
    window.clearInterval(this.#updating);
    this.#presence.close();
    this.#sizes?.close();
    this.#hls?.destroy();
    this.#hls = null;
  }

  async #open(source: PlayerSource, startAt: Date | null): Promise<void> {
    if (!this.#source) this.sound.beginSilently();
    const turn = ++this.#turn;
    if (source !== this.#source) this.#details = null;
    // As the same playlist was last: right but for what has slid out of its window since.
    const startPosition = startAt && offsetAt(this.#details, startAt);
    this.#source = source;
    this.#next = null;
    this.#hasEndList = false;
    this.#place = startAt;
    this.#isHeldBack = false;
    this.#set({ kind: source.kind, status: 'loading', lateSeconds: 0 });
    if (source.kind === 'live') this.setSpeed(1);
    this.#sizes?.close();
    this.#hls?.destroy();
    this.#hls = null;
    const { default: HlsLight } = await import('hls.js/light');
    if (this.#abort.signal.aborted || this.#turn !== turn) return;
    if (!HlsLight.isSupported()) {
      // No media source extensions (telephones of one maker): the system plays HLS itself.
      this.video.src = this.#addressOf(source.main ?? source.hls);
      return this.resume();
    }
    const isLive = source.kind === 'live';
    const hls = new HlsLight(settingsFor(source.kind, startPosition, (url) => this.#addressOf(url)));
    this.#hls = hls;
    this.#loads = isLive ? new LoadWatch(hls, HlsLight.Events) : null;
    hls.on(HlsLight.Events.ERROR, (_event, data) => this.#failed(hls, data));
    hls.on(HlsLight.Events.MANIFEST_PARSED, (_event, { levels }) => {
      const heightsPx = levels.map(({ height }) => height).sort((a, b) => b - a);
      this.#set({ heightsPx, chosenHeightPx: null });
      if (isLive && source.main && levels.length === 1) this.#watchSizes(hls);
    });
    const kinds = new TrackKinds();
    hls.on(HlsLight.Events.FRAG_LOADING, (_event, { frag }) => {
      // What is live always has picture and sound: only recordings from before that change their kinds.
      const isOther = !isLive && kinds.mayChangeWith(frag);
      if (isOther && aheadSeconds(this.video) > NEARLY_DRY_SECONDS) this.#holdBack(hls);
    });
    hls.on(HlsLight.Events.FRAG_PARSING_INIT_SEGMENT, (_event, data) => {
      const other = kinds.changedBy(data);
      this.#set({ canBeSoundOnly: kinds.hasBoth || this.#state.isSoundOnly });
      if (other) this.#openBehind(hls, other);
    });
    hls.on(HlsLight.Events.LEVEL_UPDATED, (_event, { details }) => {
      if (!isLive || details.live) return;
      this.#hasEndList = true;
      this.#followEndList();
    });
    let isPlaced = startPosition !== null;
    hls.on(HlsLight.Events.LEVEL_LOADED, (_event, { details }) => {
      this.#details = details;
      if (!isPlaced) this.#loadFromPlace();
      isPlaced = true;
    });
    hls.loadSource(this.#state.isSoundOnly ? soundOf(source) : (source.main ?? source.hls));
    hls.attachMedia(this.video);
    await this.resume();
  }

  #watchSizes(hls: Hls): void {
    this.#sizes = new SizesWatch(
      () => this.#addressOf(this.#source!.main!),
      1,
      () => {
        if (hls === this.#hls) void this.#open(this.#source!, this.#keepsPlace ? this.#seen : null);
      },
    );
  }

  /** With the newest grant; playlists also say who watches. */
  #addressOf(url: string): string {
    const granted = withGrantOf(url, this.#source!.hls);
    return url.includes('.m3u8') ? countedAddress(granted, this.#presence.viewer) : granted;
  }

  #loadFromPlace(): void {
    const seconds = this.#place && positionAt(this.#details, this.#place);
    if (seconds === null) return;
    if (this.video.readyState >= HTMLMediaElement.HAVE_METADATA) this.video.currentTime = seconds;
    this.#hls!.stopLoad();
    this.#hls!.startLoad(seconds);
  }

  /** Keeps its place after a sleep while that can still be had, and goes to now where it cannot. */
  #woke(): void {
    this.#standstill = null;
    this.#hls?.startLoad();
    const { seekable, currentTime } = this.video;
    const isGone = seekable.length > 0 && currentTime < seekable.start(0);
    if (this.#state.kind === 'live' && isGone) this.goToNow();
  }

  #failed(hls: Hls, data: ErrorData): void {
    if (data.response?.code === 403) this.events.denied();
    if (data.details === 'bufferStalledError') takeLess(hls);
    if (!data.fatal || hls !== this.#hls) return;
    if (this.#next) return void this.#open(this.#next, null);
    // A stretch without any sound has nothing to give alone.
    if (this.#state.isSoundOnly && data.response?.code === 404) return this.chooseSoundOnly(false);
    if (data.type === 'mediaError') recover(hls, this.video.paused, () => void this.resume());
    else window.setTimeout(() => hls === this.#hls && loadAgain(hls), RETRY_MS);
  }

  /** What has been loaded would be lost with other kinds of tracks: it is played out first. */
  #holdBack(hls: Hls): void {
    window.setTimeout(() => {
      if (hls !== this.#hls) return;
      hls.stopLoad();
      this.#isHeldBack = true;
    });
  }

  /**
   * What was opened for picture and sound cannot take sound alone, nor the other way about: hls.js empties the element
   * there, so that the place is taken down at once, and the stream reopened behind it.
   */
  #openBehind(hls: Hls, init: Fragment): void {
    const going = this.#place && positionAt(this.#details, this.#place);
    const isEmptied = this.video.readyState === HTMLMediaElement.HAVE_NOTHING;
    const position = going ?? (isEmptied ? this.#state.positionSeconds : this.video.currentTime);
    const behind = this.#details && firstDateOf(this.#details, init, position);
    const place = this.#place || this.#keepsPlace ? (behind ?? this.#place) : null;
    window.setTimeout(() => {
      if (hls === this.#hls && this.#source) void this.#open(this.#source, place);
    });
  }

  /** Anyone who sees a replay, or has gone back, is somewhere on purpose; all others are at the live edge. */
  get #keepsPlace(): boolean {
    return this.#state.kind === 'replay' || this.#state.lateSeconds > 0;
  }

  /** Anyone who had gone back stays where they are, in the replay; all others see the end out first. */
  #followEndList(): void {
    const next = this.#next;
    if (!next || this.#state.endSeconds - this.video.currentTime < LATE_SECONDS * 2) return;
    void this.#open(next, this.#seen);
  }

  #update(): void {
    const nowMs = performance.now();
    if (nowMs - this.#updatedAtMs > SLEPT_MS) this.#woke();
    this.#updatedAtMs = nowMs;
    const { video } = this;
    const isLive = this.#state.kind === 'live';
    const status = statusOf(video, this.#state.status, this.#hasEndList);
    if (status !== 'loading') {
      this.#place = null;
      this.#lastSeen = this.#seen;
    }
    const shown = {
      status,
      isLive,
      edgeSeconds: (isLive ? this.#hls?.liveSyncPosition : null) ?? 0,
      hasEndList: this.#hasEndList,
      goingToSeconds: this.#goingTo(),
      reach: this.#reach(),
      seen: this.#lastSeen,
    };
    this.#set(shownIn(video, shown));
    const missed = this.#missing.look({
      nowMs,
      isAtEdge: !this.#keepsPlace && !video.paused,
      isWaiting: status === 'waiting',
      seenMs: this.#lastSeen?.getTime() ?? null,
      behindSeconds: behindEdge(video, shown),
    });
    if (missed) {
      this.goToNow();
      this.#set({ missed });
    }
    if (this.#isHeldBack && aheadSeconds(this.video) < NEARLY_DRY_SECONDS) {
      this.#isHeldBack = false;
      // Told where: hls.js takes the very beginning for no place at all.
      this.#hls?.startLoad(this.video.currentTime);
    }
    if (status === 'ended' && this.#next) void this.#open(this.#next, null);
    else if (this.#hls) this.#freeWhenStuck(this.#hls, nowMs);
    this.#loads?.help(video, nowMs);
  }

  /** Opens the stream again when the player has hung; a replay a little further on, to get past whatever it hung on. */
  #freeWhenStuck(hls: Hls, nowMs: number): void {
    this.#standstill = standstill(this.#standstill, signsOf(hls, this.video, nowMs));
    if (!isStuck(this.#standstill, nowMs)) return;
    this.#standstill = null;
    const seen = this.#place ?? (this.#keepsPlace ? this.#lastSeen : null);
    void this.#open(this.#source!, seen && new Date(seen.getTime() + PAST_HANGING_MS));
  }

  /** The instant that is shown. hls.js would name it by the segment it last looked at, which after a seek is another. */
  get #seen(): Date | null {
    return dateAt(this.#details, this.video.currentTime);
  }

  /** Where a viewer is being brought while the stream is reopened; `null` for everybody else. */
  #goingTo(): number | null {
    return this.#place && (positionAt(this.#details, this.#place) ?? this.#state.positionSeconds);
  }

  /** From where to where can be sought: an emptied element does not know, but the playlist does. */
  #reach(): readonly [startSeconds: number, endSeconds: number] {
    const { seekable } = this.video;
    if (seekable.length > 0) return [seekable.start(0), seekable.end(seekable.length - 1)];
    if (!this.#place) return [0, 0];
    return reachOf(this.#details) ?? [this.#state.startSeconds, this.#state.endSeconds];
  }

  #set(change: Partial<PlayerState>): void {
    const next = { ...this.#state, ...change };
    const isNew = !isSameState(next, this.#state);
    this.#state = next;
    if (isNew) this.events.changed(next);
  }
}
