import { join } from 'node:path';
import type { Grant } from '@heliphon/core/access/grant';
import type { PlainRequest } from '@heliphon/core/delivery/plain-request';
import {
  initName,
  type TrackSelection,
  renderMultivariantPlaylist,
  segmentName,
  renderReplayPlaylist,
  type Variant,
} from '@heliphon/core/packaging/playlist';
import type { Segment } from '@heliphon/core/packaging/packager';
import { readCodecs } from '@heliphon/core/packaging/read-codecs';
import type { Clock } from '../clock.js';
import type { Programme } from '../programme/programme.js';
import {
  type Answer,
  CACHE,
  mediaAnswer,
  NOTHING_HERE,
  playlistAnswer,
  refusal,
  textAnswer,
} from './answers.js';
import { INDEX_FILE } from '../recording/joiner.js';
import { FileMemory } from './file-memory.js';
import type { GrantChecker } from './grant-checker.js';
import { type PlaylistAnswer, type PlaylistText, PlaylistTexts, playlistText } from './playlist-texts.js';
import { type ProgrammeAddress, readAddress, readFileName, readWish } from './programme-address.js';
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
  readonly grant: Grant;
}

const GONE_ON = 'This event goes on at another address. Open the page again.';
/** Why there is no live playlist. */
const UNANSWERED = {
  400: refusal(400, 'This playlist is not so far yet.'),
  403: refusal(403, 'The programme has not begun.'),
  503: refusal(503, 'Nothing new has come yet. The picture will be back.', ['Retry-After', '1']),
} as const;
const HINT_HOLD_MS = 5000;
/** So many of the last segments tell what a form takes. */
const MEASURED_SEGMENTS = 6;

/** What is asked of a programme over and over: playlists, parts, segments and headers. Grants come before existence. */
export class ProgrammeAnswers {
  readonly #texts = new WeakMap<Programme, PlaylistTexts>();
  /** A replay never changes: its text is written once. */
  readonly #replays = new WeakMap<readonly Segment[], PlaylistText>();
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
    return { ...address, programme, grant };
  }

  #grantOf({ programmeId, grantText }: ProgrammeAddress): Grant | Answer {
    const grant = this.ports.grants.check(programmeId, grantText);
    if (!grant.ok) return refusal(403, 'This address has run out. Open the page again to get a new one.');
    const isElsewhere = grant.value.class === 'public' && this.ports.isElsewhere(programmeId);
    return isElsewhere ? refusal(403, GONE_ON) : grant.value;
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
    if ('status' in grant) return null;
    if (address.file === 'live.m3u8') return this.#live(request, { ...address, programme, grant });
    const { kind, number } = readFileName(address.file);
    if (kind !== 'part' && kind !== 'seg') return null;
    const bytes = programme.rendition.inMemory(kind, grant.class, number!);
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
    if (file === 'main.m3u8' && asked.selection === 'whole') return this.#main(request, asked);
    const { kind, number } = readFileName(file);
    if (kind === 'part') return this.#part(request, asked, number!);
    if (kind === 'seg') return this.#segment(request, asked, number!);
    return kind === 'init' ? this.#header(request, asked, number!) : null;
  }

  /** The house's own desk is no viewer. */
  sawViewer({ programme, grant, query }: Asked): void {
    if (grant.class === 'public') programme.viewers.saw(query.get('v'), this.ports.clock.monotonicMs());
  }

  #live(request: PlainRequest, asked: Asked): Answer | Promise<Answer> {
    const { programme, grant, selection, query } = asked;
    this.sawViewer(asked);
    const wish = readWish(query);
    if (wish === 'malformed') return refusal(400, '_HLS_msn and _HLS_part have to be whole numbers.');
    const give = (answer: PlaylistAnswer): Answer | Promise<Answer> => {
      if (answer.status !== 200) return UNANSWERED[answer.status];
      const cache = answer.ended ? CACHE.ended : wish.position ? CACHE.held : CACHE.playlist;
      return playlistAnswer(request, answer.text, cache);
    };
    const answer = this.#textsOf(programme).answer(grant.class, selection, wish);
    return answer instanceof Promise ? answer.then(give) : give(answer);
  }

  #replay(request: PlainRequest, asked: Asked): Promise<Answer> | Answer {
    const { programme } = asked;
    const segments = programme.rendition.replaySegments;
    if (!segments) return refusal(403, 'The replay opens when the event ends.');
    this.sawViewer(asked);
    const known = this.#replays.get(segments);
    const text =
      known ?? playlistText(renderReplayPlaylist(segments, { startsAtUtcMs: programme.startsAtUtcMs }));
    this.#replays.set(segments, text);
    return playlistAnswer(request, text, CACHE.ended);
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
    const segments = replay ?? window!.segments.map(({ segment }) => segment);
    const measured = segments.slice(-MEASURED_SEGMENTS);
    const header = measured.length > 0 && (await this.#init(programme, measured.at(-1)!.initNumber));
    if (!header)
      return refusal(503, 'Nothing is coming in just now. The picture will be back.', ['Retry-After', '1']);
    const { video, audio } = readCodecs(header);
    let [whole, sound] = [0, 0];
    for (const { sequence, durationSeconds } of measured) {
      const bytes =
        programme.rendition.segmentInMemory(sequence) ?? (await this.#read(programme, segmentName(sequence)));
      if (!bytes) continue;
      whole = Math.max(whole, (bytes.byteLength * 8) / durationSeconds);
      sound = Math.max(sound, (soundMedia(bytes).byteLength * 8) / durationSeconds);
    }
    const codecs = [video?.codec, audio?.codec].filter(Boolean).join(',');
    const variants: Variant[] = [{ selection: 'whole', bandwidthBps: whole, codecs, size: video }];
    if (video && audio)
      variants.push({ selection: 'sound', bandwidthBps: sound, codecs: audio.codec, size: null });
    const text = renderMultivariantPlaylist(variants, replay ? 'replay.m3u8' : 'live.m3u8');
    return playlistAnswer(request, playlistText(text), replay ? CACHE.ended : CACHE.playlist);
  }

  async #part(request: PlainRequest, asked: Asked, number: number): Promise<Answer> {
    const { programme, grant, selection } = asked;
    if (programme.rendition.windowFor(grant.class)?.nextPart === number)
      await this.#textsOf(programme).untilPartIs(number, grant.class, HINT_HOLD_MS);
    if (programme.rendition.windowFor(grant.class) === null) return refusal(403, NOTHING_HERE);
    const bytes = programme.rendition.inMemory('part', grant.class, number);
    if (!bytes || bytes === 'hidden') return refusal(bytes ? 403 : 404, 'This part is not here.');
    return inForm(request, selection, bytes);
  }

  async #segment(request: PlainRequest, asked: Asked, sequence: number): Promise<Answer> {
    const { programme, grant, selection, file } = asked;
    const access = programme.rendition.accessTo(grant.class, sequence);
    if (access !== 'open') return refusal(access === 'hidden' ? 403 : 404, NOTHING_HERE);
    const bytes = programme.rendition.segmentInMemory(sequence) ?? (await this.#read(programme, file));
    if (!bytes) return refusal(404, NOTHING_HERE);
    return inForm(request, selection, bytes);
  }

  async #header(
    request: PlainRequest,
    { programme, grant, selection }: Asked,
    number: number,
  ): Promise<Answer> {
    if (programme.rendition.windowFor(grant.class) === null) return refusal(403, NOTHING_HERE);
    const init = await this.#init(programme, number);
    const bytes = init && selection === 'sound' ? soundInit(init) : init;
    return bytes ? mediaAnswer(request, bytes, selection) : refusal(404, NOTHING_HERE);
  }

  async #init(programme: Programme, number: number): Promise<Uint8Array | null> {
    return programme.rendition.initInMemory(number) ?? this.#read(programme, initName(number));
  }

  #read(programme: Programme, file: string): Promise<Uint8Array | null> {
    return this.#files.read(join(programme.folder.path, file)).catch(() => null);
  }

  #textsOf(programme: Programme): PlaylistTexts {
    const texts = this.#texts.get(programme) ?? new PlaylistTexts(programme);
    this.#texts.set(programme, texts);
    return texts;
  }
}

const inForm = (request: PlainRequest, selection: TrackSelection, bytes: Uint8Array): Answer =>
  mediaAnswer(request, selection === 'sound' ? soundMedia(bytes) : bytes, selection);
