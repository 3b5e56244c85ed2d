import { Injectable, Logger, type OnApplicationShutdown } from '@nestjs/common';
import { In, IsNull, LessThan, Not } from 'typeorm';
import { FilesService } from '../files/files.service.js';
import { Uploads } from '../files/uploads.js';
import { HouseDeletion } from './house-deletion.js';
import { LiveFigures } from '../live/live-figures.js';
import { MediaNodes } from '../nodes/media-nodes.js';
import { ViewerReports } from '../signal/viewer-reports.service.js';
import { AdmissionsService } from '../watching/admissions.service.js';
import { GroundPicturesService } from '../looks/ground-pictures.service.js';
import { LogosService } from '../looks/logos.service.js';
import { Clearing } from '../platform/clearing.js';
import { Clock } from '../platform/clock.js';
import { Database, systemContext } from '../platform/database.js';
import { SendTokensService } from '../sources/send-tokens.service.js';
import { RecordingEntity, RemovalEntity } from '../tables/recording.entity.js';
import { BIN_MS, RecordingsService } from '../recordings/recordings.service.js';

const EVERY_MS = 5000;
const HOUR_MS = 3_600_000;
const AT_ONCE = 20;

/** Empties the bins: what has lain there long enough, and, when the disk runs low, the oldest recording first. */
@Injectable()
export class Housekeeper implements OnApplicationShutdown {
  readonly #log = new Logger('Housekeeper');
  #timer: NodeJS.Timeout | null = null;
  #hourly: NodeJS.Timeout | null = null;

  constructor(
    private readonly database: Database,
    private readonly recordings: RecordingsService,
    private readonly files: FilesService,
    private readonly uploads: Uploads,
    private readonly sendTokens: SendTokensService,
    private readonly logos: LogosService,
    private readonly grounds: GroundPicturesService,
    private readonly admissions: AdmissionsService,
    private readonly viewerReports: ViewerReports,
    private readonly houses: HouseDeletion,
    private readonly clearing: Clearing,
    private readonly figures: LiveFigures,
    private readonly nodes: MediaNodes,
    private readonly clock: Clock,
  ) {}

  start(): void {
    this.#timer = setInterval(() => {
      this.tidy().catch((error: unknown) => this.#log.warn(`The bin waits: ${String(error)}`));
    }, EVERY_MS);
    this.#hourly = setInterval(() => {
      this.#tidyFiles().catch((error: unknown) => this.#log.warn(`Files are not tidied: ${String(error)}`));
    }, HOUR_MS);
  }

  onApplicationShutdown(): void {
    if (this.#timer) clearInterval(this.#timer);
    if (this.#hourly) clearInterval(this.#hourly);
  }

  async #tidyFiles(): Promise<void> {
    await this.files.emptyBin();
    await this.uploads.tidy();
    await this.sendTokens.tidy();
    await this.logos.tidy();
    await this.grounds.tidy();
    await this.admissions.tidy();
    await this.viewerReports.tidy();
    await this.clearing.clear();
    await this.figures.tidy(this.clock.nowMs());
  }

  async tidy(): Promise<void> {
    await this.houses.sayFarewell();
    const manager = this.database.installation;
    const ripe = await manager.find(RecordingEntity, {
      where: { binnedAtMs: LessThan(this.clock.nowMs() - BIN_MS) },
      take: AT_ONCE,
    });
    for (const { houseId, id } of ripe) await this.recordings.remove(systemContext(houseId, 'system'), id);
    if (this.figures.disk === 'plenty') return;
    // One at a time: the next only when nodes have made room and there is still too little. Who is away makes none.
    const here = this.nodes.ids.filter((nodeId) => this.figures.isHere(nodeId));
    if ((await manager.countBy(RemovalEntity, { nodeId: In(here) })) > 0) return;
    const oldest = await manager.findOne(RecordingEntity, {
      where: { binnedAtMs: Not(IsNull()) },
      order: { binnedAtMs: 'ASC' },
    });
    if (oldest) await this.recordings.remove(systemContext(oldest.houseId, 'system'), oldest.id);
  }
}
