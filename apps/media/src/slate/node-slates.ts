import type { DesiredProgramme, DesiredSlate } from '@heliphon/core/control/desired-state';
import {
  SLATE_SHAPES,
  type SlateFormat,
  type SlateShape,
  slateShapeOf,
} from '@heliphon/core/media/slate-format';
import type { FetchedFiles } from '../control/fetched-files.js';
import type { WantKeeper } from '../control/want-keeper.js';
import type { AudioTrack } from '@heliphon/core/media/track';
import type { KeptReels } from './kept-reels.js';
import { PLAIN, type Reel, type ReelOrder } from './picture-reels.js';
import type { SoundOrder, SoundReel } from './sound-reels.js';

/** As RFC 6381 names it. */
const AAC_LC = 'mp4a.40.2';
const SHAPES = Object.keys(SLATE_SHAPES) as readonly SlateShape[];

/** Names the file of a still in a shape. */
const fileIdOf = (stillId: string, shape: SlateShape): string => `${stillId}-${shape}`;

/** The slates of a node's programmes: their stills as the server draws them, and what is made of these. */
export class NodeSlates implements WantKeeper<readonly DesiredProgramme[], ReadonlySet<string>> {
  constructor(
    private readonly stills: FetchedFiles,
    /** Films and sounds of houses. */
    private readonly films: FetchedFiles,
    private readonly reels: KeptReels<ReelOrder, Reel>,
    private readonly sounds: KeptReels<SoundOrder, SoundReel>,
  ) {}

  apply(programmes: readonly DesiredProgramme[]): void {
    const wanted = new Map<string, string>();
    for (const { programmeId, slate } of programmes)
      for (const stillId of Object.values(slate?.stillIds ?? {}))
        for (const shape of SHAPES)
          wanted.set(fileIdOf(stillId, shape), `/control/v1/slates/${programmeId}/${stillId}/${shape}`);
    this.stills.apply([...wanted].map(([id, path]) => ({ id, path, sizeBytes: null })));
    this.reels.letGo(new Set([PLAIN, ...wanted.keys()]));
    this.sounds.letGo(new Set(programmes.flatMap(({ slate }) => slate?.sound?.fileId ?? [])));
  }

  /** Stills that have come. */
  facts(): ReadonlySet<string> {
    return this.stills.facts();
  }

  /**
   * What stands in for a picture of this format; `null` where it is being made.
   * On plain ground where the still has not come: a programme goes on all the same.
   */
  reel(stillId: string, format: SlateFormat): Reel | null {
    const shapes = [slateShapeOf(format), 'wide'] as const;
    const id = shapes.map((shape) => fileIdOf(stillId, shape)).find((one) => this.stills.facts().has(one));
    return this.reels.ready({ still: id ? { id, path: this.stills.pathOf(id) } : null, format });
  }

  /**
   * What is heard meanwhile, of the programme's own kind; `null` for silence: none was chosen, it has not come yet, it is
   * being made, or the programme's sound is of a kind that cannot be made here.
   */
  soundReel(sound: DesiredSlate['sound'], { codec, sampleRateHz, channels }: AudioTrack): SoundReel | null {
    if (!sound || codec !== AAC_LC || channels > 2 || !this.films.facts().has(sound.fileId)) return null;
    const file = { id: sound.fileId, path: this.films.pathOf(sound.fileId) };
    return this.sounds.ready({ file, kind: { sampleRateHz, channels } });
  }

  async stop(): Promise<void> {
    await this.stills.stop();
    await Promise.all([this.reels.settled(), this.sounds.settled()]);
  }
}
