import { existsSync } from 'node:fs';
import { rm } from 'node:fs/promises';
import { join } from 'node:path';
import { Inject, Injectable } from '@nestjs/common';
import type { NodeSelf } from '@heliphon/core/control/observations';
import { type NodeAtHand, type NodePresence, pointOf } from '@heliphon/core/nodes/choose-node';
import type { PointName, PointView, PointWay } from '@heliphon/contracts/nodes';
import { LiveFigures } from '../live/live-figures.js';
import { Clock } from '../platform/clock.js';
import { CONFIG, type ServerConfig } from '../platform/config.js';
import { Database } from '../platform/database.js';
import { MediaNodeEntity } from '../platform/entities.js';
import { addressesOf, besideServer, type NodeAddresses } from './node-addresses.js';

/** What a house has just now, by ids. */
export interface OwnThings {
  readonly sourceIds: ReadonlySet<string>;
  readonly programmeIds: ReadonlySet<string>;
}

/** The media nodes of the installation: who they are, how they are reached, and whether they can be reckoned with. */
@Injectable()
export class MediaNodes {
  /** In the order in which they were taken in. */
  #rows: readonly MediaNodeEntity[] = [];
  readonly #givenUp = new Set<string>();
  readonly #doubles = new Map<string, NonNullable<PointView['double']>>();

  constructor(
    private readonly database: Database,
    private readonly figures: LiveFigures,
    private readonly clock: Clock,
    @Inject(CONFIG) private readonly config: ServerConfig,
  ) {}

  /** Takes in the nodes of the settings, and reads all there are. */
  async open(): Promise<void> {
    const manager = this.database.installation;
    for (const { nodeId, secretSha256Hex } of this.config.nodes) {
      if (await manager.findOneBy(MediaNodeEntity, { id: nodeId }))
        await manager.update(MediaNodeEntity, { id: nodeId }, { secretSha256Hex });
      else await manager.insert(MediaNodeEntity, newNode(nodeId, secretSha256Hex, this.clock.nowMs()));
    }
    await this.#noticeRestore();
    await this.read();
  }

  /** A backup was put back: what nodes told since it was taken is to be told once more. */
  async #noticeRestore(): Promise<void> {
    const notice = join(this.config.dataFolder, 'restored');
    if (!existsSync(notice)) return;
    await this.database.installation.update(MediaNodeEntity, {}, { tellsAnew: true });
    await rm(notice);
  }

  /** Whether a node is to tell all it has kept; asked once. */
  async takeTellsAnew(nodeId: string): Promise<boolean> {
    const wish = { id: nodeId, tellsAnew: true };
    const { affected } = await this.database.installation.update(MediaNodeEntity, wish, { tellsAnew: false });
    return affected === 1;
  }

  /** A node has come and said who it is. @returns the number up to which its journal is stored */
  async introduce(nodeId: string, self: NodeSelf, journalId: string): Promise<number> {
    const manager = this.database.installation;
    const row = await manager.findOneByOrFail(MediaNodeEntity, { id: nodeId });
    // Before journals had names, there was one.
    const isAnother = row.journalId !== null && row.journalId !== journalId;
    const lastJournalSeq = isAnother ? 0 : row.lastJournalSeq;
    const lastSeenAtMs = this.clock.nowMs();
    await manager.update(MediaNodeEntity, { id: nodeId }, { self, lastSeenAtMs, journalId, lastJournalSeq });
    // Read again: it may have been added since.
    await this.read();
    return lastJournalSeq;
  }

  async went(nodeId: string): Promise<void> {
    const lastSeenAtMs = this.clock.nowMs();
    await this.database.installation.update(MediaNodeEntity, { id: nodeId }, { lastSeenAtMs });
    await this.read();
  }

  /** Somebody came by the name of a node that is here. */
  cameTwice(nodeId: string, remoteAddress: string): void {
    this.#doubles.set(nodeId, { atMs: this.clock.nowMs(), remoteAddress });
  }

  /** It neither reports nor answers; until it reports again nothing is left to it. */
  giveUp(nodeId: string): void {
    this.#givenUp.add(nodeId);
  }

  get ids(): readonly string[] {
    return this.#rows.map(({ id }) => id);
  }

  presenceOf(nodeId: string): NodePresence {
    if (this.figures.isHere(nodeId)) {
      this.#givenUp.delete(nodeId);
      return 'here';
    }
    return this.#givenUp.has(nodeId) ? 'away' : 'silent';
  }

  get atHand(): readonly NodeAtHand[] {
    return this.ids.map((nodeId) => ({
      nodeId,
      presence: this.presenceOf(nodeId),
      disk: this.figures.of(nodeId)?.disk ?? 'plenty',
    }));
  }

  /** Where a source is to send to. */
  pointOf(chosen: string | null): string | null {
    return pointOf(chosen, this.atHand);
  }

  /** By their places: the point chosen for a source that has gone, and where to send meanwhile; else `null`. */
  strayed(chosen: string | null): { gone: string; sendTo: string } | null {
    const own = chosen ?? this.ids[0];
    const next = this.pointOf(chosen);
    if (!own || !next || own === next) return null;
    return { gone: this.nameOf(own).place, sendTo: this.nameOf(next).place };
  }

  /** @param nodeId - `null`: the first, which is beside the server where nobody has come yet. */
  addressesOf(nodeId: string | null, requestHost: string): NodeAddresses {
    const row = this.#rows.find(({ id }) => id === nodeId) ?? this.#rows[0];
    return addressesOf(row?.self ?? besideServer(this.config), requestHost);
  }

  /** As one of our own machines reaches it. */
  addressesWithin(nodeId: string): NodeAddresses {
    return this.addressesOf(nodeId, this.config.bind);
  }

  /** Of everything that pages may load from nodes. */
  origins(requestHost: string): string[] {
    const nodes = this.ids.length > 0 ? this.ids : [null];
    return [...new Set(nodes.map((nodeId) => new URL(this.addressesOf(nodeId, requestHost).media).origin))];
  }

  nameOf(nodeId: string): PointName {
    const place = this.#rows.find(({ id }) => id === nodeId)?.self?.place || nodeId;
    const isShared = this.#rows.some(({ id, self }) => id !== nodeId && self?.place === place);
    return { nodeId, place: isShared ? `${place} (${nodeId})` : place };
  }

  /**
   * The points that can be reckoned with and have room, and how they are reached; first the one that a source is to send
   * to, whatever room that has.
   */
  ways(chosen: string | null, requestHost: string): PointWay[] {
    const first = this.pointOf(chosen);
    const present = this.#rows
      // One that has never come has no addresses yet.
      .filter(({ id, self }) => id === first || (self !== null && this.#takesMore(id)))
      .map(({ id }) => id);
    return present
      .toSorted((a, b) => Number(b === first) - Number(a === first))
      .map((nodeId) => this.#wayOf(nodeId, requestHost));
  }

  /**
   * Every point as it is for anyone who asked us as `requestHost`.
   * @param own - of the house that asks: what others have there is theirs to know
   */
  views(requestHost: string, own: OwnThings): PointView[] {
    return this.#rows.map(({ id, lastSeenAtMs }) => {
      const figures = this.figures.of(id);
      const programmes = (figures?.programmes ?? []).filter(({ programmeId }) =>
        own.programmeIds.has(programmeId),
      );
      const presence = this.presenceOf(id);
      return {
        ...this.#wayOf(id, requestHost),
        presence,
        lastSeenAtMs: presence === 'here' ? this.clock.nowMs() : lastSeenAtMs,
        now: figures
          ? {
              load: figures.load,
              disk: figures.disk,
              diskFreeBytes: figures.diskFreeBytes,
              sources: figures.sources.filter(({ sourceId }) => own.sourceIds.has(sourceId)).length,
              programmes: programmes.length,
              viewers: programmes.reduce((sum, { viewers }) => sum + viewers, 0),
            }
          : null,
        double: this.#doubles.get(id) ?? null,
      };
    });
  }

  #takesMore(nodeId: string): boolean {
    return this.presenceOf(nodeId) !== 'away' && this.figures.of(nodeId)?.disk !== 'full';
  }

  #wayOf(nodeId: string, requestHost: string): PointWay {
    const { reach, send } = this.addressesOf(nodeId, requestHost);
    return { ...this.nameOf(nodeId), reachUrl: reach, sendUrl: send };
  }

  /** Reads who there is. */
  async read(): Promise<void> {
    this.#rows = await this.database.installation.find(MediaNodeEntity, {
      order: { addedAtMs: 'ASC', id: 'ASC' },
    });
  }
}

export const newNode = (id: string, secretSha256Hex: string, addedAtMs: number): MediaNodeEntity => ({
  id,
  secretSha256Hex,
  addedAtMs,
  lastJournalSeq: 0,
  journalId: null,
  tellsAnew: false,
  self: null,
  lastSeenAtMs: null,
});
