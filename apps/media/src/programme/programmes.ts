import type { Logger } from 'pino';
import type { DesiredClip, DesiredJoin, DesiredProgramme } from '@heliphon/core/control/desired-state';
import type { DiskState } from '@heliphon/core/storage/disk-space';
import { MinutePictures } from '../pictures/minute-pictures.js';
import { cutClip } from '../recording/cut-clip.js';
import { listRecordings, oldestWithSizes, RecordingFolder } from '../recording/recording-folder.js';
import { Programme } from './programme.js';
import type { ProgrammePorts } from './programme-ports.js';
import type { Arrival } from './programme-start.js';

/** How many recordings stay open for the next request. */
const MOST_KEPT_OPEN = 40;

/** Every programme of this node: those that run, and recordings, which are opened when somebody asks for them. */
export class Programmes {
  readonly #running = new Map<string, Programme>();
  /** Recordings that somebody has asked for, and programmes that are just being opened. */
  readonly #kept = new Map<string, Promise<Programme>>();
  readonly #removed = new Set<string>();
  readonly #doneClips = new Set<string>();
  #houseOf = new Map<string, string>();
  #disk: DiskState = 'plenty';
  #withGaps: ReadonlySet<string> = new Set();

  constructor(
    private readonly mediaFolder: string,
    private readonly ports: ProgrammePorts,
    private readonly log: Logger,
  ) {}

  get running(): ReadonlyMap<string, Programme> {
    return this.#running;
  }

  /** Recordings that were deleted since the start. */
  get removed(): ReadonlySet<string> {
    return this.#removed;
  }

  /** Clips that were cut since the start, or for which there was nothing. */
  get doneClips(): ReadonlySet<string> {
    return this.#doneClips;
  }

  /** Looks which recordings there are. */
  async look(): Promise<void> {
    const there = await listRecordings(this.mediaFolder);
    this.#houseOf = new Map(there.map(([house, programme]) => [programme, house]));
  }

  setDisk(state: DiskState): void {
    this.#disk = state;
    for (const programme of this.#running.values()) programme.setDisk(state);
  }

  /** Those whose replay shows the slate where it stood. */
  setWithGaps(programmeIds: readonly string[]): void {
    this.#withGaps = new Set(programmeIds);
    for (const programme of this.#running.values()) this.#setGaps(programme);
    for (const opening of this.#kept.values())
      void opening.then(
        (programme) => this.#setGaps(programme),
        () => undefined,
      );
  }

  /** Lets a programme run. */
  async begin({ programmeId, houseId, takenOver, film }: DesiredProgramme): Promise<void> {
    this.#houseOf.set(programmeId, houseId);
    const opening = this.#open(programmeId, houseId, takenOver && { ...takenOver, film });
    // Other requests wait for this one: a second opening would know nothing of what happens in the first.
    this.#kept.set(programmeId, opening);
    try {
      const programme = await opening;
      this.#running.set(programmeId, programme);
      programme.consume(new MinutePictures(programme, this.ports.children));
      programme.tellAgain();
    } finally {
      this.#kept.delete(programmeId);
    }
  }

  async end(programmeId: string): Promise<void> {
    const programme = this.#running.get(programmeId);
    this.#running.delete(programmeId);
    await programme?.close();
  }

  async close(): Promise<void> {
    await Promise.all([...this.#running.values()].map((programme) => programme.close()));
  }

  /** One that runs, or a recording; also one that was put in the folder since the start. */
  async find(programmeId: string): Promise<Programme | undefined> {
    const known = this.#running.get(programmeId) ?? this.#kept.get(programmeId);
    if (known) return known;
    if (!this.#houseOf.has(programmeId)) await this.look();
    const houseId = this.#houseOf.get(programmeId);
    // Somebody else may have asked while the folder was looked through.
    return houseId ? (this.#kept.get(programmeId) ?? this.#keepOpen(programmeId, houseId)) : undefined;
  }

  /** A recording has got the part that another node had: the next request opens it again. */
  async joined({ programmeId, houseId, nodeId }: DesiredJoin): Promise<void> {
    this.#kept.delete(programmeId);
    await this.end(programmeId);
    const programme = await this.#open(programmeId, houseId);
    // Deleted while its last file came.
    if (this.#removed.has(programmeId)) return programme.folder.remove();
    programme.reportRecording();
    await programme.close();
    this.ports.observe({ kind: 'recording-joined', programmeId, nodeId, atMs: this.ports.clock.nowMs() });
  }

  /** Makes a separate recording of a stretch of a programme. */
  async cutClip(clip: DesiredClip): Promise<void> {
    const { clipId, houseId, programmeId } = clip;
    const programme = await this.find(programmeId);
    const isCut = programme !== undefined && (await cutClip(this.mediaFolder, clip, programme));
    this.#doneClips.add(clipId);
    if (isCut) (await this.#keepOpen(clipId, houseId)).reportRecording();
    else this.ports.observe({ kind: 'clip-failed', programmeId: clipId, atMs: this.ports.clock.nowMs() });
  }

  async removeRecording(programmeId: string, houseId: string): Promise<void> {
    const kept = await this.#kept.get(programmeId);
    this.#kept.delete(programmeId);
    this.#houseOf.delete(programmeId);
    const folder = kept?.folder ?? (await RecordingFolder.open(this.mediaFolder, houseId, programmeId));
    await folder.remove();
    this.#removed.add(programmeId);
    this.ports.observe({ kind: 'recording-removed', programmeId, atMs: this.ports.clock.nowMs() });
  }

  /** The server was put back to an earlier day: it hears of every recording here once more. */
  async tellAnew(): Promise<void> {
    await this.look();
    for (const programmeId of this.#houseOf.keys()) {
      if (this.#running.has(programmeId)) continue;
      try {
        (await this.find(programmeId))?.tellAgain();
      } catch (error) {
        this.log.error({ error: String(error), programmeId }, 'A recording could not be told of once more');
      }
    }
  }

  /** Room grows short: the smaller pictures of the oldest recording that has some are let go. */
  async letGoOfSizes(): Promise<void> {
    const oldest = await oldestWithSizes(
      this.mediaFolder,
      [...this.#houseOf].filter(([programmeId]) => !this.#running.has(programmeId)),
    );
    if (!oldest) return;
    const programme = await this.find(oldest);
    await programme?.renditions.remove();
    this.log.info({ programmeId: oldest }, 'Room is short: the smaller pictures of a recording were deleted');
  }

  #keepOpen(programmeId: string, houseId: string): Promise<Programme> {
    const opened = this.#open(programmeId, houseId);
    this.#kept.set(programmeId, opened);
    opened.catch(() => this.#kept.delete(programmeId));
    // The one that was opened longest ago makes room; the next request for it opens it again.
    if (this.#kept.size > MOST_KEPT_OPEN) this.#kept.delete(this.#kept.keys().next().value!);
    return opened;
  }

  async #open(programmeId: string, houseId: string, arrival: Arrival | null = null): Promise<Programme> {
    const folder = await RecordingFolder.open(this.mediaFolder, houseId, programmeId);
    const onUnreadable = (path: string): void =>
      this.log.error(
        { programmeId, path },
        'What was known of a programme could not be read, and was set aside',
      );
    const identity = { programmeId, houseId };
    const programme = await Programme.open(identity, folder, this.ports, arrival, onUnreadable);
    programme.setDisk(this.#disk);
    this.#setGaps(programme);
    return programme;
  }

  #setGaps({ identity, rendition, renditions }: Programme): void {
    const isKept = this.#withGaps.has(identity.programmeId);
    rendition.setGaps(isKept);
    renditions.setGaps(isKept);
  }
}
