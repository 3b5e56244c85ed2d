import type { Figures, SourceFigures, ToldProgramme } from '@heliphon/core/control/observations';
import type { DiskState } from '@heliphon/core/storage/disk-space';
import { isArriving } from '@heliphon/core/signal/source-report';
import { Injectable } from '@nestjs/common';
import { FiguresStore, type Refusal } from './figures-store.js';
import { SignalHistory } from './signal-history.js';

/** A node that has not reported for so long is away: its figures are its last. */
const FRESH_MS = 3500;
const REFUSALS_KEPT_MS = 7 * 86_400_000;
const DISKS: readonly DiskState[] = ['plenty', 'low', 'full'];

type NodeSource = SourceFigures & { readonly nodeId: string };
type NodeProgramme = ToldProgramme & { readonly nodeId: string };

interface ProgrammeAt {
  readonly programmeId: string;
  /** `null`: wherever it is. */
  readonly nodeId: string | null;
}

/** What media nodes report just now; the database gets minutes of what sources sent. */
@Injectable()
export class LiveFigures {
  constructor(
    readonly history: SignalHistory,
    private readonly store: FiguresStore,
  ) {}

  take(nodeId: string, figures: Figures): void {
    this.store.take(nodeId, figures);
    this.history.take(figures);
  }

  isHere(nodeId: string): boolean {
    return performance.now() - this.takenAtMonotonicMs(nodeId) < FRESH_MS;
  }

  takenAtMonotonicMs(nodeId: string): number {
    return this.store.byNode.get(nodeId)?.atMonotonicMs ?? -Infinity;
  }

  /** When a node said the last that it said, by its own civil time; 0 where it has said nothing to this server. */
  lastHeardMs(nodeId: string): number {
    return this.store.byNode.get(nodeId)?.figures.atMs ?? 0;
  }

  /** What a node reports; nothing of one that is away. */
  of(nodeId: string): Figures | undefined {
    return this.isHere(nodeId) ? this.store.byNode.get(nodeId)!.figures : undefined;
  }

  /** Whether any node is here. */
  get nodeIsHere(): boolean {
    return this.#here.length > 0;
  }

  get atMs(): number {
    return Math.max(0, ...this.#here.map(({ figures }) => figures.atMs));
  }

  /** How much room there is where there is least; `plenty` while nobody knows. */
  get disk(): DiskState {
    const worst = Math.max(0, ...this.#here.map(({ figures }) => DISKS.indexOf(figures.disk)));
    return DISKS[worst]!;
  }

  /** What the strongest of the nodes that are here would have for smaller pictures, in cores; `null` while none is. */
  get sizesMostCores(): number | null {
    const cores = this.#here.flatMap(({ figures }) => figures.sizesMostCores ?? []);
    return cores.length > 0 ? Math.max(...cores) : null;
  }

  /** Whether a node has a film on its disk. */
  hasFilm(nodeId: string | null, fileId: string): boolean {
    return nodeId !== null && (this.of(nodeId)?.films.includes(fileId) ?? false);
  }

  /** What is told of a source, and by which node; by the one at which it arrives, where it is connected to several. */
  sourceOf(sourceId: string): NodeSource | undefined {
    const connected = this.#connected(sourceId);
    return connected.find(({ report }) => isArriving(report)) ?? connected[0];
  }

  /** The nodes at which something of a source arrives. */
  nodesWith(sourceId: string): string[] {
    return this.#connected(sourceId)
      .filter(({ report }) => isArriving(report))
      .map(({ nodeId }) => nodeId);
  }

  /** What the node of a programme says of it; nothing while that is away. */
  programmeOf({ programmeId, nodeId }: ProgrammeAt): NodeProgramme | undefined {
    return this.programmes.find(
      (programme) =>
        programme.programmeId === programmeId && (nodeId === null || programme.nodeId === nodeId),
    );
  }

  /** The node that says a programme's doors are open there; `null` where none does. */
  nodeRunning(programmeId: string): string | null {
    const running = this.programmes.find(
      ({ programmeId: id, state }) => id === programmeId && (state === 'doors' || state === 'air'),
    );
    return running?.nodeId ?? null;
  }

  /** As the nodes that are here say it. */
  get programmes(): readonly NodeProgramme[] {
    return this.#here.flatMap(({ nodeId, figures }) =>
      figures.programmes.map((programme) => ({ ...programme, nodeId })),
    );
  }

  /** Forgets what is too old to help anybody. */
  async tidy(nowMs: number): Promise<void> {
    await this.history.tidy(nowMs);
    for (const [sourceId, { atMs }] of this.store.refusals)
      if (nowMs - atMs > REFUSALS_KEPT_MS) this.store.forgetRefusal(sourceId);
  }

  refused(sourceId: string, reason: string, atMs: number): void {
    this.store.refuse(sourceId, { reason, atMs });
  }

  lastRefusalOf(sourceId: string): Refusal | null {
    return this.store.refusals.get(sourceId) ?? null;
  }

  get #here(): { nodeId: string; figures: Figures }[] {
    return [...this.store.byNode.keys()].flatMap((nodeId) => {
      const figures = this.of(nodeId);
      return figures ? [{ nodeId, figures }] : [];
    });
  }

  #connected(sourceId: string): NodeSource[] {
    return this.#here.flatMap(({ nodeId, figures }) =>
      figures.sources
        .filter((source) => source.sourceId === sourceId)
        .map((source) => ({ ...source, nodeId })),
    );
  }
}
