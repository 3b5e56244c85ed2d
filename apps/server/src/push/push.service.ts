import type { Server as HttpServer } from 'node:http';
import { Inject, Injectable, Logger, type BeforeApplicationShutdown } from '@nestjs/common';
import { In } from 'typeorm';
import { type Namespace, Server, type Socket } from 'socket.io';
import { can } from '@heliphon/core/access/capabilities';
import type {
  HouseFigures,
  PublicToServer,
  PushTopic,
  ServerToConsole,
  ServerToPublic,
} from '@heliphon/contracts/push';
import { CHAT_SAID, type ChatBatch } from '../chat/chat-batches.js';
import { forPublic } from '../chat/chat-message-view.js';
import { EventEntity } from '../tables/event.entity.js';
import { LiveFigures } from '../live/live-figures.js';
import { Credentials } from '../people/credentials.js';
import type { SignedIn } from '../platform/signed-in.js';
import { isOwnOrigin } from '../platform/access.js';
import { MediaNodes } from '../nodes/media-nodes.js';
import { Clock } from '../platform/clock.js';
import { CONFIG, type ServerConfig } from '../platform/config.js';
import { Database } from '../platform/database.js';
import type { HappeningEntity } from '../platform/entities.js';
import { HAPPENED } from '../platform/happened.js';
import { FanOut } from '../platform/shared/fan-out.js';
import { PublicEventsService } from '../public/public-events.service.js';
import { RecordingEntity } from '../tables/recording.entity.js';
import { SourceEntity } from '../tables/source.entity.js';
import { SourcesService } from '../sources/sources.service.js';

const PRESENCE_EVERY_MS = 5000;
const FIGURES_EVERY_MS = 1000;
/** Who was let in is looked at again so often. */
const RECOGNISE_EVERY_MS = 2000;
const TOPIC_OF: Readonly<Record<string, PushTopic>> = {
  event: 'events',
  source: 'sources',
  destination: 'destinations',
  recording: 'recordings',
  series: 'events',
  channel: 'channels',
  file: 'files',
  box: 'sources',
};

interface ConsoleSocketData {
  signedIn: SignedIn;
  host: string;
}

type ConsoleNamespace = Namespace<
  Record<string, never>,
  ServerToConsole,
  Record<string, never>,
  ConsoleSocketData
>;

/** Tells consoles and public pages what changed: a hint, whose truth is asked for over HTTP. */
@Injectable()
export class PushService implements BeforeApplicationShutdown {
  readonly #log = new Logger('Push');
  readonly #timers: NodeJS.Timeout[] = [];
  #console: ConsoleNamespace;
  #public: Namespace<PublicToServer, ServerToPublic>;
  #server: Server;
  #programmeByEvent = new Map<string, HouseFigures['programmes'][number]>();

  constructor(
    private readonly credentials: Credentials,
    private readonly fanOut: FanOut,
    private readonly figures: LiveFigures,
    private readonly nodes: MediaNodes,
    private readonly publicEvents: PublicEventsService,
    private readonly sources: SourcesService,
    private readonly database: Database,
    private readonly clock: Clock,
    @Inject(CONFIG) private readonly config: ServerConfig,
  ) {}

  attach(http: HttpServer): void {
    // The control link upgrades on the same port: other paths are left alone.
    this.#server = new Server(http, {
      transports: ['websocket'],
      destroyUpgrade: false,
      allowRequest: (request, decide) =>
        decide(null, isOwnOrigin(request.headers.origin, request.headers.host, this.config)),
    });
    this.#console = this.#server.of('/console') as unknown as ConsoleNamespace;
    this.#public = this.#server.of('/public');
    this.#console.use((socket, next) => void this.#recognise(socket).then(next, next));
    this.#console.on('connection', (socket) => {
      const { houseId, roles } = socket.data.signedIn;
      void socket.join(can(roles, 'chat.moderate') ? [houseId, `${houseId} moderators`] : [houseId]);
    });
    this.#public.on('connection', (socket) => {
      socket.on('follow', (slug: unknown, joined: unknown) => {
        void this.#follow(socket, slug).then(() => {
          if (typeof joined === 'function') (joined as () => void)();
        });
      });
    });
    this.fanOut.listen(HAPPENED, (happening) => this.#hint(happening));
    this.fanOut.listen(CHAT_SAID, (batch) => this.#tellChat(batch));
    this.#timers.push(setInterval(() => this.#tellPresence(), PRESENCE_EVERY_MS));
    this.#timers.push(
      setInterval(() => {
        this.#recogniseAnew().catch((error: unknown) => this.#log.warn(`Not looked at: ${String(error)}`));
      }, RECOGNISE_EVERY_MS),
    );
    this.#timers.push(
      setInterval(() => {
        this.#tellFigures().catch((error: unknown) => this.#log.warn(`Figures wait: ${String(error)}`));
      }, FIGURES_EVERY_MS),
    );
  }

  /** Before the port closes: closing waits for every connection. The port itself is not ours to close. */
  beforeApplicationShutdown(): void {
    for (const timer of this.#timers) clearInterval(timer);
    this.#server?.disconnectSockets(true);
    this.#server?.engine.close();
  }

  async #recognise(socket: Socket): Promise<undefined> {
    const signedIn = await this.credentials.recognise(socket.request.headers);
    if (!signedIn || signedIn.scopes || !can(signedIn.roles, 'events.read')) throw new Error('not-signed-in');
    Object.assign(socket.data, { signedIn, host: socket.request.headers.host ?? '' });
  }

  /** Disconnects people who have signed out, were removed, or have other roles by now; they come again as who they are. */
  async #recogniseAnew(): Promise<void> {
    const sockets = [...this.#console.sockets.values()];
    if (sockets.length === 0) return;
    const known = await this.credentials.still(sockets.map((socket) => socket.data.signedIn));
    for (const socket of sockets) {
      const { credentialId, roles } = socket.data.signedIn;
      if (known.get(credentialId)?.join() !== roles.join()) socket.disconnect(true);
    }
  }

  async #follow(socket: Socket, slug: unknown): Promise<void> {
    if (typeof slug !== 'string' || slug.length > 100) return;
    try {
      const { event } = await this.publicEvents.find(slug);
      for (const room of socket.rooms) if (room !== socket.id) await socket.leave(room);
      await socket.join(event.id);
    } catch {
      socket.disconnect(); // no such event; the page has said so already
    }
  }

  #hint(happening: HappeningEntity): void {
    const { houseId, subjectKind, subjectId, kind } = happening;
    const topic = TOPIC_OF[subjectKind];
    if (topic) this.#console.to(houseId).emit('hint', { topic, seq: Number(happening.id) });
    if (subjectKind === 'event') this.#hintPublic(subjectId, Number(happening.id));
    if (subjectKind === 'series')
      for (const eventId of (happening.after as { eventIds?: string[] } | null)?.eventIds ?? [])
        this.#hintPublic(eventId, Number(happening.id));
    if (kind === 'recording-kept') void this.#hintOfRecording(happening);
  }

  #hintPublic(eventId: string, seq: number): void {
    this.publicEvents.forget();
    this.#public.to(eventId).emit('hint', { seq });
  }

  /** The replay opens with its recording, a moment after the event has ended. */
  async #hintOfRecording({ id, houseId, subjectId }: HappeningEntity): Promise<void> {
    const manager = this.database.installation;
    const recording = await manager.findOneBy(RecordingEntity, { id: subjectId, houseId });
    if (recording) this.#hintPublic(recording.eventId, Number(id));
  }

  #tellChat({ houseId, eventId, messages }: ChatBatch): void {
    const shown = messages.map(forPublic);
    this.#public.to(eventId).emit('chat', { eventId, messages: shown });
    this.#console.to(`${houseId} moderators`).emit('chat', { eventId, messages });
    this.#console.to(houseId).except(`${houseId} moderators`).emit('chat', { eventId, messages: shown });
  }

  #hereOf(eventId: string): number {
    return this.#public.adapter.rooms.get(eventId)?.size ?? 0;
  }

  #tellPresence(): void {
    for (const [eventId, sockets] of this.#public.adapter.rooms) {
      const watching = this.#programmeByEvent.get(eventId)?.viewers ?? 0;
      this.#public.to(eventId).emit('presence', { watching, here: sockets.size });
    }
  }

  /** What every console of a house shows live; houses nobody looks at, and no public page follows, are passed over. */
  async #tellFigures(): Promise<void> {
    const programmeIds = this.figures.programmes.map((programme) => programme.programmeId);
    const manager = this.database.installation;
    const events = await this.#eventsOf(programmeIds);
    this.#programmeByEvent = new Map(
      [...events.values()].flatMap((event) => {
        const found = this.figures.programmeOf(event);
        if (!found) return [];
        const { programmeId: _programmeId, state: _state, ...live } = found;
        return [[event.id, { eventId: event.id, waiting: this.#hereOf(event.id), ...live }] as const];
      }),
    );
    const byHouse = socketsByHouse([...this.#console.sockets.values()]);
    for (const [houseId, sockets] of byHouse) {
      const sources = await manager.find(SourceEntity, {
        where: { houseId },
        select: { id: true },
        take: 200,
      });
      const programmes = [...events.values()]
        .filter((event) => event.houseId === houseId)
        .flatMap((event) => this.#programmeByEvent.get(event.id) ?? []);
      for (const socket of sockets) {
        socket.emit('figures', {
          atMs: this.figures.atMs,
          serverNowMs: this.clock.nowMs(),
          nodeIsHere: this.figures.nodeIsHere,
          points: this.nodes.ids.map((nodeId) => ({
            ...this.nodes.nameOf(nodeId),
            presence: this.nodes.presenceOf(nodeId),
          })),
          disk: this.figures.disk,
          sources: sources.map(({ id }) => this.sources.nowOf(id, socket.data.host)),
          programmes,
        });
      }
    }
  }

  async #eventsOf(programmeIds: readonly string[]): Promise<Map<string, EventEntity>> {
    const rows =
      programmeIds.length > 0
        ? await this.database.installation.find(EventEntity, {
            where: { programmeId: In([...new Set(programmeIds)]) },
            select: { id: true, houseId: true, programmeId: true, nodeId: true },
          })
        : [];
    return new Map(rows.map((event) => [event.programmeId, event]));
  }
}

function socketsByHouse<T extends { data: ConsoleSocketData }>(sockets: readonly T[]): Map<string, T[]> {
  const byHouse = new Map<string, T[]>();
  for (const socket of sockets) {
    const { houseId } = socket.data.signedIn;
    byHouse.set(houseId, [...(byHouse.get(houseId) ?? []), socket]);
  }
  return byHouse;
}
