import { join } from 'node:path';
import type { Grant } from '@heliphon/core/access/grant';
import type { PlainRequest } from '@heliphon/core/delivery/plain-request';
import {
  type Rendition,
  renderMultivariantPlaylist,
  renderReplayPlaylist,
  type Variant,
} from '@heliphon/core/packaging/playlist';
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
import { type PlaylistText, PlaylistTexts, playlistText } from './playlist-texts.js';
import { type ProgrammeAddress, readAddress, readFileName, readWish } from './programme-address.js';
import { soundHeader, soundMedia } from './sound-memory.js';

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
export interface Asked extends Pick<ProgrammeAddress, 'rendition' | 'file' | 'query'> {
  readonly programme: Programme;
  readonly grant: Grant;
}

const GONE_ON = 'This event goes on at another address. Open the page again.';
const HINT_HOLD_MS = 5000;
/** So many of the last segments tell what a form takes. */
const MEASURED_SEGMENTS = 6;

/** What is asked of a programme over and over: playlists, parts, segments and headers. Grants come before existence. */
export class ProgrammeAnswers {
  readonly #texts = new WeakMap<Programme, PlaylistTexts>();
  /** A replay never changes: its text is written once. */
  readonly #replays = new WeakMap<Programme, PlaylistText>();
  readonly #files = new FileMemory();

  constructor(private readonly ports: ProgrammePorts) {}

  /** Reads an address; `null` where it is none of a programme, an answer where it may not be had. */
  async open(target: string): Promise<Asked | Answer | null> {
    const address = readAddress(target);
    if (!address) return null;
    const grant = this.ports.grants.check(address.programmeId, address.grantText);
    if (!grant.ok) return refusal(403, 'This address has run out. Open the page again to get a new one.');
    if (grant.value.class === 'public' && this.ports.isElsewhere(address.programmeId))
      return refusal(403, GONE_ON);
    const programme = await this.ports.findProgramme(address.programmeId);
    if (!programme) return refusal(403, 'There is no picture at this address yet.');
    return { ...address, programme, grant: grant.value };
  }

  /** A part or segment of a running programme that lies in memory: most of what is ever asked for. */
  fromMemory(request: PlainRequest): Answer | null {
    const address = readAddress(request.target);
    const programme = address && this.ports.runningProgramme(address.programmeId);
    const { kind, number } = address ? readFileName(address.file) : {};
    if (!programme || (kind !== 'part' && kind !== 'seg')) return null;
    const grant = this.ports.grants.check(address.programmeId, address.grantText);
    if (!grant.ok || programme.windowFor(grant.value.class) === null) return null;
    if (kind === 'seg' && !programme.mayFetch(grant.value.class, number!)) return null;
    const bytes = kind === 'part' ? programme.memory.part(number!) : programme.memory.segment(number!);
    return bytes ? inForm(request, address.rendition, bytes) : null;
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
    if (file === 'forms.m3u8' && asked.rendition === 'whole') return this.#forms(request, asked);
    const { kind, number } = readFileName(file);
    if (kind === 'part') return this.#part(request, asked, number!);
    if (kind === 'seg') return this.#segment(request, asked, number!);
    return kind === 'init' ? this.#header(request, asked) : null;
  }

  /** The house's own desk is no viewer. */
  sawViewer({ programme, grant, query }: Asked): void {
    if (grant.class === 'public') programme.viewers.saw(query.get('v'), this.ports.clock.monotonicMs());
  }

  async #live(request: PlainRequest, asked: Asked): Promise<Answer> {
    const { programme, grant, rendition, query } = asked;
    this.sawViewer(asked);
    const wish = readWish(query);
    if (wish === 'malformed') return refusal(400, '_HLS_msn and _HLS_part have to be whole numbers.');
    const answer = await this.#textsOf(programme).answer(grant.class, rendition, wish);
    switch (answer.status) {
      case 200: {
        const cache = answer.ended ? CACHE.ended : wish.position ? CACHE.held : CACHE.playlist;
        return playlistAnswer(request, answer.text, cache);
      }
      case 503:
        return refusal(503, 'Nothing new has come yet. The picture will be back.', ['Retry-After', '1']);
      case 400:
        return refusal(400, 'This playlist is not so far yet.');
      case 403:
        return refusal(403, 'The programme has not begun.');
    }
  }

  #replay(request: PlainRequest, asked: Asked): Promise<Answer> | Answer {
    const { programme } = asked;
    const segments = programme.replaySegments;
    if (!segments) return refusal(403, 'The replay opens when the event ends.');
    this.sawViewer(asked);
    const known = this.#replays.get(programme);
    const text =
      known ?? playlistText(renderReplayPlaylist(segments, { startsAtUtcMs: programme.startsAtUtcMs }));
    this.#replays.set(programme, text);
    return playlistAnswer(request, text, CACHE.ended);
  }

  /** For the node that keeps the rest of it. */
  async #index(request: PlainRequest, { programme }: Asked): Promise<Answer> {
    const segments = await programme.folder.readIndex();
    return textAnswer(request, segments.map((segment) => `${JSON.stringify(segment)}\n`).join(''));
  }

  #forms(request: PlainRequest, { programme, grant }: Asked): Promise<Answer> | Answer {
    const window = programme.windowFor(grant.class);
    if (!window) return refusal(403, 'The programme has not begun.');
    const { tracks } = programme;
    const measured = window.segments.slice(-MEASURED_SEGMENTS).flatMap(({ segment }) => {
      const bytes = programme.memory.segment(segment.sequence);
      return bytes ? [{ bytes, seconds: segment.durationSeconds }] : [];
    });
    if (!tracks || measured.length === 0)
      return refusal(503, 'Nothing is coming in just now. The picture will be back.', ['Retry-After', '1']);
    const most = (size: (bytes: Uint8Array) => number): number =>
      Math.max(...measured.map(({ bytes, seconds }) => (size(bytes) * 8) / seconds));
    const { video, audio } = tracks;
    const variants: Variant[] = [
      {
        rendition: 'whole',
        bandwidthBps: most((bytes) => bytes.byteLength),
        codecs: [video?.codec, audio?.codec].filter(Boolean).join(','),
        size: video,
      },
    ];
    if (video && audio)
      variants.push({
        rendition: 'sound',
        bandwidthBps: most((bytes) => soundMedia(bytes).byteLength),
        codecs: audio.codec,
        size: null,
      });
    return playlistAnswer(request, playlistText(renderMultivariantPlaylist(variants)), CACHE.playlist);
  }

  async #part(request: PlainRequest, asked: Asked, number: number): Promise<Answer> {
    const { programme, grant, rendition } = asked;
    if (programme.windowFor(grant.class)?.nextPart === number)
      await this.#textsOf(programme).untilPartIs(number, grant.class, HINT_HOLD_MS);
    const isBefore = programme.windowFor(grant.class) === null;
    const bytes = isBefore ? undefined : programme.memory.part(number);
    if (!bytes) return refusal(isBefore ? 403 : 404, 'This part is not here.');
    return inForm(request, rendition, bytes);
  }

  async #segment(request: PlainRequest, asked: Asked, sequence: number): Promise<Answer> {
    const { programme, grant, rendition, file } = asked;
    if (!programme.mayFetch(grant.class, sequence)) return refusal(403, NOTHING_HERE);
    const bytes = programme.memory.segment(sequence) ?? (await this.#read(programme, file));
    if (!bytes) return refusal(404, NOTHING_HERE);
    return inForm(request, rendition, bytes);
  }

  async #header(request: PlainRequest, { programme, rendition, file }: Asked): Promise<Answer> {
    const init = await this.#read(programme, file);
    const bytes = init && rendition === 'sound' ? soundHeader(init) : init;
    return bytes ? mediaAnswer(request, bytes) : refusal(404, NOTHING_HERE);
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

const inForm = (request: PlainRequest, rendition: Rendition, bytes: Uint8Array): Answer =>
  mediaAnswer(request, rendition === 'sound' ? soundMedia(bytes) : bytes);
