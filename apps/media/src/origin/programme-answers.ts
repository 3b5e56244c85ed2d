import { join } from 'node:path';
import type { Grant, GrantClass } from '@heliphon/core/access/grant';
import { concatBytes } from '@heliphon/core/bytes';
import type { PlainRequest } from '@heliphon/core/delivery/plain-request';
import {
  initName,
  ORIGINAL_FOLDER,
  renderMultivariantPlaylist,
  renderRenditionReplay,
  renderReplayPlaylist,
  renditionFolder,
  segmentName,
  SOUND_FOLDER,
  type TrackSelection,
  type Variant,
  withHeadersInFront,
} from '@heliphon/core/packaging/playlist';
import type { Segment } from '@heliphon/core/packaging/packager';
import { readCodecs } from '@heliphon/core/packaging/read-codecs';
import type { Clock } from '../clock.js';
import type { Programme } from '../programme/programme.js';
import type { Rendition } from '../renditions/rendition.js';
import type { Renditions } from '../renditions/renditions.js';
import {
  type Answer,
  CACHE,
  mediaAnswer,
  NOTHING_HERE,
  pictureAnswer,
  playlistAnswer,
  refusal,
  textAnswer,
} from './answers.js';
import { INDEX_FILE } from '../recording/joiner.js';
import { findPicture } from '../pictures/minute-pictures.js';
import { FileMemory } from './file-memory.js';
import { FormMeasure } from './form-measure.js';
import type { GrantChecker } from './grant-checker.js';
import { type PlaylistAnswer, type PlaylistText, PlaylistTexts, playlistText } from './playlist-texts.js';
import { type ProgrammeAddress, readAddress, readFileName, readWish } from './programme-address.js';
import { SharedWaits } from './shared-waits.js';
import { soundInit, soundMedia } from './sound-memory.js';

export interface ProgrammePorts {
  readonly grants: GrantChecker;
  readonly clock: Clock;
  /** One that is running: at hand without a promise. */
  runningProgramme(programmeId: string): Programme | undefined;
  findProgramme(programmeId: string): Promise<Programme | undefined>;
  /** Whether it runs at another node by now. */
  isElsewhere(programmeId: string): boolean;
}

/** A file of a programme, asked for by somebody who may. */
export interface Asked extends Pick<ProgrammeAddress, 'selection' | 'file' | 'query'> {
  readonly programme: Programme;
  /** The one that is asked for, and its name, where it is a smaller picture. */
  readonly rendition: Rendition;
  readonly name: string | null;
  readonly grant: Grant;
}

const RUN_OUT = refusal(403, 'This address has run out. Open the page again to get a new one.');
const GONE_ON = 'This event goes on at another address. Open the page again.';
/** Why there is no live playlist. */
const UNANSWERED = {
  400: refusal(400, 'This playlist is not so far yet.'),
  403: refusal(403, 'The programme has not begun.'),
  503: refusal(503, 'Nothing new has come yet. The picture will be back.', ['Retry-After', '1']),
} as const;
const HINT_HOLD_MS = 5000;
/** Players read once which sizes there are. */
const SIZES_HOLD_MS = 5000;
/** So many of the last segments tell what a form takes. */
const MEASURED_SEGMENTS = 6;

/** What is asked of a programme over and over: playlists, parts, segments and headers. Grants come before existence. */
export class ProgrammeAnswers {
  readonly #texts = new WeakMap<Rendition, PlaylistTexts>();
  readonly #waits = new WeakMap<Programme, SharedWaits>();
  /** A replay never changes: its text is written once. */
  readonly #replays = new WeakMap<readonly Segment[], Map<string | null, PlaylistText>>();
  readonly #files = new FileMemory();

  constructor(private readonly ports: ProgrammePorts) {}

  /** Reads an address; `null` where it is none of a programme, an answer where it may not be had. */
  async open(target: string): Promise<Asked | Answer | null> {
    const address = readAddress(target);
    if (!address) return null;
    const grant = this.#grantOf(address);
    if ('status' in grant) return grant;
    const programme = await this.ports.findProgramme(address.programmeId);
    if (!programme) return refusal(403, 'There is no picture at this address yet.');
    if (!this.#opens(grant, programme)) return RUN_OUT;
    const rendition = renditionOf(programme, address.rendition);
    return rendition ? { ...address, programme, rendition, name: address.rendition, grant } : NOT_MADE;
  }

  #grantOf({ programmeId, grantText }: ProgrammeAddress): Grant | Answer {
    const grant = this.ports.grants.check(programmeId, grantText);
    if (!grant.ok) return RUN_OUT;
    const isElsewhere = grant.value.class !== 'desk' && this.ports.isElsewhere(programmeId);
    return isElsewhere ? refusal(403, GONE_ON) : grant.value;
  }

  #opens(grant: Grant, { identity, life }: Programme): boolean {
    return this.ports.grants.opens(grant, identity, life.state === 'kept');
  }

  /**
   * What is asked of a running programme all the time: a live playlist, or a part or segment that lies in memory.
   * Without a promise where nothing has to be waited for.
   * @returns `null` for all else, and where it may not be had.
   */
  ofRunning(request: PlainRequest): Answer | Promise<Answer> | null {
    const address = readAddress(request.target);
    const programme = address && this.ports.runningProgramme(address.programmeId);
    if (!programme) return null;
    const grant = this.#grantOf(address);
    const name = address.rendition;
    const rendition = renditionOf(programme, name);
    if ('status' in grant || !rendition || !this.#opens(grant, programme)) return null;
    if (address.file === 'live.m3u8')
      return this.#live(request, { ...address, programme, rendition, name, grant });
    const { kind, number } = readFileName(address.file);
    if ((kind !== 'part' && kind !== 'seg') || address.query.has('init')) return null;
    const bytes = rendition.inMemory(kind, grant.class, number!);
    return bytes && bytes !== 'hidden' ? inForm(request, address.selection, bytes) : null;
  }

  /** @returns `null` for whatever is no playlist and no media of a programme. */
  async answer(request: PlainRequest): Promise<Answer | null> {
    const asked = await this.open(request.target);
    return asked && ('status' in asked ? asked : this.answerFile(request, asked));
  }

  /** @returns `null` for a file of another kind. */
  async answerFile(request: PlainRequest, asked: Asked): Promise<Answer | null> {
    const { file } = asked;
    if (file === 'live.m3u8') return this.#live(request, asked);
    if (file === INDEX_FILE && asked.grant.class === 'desk') return this.#index(request, asked);
    if (file === 'replay.m3u8') return this.#replay(request, asked);
    if (file === 'main.m3u8' && asked.selection === 'whole' && asked.name === null)
      return this.#main(request, asked);
    const { kind, number } = readFileName(file);
    if (kind === 'picture') return this.#picture(request, asked, number!);
    if (kind === 'part') return this.#part(request, asked, number!);
    if (kind === 'seg') return this.#segment(request, asked, number!);
    return kind === 'init' ? this.#header(request, asked, number!) : null;
  }

  /** The house's own desk is no viewer. */
  sawViewer({ programme, grant, query }: Asked): void {
    if (grant.class !== 'desk')
      programme.viewers.saw(query.get('v'), query.get('w'), this.ports.clock.monotonicMs());
  }

  #live(request: PlainRequest, asked: Asked): Answer | Promise<Answer> {
    const { programme, grant, selection, query } = asked;
    this.sawViewer(asked);
    const wish = readWish(query);
    if (wish === 'malformed') return refusal(400, '_HLS_msn and _HLS_part have to be whole numbers.');
    const give = (answer: PlaylistAnswer): Answer | Promise<Answer> => {
      if (answer.status !== 200) return UNANSWERED[answer.status];
      const cache = answer.ended ? CACHE.ended : wish.position ? CACHE.held : CACHE.playlist;
      return playlistFor(request, answer.text, cache);
    };
    if (asked.name !== null && !programme.renditions.live(asked.name)) return NOT_MADE;
    const answer = this.#textsOf(asked).answer(grant.class, selection, wish);
    return answer instanceof Promise ? answer.then(give) : give(answer);
  }

  #replay(request: PlainRequest, asked: Asked): Promise<Answer> | Answer {
    const { programme, rendition, name } = asked;
    const segments = programme.rendition.replaySegments;
    if (!segments) return refusal(403, 'The replay opens when the event ends.');
    this.sawViewer(asked);
    const texts = this.#replays.get(segments) ?? new Map<string | null, PlaylistText>();
    this.#replays.set(segments, texts);
    const clock = { startsAtUtcMs: programme.startsAtUtcMs };
    const render = (): string =>
      name === null
        ? renderReplayPlaylist(segments, clock)
        : renderRenditionReplay(segments, sequencesOf(rendition), renditionFolder(name), clock);
    const text = texts.get(name) ?? playlistText(render());
    texts.set(name, text);
    return playlistFor(request, text, CACHE.ended);
  }

  /** For the node that keeps the rest of it. */
  async #index(request: PlainRequest, { programme }: Asked): Promise<Answer> {
    const segments = await programme.folder.readIndex();
    return textAnswer(request, segments.map((segment) => `${JSON.stringify(segment)}\n`).join(''));
  }

  /** All forms of it, whether it is running, waiting for its encoder, or over. */
  async #main(request: PlainRequest, { programme, grant }: Asked): Promise<Answer> {
    const replay = programme.rendition.replaySegments;
    const window = programme.rendition.windowFor(grant.class);
    if (!window && !replay) return refusal(403, 'The programme has not begun.');
    const sizesCame = (): boolean => !programme.renditions.isComing;
    if (!replay && !sizesCame()) await this.#waitsOf(programme).until('sizes', sizesCame, SIZES_HOLD_MS);
    const original = await this.#variant(programme.rendition, ORIGINAL_FOLDER, grant.class);
    if (!original)
      return refusal(503, 'Nothing is coming in just now. The picture will be back.', ['Retry-After', '1']);
    const smaller = await Promise.all(
      playableBeside(programme).map(({ name, rendition }) =>
        this.#variant(rendition, renditionFolder(name), grant.class),
      ),
    );
    const sound = await this.#variant(programme.rendition, SOUND_FOLDER, grant.class);
    const variants = [original, ...smaller, sound].filter((variant) => variant !== null);
    const text = renderMultivariantPlaylist(variants, replay ? 'replay.m3u8' : 'live.m3u8');
    return playlistAnswer(request, playlistText(text), replay ? CACHE.ended : CACHE.playlist);
  }

  /** How a form is announced, by the last that came of it; `null` where there is nothing of it. */
  async #variant(rendition: Rendition, folder: string, grantClass: GrantClass): Promise<Variant | null> {
    const replay = rendition.replaySegments;
    const live = rendition.windowFor(grantClass)?.segments.map(({ segment }) => segment) ?? [];
    const measured = (replay ?? live).slice(-MEASURED_SEGMENTS);
    const last = measured.at(-1);
    const header = last && (await this.#init(rendition, last.initNumber));
    if (!header) return null;
    const { video, audio } = readCodecs(header);
    const isSound = folder === SOUND_FOLDER;
    if (isSound && !(video && audio)) return null;
    const measures = new FormMeasure();
    for (const { sequence, durationSeconds } of measured) {
      const bytes =
        rendition.segmentInMemory(sequence) ?? (await this.#read(rendition, segmentName(sequence)));
      if (bytes) measures.add(isSound ? soundMedia(bytes) : bytes, durationSeconds);
    }
    const codecs = isSound ? [audio?.codec] : [video?.codec, audio?.codec];
    const picture = isSound || !video ? null : { ...video, frameRateFps: measures.frameRateFps };
    return {
      folder,
      bandwidthBps: measures.mostBps,
      averageBandwidthBps: measures.averageBps,
      codecs: codecs.filter(Boolean).join(','),
      picture,
    };
  }

  /** Of a minute of the clock. */
  async #picture(request: PlainRequest, { programme, grant }: Asked, minute: number): Promise<Answer> {
    const path = await findPicture(programme, grant.class, minute);
    const jpeg = path && (await this.#files.read(path).catch(() => null));
    return jpeg ? pictureAnswer(request, jpeg, CACHE.media) : refusal(404, NOTHING_HERE);
  }

  async #part(request: PlainRequest, asked: Asked, number: number): Promise<Answer> {
    const { rendition, grant, selection } = asked;
    if (rendition.windowFor(grant.class)?.nextPart === number)
      await this.#textsOf(asked).untilPartIs(number, grant.class, HINT_HOLD_MS);
    if (rendition.windowFor(grant.class) === null) return refusal(403, NOTHING_HERE);
    const bytes = rendition.inMemory('part', grant.class, number);
    if (!bytes || bytes === 'hidden') return refusal(bytes ? 403 : 404, 'This part is not here.');
    return inForm(request, selection, bytes);
  }

  async #segment(request: PlainRequest, asked: Asked, sequence: number): Promise<Answer> {
    const { rendition, grant, selection, file, query } = asked;
    const access = rendition.accessTo(grant.class, sequence);
    if (access !== 'open') return refusal(access === 'hidden' ? 403 : 404, NOTHING_HERE);
    const bytes = rendition.segmentInMemory(sequence) ?? (await this.#read(rendition, file));
    if (!bytes) return refusal(404, NOTHING_HERE);
    const init = query.get('init');
    if (init === null) return inForm(request, selection, bytes);
    const header = /^\d{1,9}$/.test(init) && (await this.#headerIn(asked, Number(init)));
    if (!header) return refusal(404, NOTHING_HERE);
    return mediaAnswer(request, concatBytes([header, mediaIn(selection, bytes)]), selection);
  }

  async #header(request: PlainRequest, asked: Asked, number: number): Promise<Answer> {
    const { rendition, grant, selection } = asked;
    if (rendition.windowFor(grant.class) === null) return refusal(403, NOTHING_HERE);
    const bytes = await this.#headerIn(asked, number);
    return bytes ? mediaAnswer(request, bytes, selection) : refusal(404, NOTHING_HERE);
  }

  async #headerIn({ rendition, selection }: Asked, number: number): Promise<Uint8Array | null> {
    const init = await this.#init(rendition, number);
    return init && selection === 'sound' ? soundInit(init) : init;
  }

  async #init(rendition: Rendition, number: number): Promise<Uint8Array | null> {
    return rendition.initInMemory(number) ?? this.#read(rendition, initName(number));
  }

  #read({ folder }: Rendition, file: string): Promise<Uint8Array | null> {
    return this.#files.read(join(folder.path, file)).catch(() => null);
  }

  #waitsOf(programme: Programme): SharedWaits {
    const waits = this.#waits.get(programme) ?? new SharedWaits(programme);
    this.#waits.set(programme, waits);
    return waits;
  }

  #textsOf({ programme, rendition, name }: Asked): PlaylistTexts {
    const texts = this.#texts.get(rendition) ?? new PlaylistTexts(programme, rendition, name);
    this.#texts.set(rendition, texts);
    return texts;
  }
}

const NOT_MADE = refusal(404, 'This size of the picture is not made just now.');

const renditionOf = (programme: Programme, name: string | null): Rendition | undefined =>
  name === null ? programme.rendition : programme.renditions.kept.get(name);

/** A replay is offered in a size if at least this share of it was made; the original fills in the rest. */
const MADE_SHARE = 0.5;

/** The smaller pictures that players may choose, the largest first. */
function playableBeside({ rendition, renditions }: Programme): Renditions['offered'] {
  const replay = rendition.replaySegments;
  if (!replay) return renditions.offered;
  return [...renditions.kept]
    .map(([name, kept]) => ({ name, rendition: kept }))
    .filter(({ rendition: { keptSegments } }) => keptSegments.length >= replay.length * MADE_SHARE)
    .sort((one, other) => parseInt(other.name) - parseInt(one.name));
}

const sequencesOf = ({ keptSegments }: Rendition): ReadonlySet<number> =>
  new Set(keptSegments.map(({ sequence }) => sequence));

/** VLC up to its third version, and what is built on it. */
const STAYS_WITH_ITS_HEADER = /\bLibVLC\/[0-3]\b/;

/** A playlist as the player can make use of it; no cache may give to others what was written for one kind. */
function playlistFor(request: PlainRequest, text: PlaylistText, cache: string): Answer | Promise<Answer> {
  if (!STAYS_WITH_ITS_HEADER.test(request.userAgent)) return playlistAnswer(request, text, cache);
  return playlistAnswer(request, playlistText(withHeadersInFront(text.plain.toString())), CACHE.never);
}

const mediaIn = (selection: TrackSelection, bytes: Uint8Array): Uint8Array =>
  selection === 'sound' ? soundMedia(bytes) : bytes;

const inForm = (request: PlainRequest, selection: TrackSelection, bytes: Uint8Array): Answer =>
  mediaAnswer(request, mediaIn(selection, bytes), selection);
