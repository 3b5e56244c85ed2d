import type { DesiredProgramme } from '@heliphon/core/control/desired-state';
import {
  SLATE_SHAPES,
  type SlateFormat,
  type SlateShape,
  slateShapeOf,
} from '@heliphon/core/media/slate-format';
import type { FetchedFiles } from '../control/fetched-files.js';
import type { WantKeeper } from '../control/want-keeper.js';
import type { Reel, SlateReels } from './slate-reels.js';

const SHAPES = Object.keys(SLATE_SHAPES) as readonly SlateShape[];

/** Names the file of a still in a shape. */
const fileIdOf = (stillId: string, shape: SlateShape): string => `${stillId}-${shape}`;

/** The slates of a node's programmes: their stills as the server draws them, and what is made of these. */
export class NodeSlates implements WantKeeper<readonly DesiredProgramme[], ReadonlySet<string>> {
  constructor(
    private readonly stills: FetchedFiles,
    private readonly reels: SlateReels,
  ) {}

  apply(programmes: readonly DesiredProgramme[]): void {
    const wanted = new Map<string, string>();
    for (const { programmeId, slate } of programmes)
      for (const stillId of Object.values(slate?.stillIds ?? {}))
        for (const shape of SHAPES)
          wanted.set(fileIdOf(stillId, shape), `/control/v1/slates/${programmeId}/${stillId}/${shape}`);
    this.stills.apply([...wanted].map(([id, path]) => ({ id, path, sizeBytes: null })));
    this.reels.letGo(new Set(wanted.keys()));
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

  async stop(): Promise<void> {
    await this.stills.stop();
    await this.reels.settled();
  }
}
