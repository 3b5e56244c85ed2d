import type { Server as HttpServer } from 'node:http';
import { Inject, Injectable, Logger, type BeforeApplicationShutdown } from '@nestjs/common';
import { In } from 'typeorm';
import { type Namespace, Server, type Socket } from 'socket.io';
import { can } from '@heliphon/core/access/capabilities';
import type { HappeningKind } from '@heliphon/contracts/happenings';
import type { AtDesk } from '@heliphon/contracts/desk';
import type {
  ConsoleToServer,
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
const IS_ID = /^[0-9a-f-]{36}$/;
const TOPIC_OF: Readonly<Record<string, PushTopic>> = {
  event: 'events',
  source: 'sources',
  destination: 'destinations',
  'place-set': 'destinations',
  account: 'destinations',
  recording: 'recordings',
  series: 'events',
  channel: 'channels',
  file: 'files',
  box: 'sources',
};

interface ConsoleSocketData {
  signedIn: SignedIn;
  host: string;
  /** Whose desk is open there. */
  deskOf: string | null;
}

interface PublicSocketData {
  /** What is followed by somebody who may; without a pass while anybody may. */
  letIn: { readonly eventId: string; readonly slug: string; readonly pass: string | undefined } | null;
}
type PublicNamespace = Namespace<PublicToServer, ServerToPublic, Record<string, never>, PublicSocketData>;
type FollowingSocket = Socket<PublicToServer, ServerToPublic, Record<string, never>, PublicSocketData>;

/** Rooms of those who are only told that something changed, and of everybody who follows something of a house. */
const waitingRoom = (eventId: string): string => `${eventId} waiting`;
const houseRoom = (houseId: string): string => `${houseId} public`;
/** What changes who may watch. */
const WATCHING_KINDS: ReadonlySet<HappeningKind> = new Set<HappeningKind>([
  'house-watching-set',
  'watching-set',
  'watch-password-set',
  'watch-password-removed',
  'viewer-withdrawn',
  'undone',
]);

type ConsoleNamespace = Namespace<ConsoleToServer, ServerToConsole, Record<string, never>, ConsoleSocketData>;

/** Tells consoles and public pages what changed: a hint, whose truth is asked for over HTTP. */
@Injectable()
export class PushService implements BeforeApplicationShutdown {
  readonly #log = new Logger('Push');
  readonly #timers: NodeJS.Timeout[] = [];
  #console: ConsoleNamespace;
  #public: PublicNamespace;
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
    this.#public = this.#server.of('/public') as unknown as PublicNamespace;
    this.#console.use((socket, next) => void this.#recognise(socket).then(next, next));
    this.#console.on('connection', (socket) => {
      const { houseId, roles } = socket.data.signedIn;
      void socket.join(can(roles, 'chat.moderate') ? [houseId, `${houseId} moderators`] : [houseId]);
      socket.on('at-desk', (eventId: unknown) => {
        socket.data.deskOf = typeof eventId === 'string' && IS_ID.test(eventId) ? eventId : null;
      });
    });
    this.#public.on('connection', (socket) => {
      socket.on('follow', (slug: unknown, joined: unknown, pass: unknown) => {
        void this.#follow(socket, slug, typeof pass === 'string' ? pass : undefined).then(() => {
          if (typeof joined === 'function') (joined as () => void)();
        });
      });
    });
    this.fanOut.listen(HAPPENED, (happening) => this.#hint(happening));
    this.fanOut.listen(CHAT_SAID, (batch) => this.#tellChat(batch));
    this.#timers.push(
      setInterval(() => {
        this.#tellPresence();
        this.#putOut().catch((error: unknown) => this.#log.warn(`Not looked at: ${String(error)}`));
      }, PRESENCE_EVERY_MS),
    );
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
    Object.assign(socket.data, { signedIn, host: socket.request.headers.host ?? '', deskOf: null });
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

  async #follow(socket: FollowingSocket, slug: unknown, pass: string | undefined): Promise<void> {
    if (typeof slug !== 'string' || slug.length > 100) return;
    try {
      const known = await this.publicEvents.find(slug);
      const eventId = known.event.id;
      for (const room of socket.rooms) if (room !== socket.id) await socket.leave(room);
      const isFor = this.publicEvents.isFor(known, pass);
      socket.data.letIn = isFor ? { eventId, slug, pass } : null;
      await socket.join([isFor ? eventId : waitingRoom(eventId), houseRoom(known.house.id)]);
    } catch {
      socket.disconnect(); // no such event; the page has said so already
    }
  }

  #hint(happening: HappeningEntity): void {
    const { houseId, subjectKind, subjectId, kind } = happening;
    const topic = TOPIC_OF[subjectKind];
    if (topic) this.#console.to(houseId).emit('hint', { topic, seq: Number(happening.id) });
    if (WATCHING_KINDS.has(kind)) {
      this.publicEvents.forget();
      this.#public.to(houseRoom(houseId)).emit('hint', { seq: Number(happening.id) });
    }
    if (subjectKind === 'event') this.#hintPublic(subjectId, Number(happening.id));
    if (subjectKind === 'series')
      for (const eventId of (happening.after as { eventIds?: string[] } | null)?.eventIds ?? [])
        this.#hintPublic(eventId, Number(happening.id));
    if (kind === 'recording-kept') void this.#hintOfRecording(happening);
  }

  #hintPublic(eventId: string, seq: number): void {
    this.publicEvents.forget();
    this.#public.to([eventId, waitingRoom(eventId)]).emit('hint', { seq });
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

  /** Those whose pass is good no more hear that something changed, and nothing else. */
  async #putOut(): Promise<void> {
    for (const socket of this.#public.sockets.values()) {
      const { letIn } = socket.data;
      if (!letIn) continue;
      const known = await this.publicEvents.find(letIn.slug);
      if (known.event.id === letIn.eventId && this.publicEvents.isFor(known, letIn.pass)) continue;
      socket.data.letIn = null;
      await socket.leave(letIn.eventId);
      await socket.join(waitingRoom(letIn.eventId));
    }
  }

  #hereOf(eventId: string): number {
    return this.#public.adapter.rooms.get(eventId)?.size ?? 0;
  }

  #tellPresence(): void {
    for (const [eventId, sockets] of this.#public.adapter.rooms) {
      if (!IS_ID.test(eventId)) continue;
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
      const desks = desksOf(sockets);
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
          desks,
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

/** Who is at which desk: each person once, however many windows are open. */
function desksOf(sockets: readonly { data: ConsoleSocketData }[]): HouseFigures['desks'] {
  const desks = new Map<string, Map<string, AtDesk>>();
  for (const { data } of sockets) {
    if (data.deskOf === null) continue;
    const { personId, personName: name, roles } = data.signedIn;
    const people = desks.get(data.deskOf) ?? new Map<string, AtDesk>();
    desks.set(data.deskOf, people.set(personId, { personId, name, canHold: can(roles, 'events.move') }));
  }
  return [...desks].map(([eventId, people]) => ({ eventId, people: [...people.values()] }));
}

function socketsByHouse<T extends { data: ConsoleSocketData }>(sockets: readonly T[]): Map<string, T[]> {
  const byHouse = new Map<string, T[]>();
  for (const socket of sockets) {
    const { houseId } = socket.data.signedIn;
    byHouse.set(houseId, [...(byHouse.get(houseId) ?? []), socket]);
  }
  return byHouse;
}
