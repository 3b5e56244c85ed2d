import { ownSizeTrouble } from '@heliphon/core/ladder/own-size';
import { renditionName } from '@heliphon/core/ladder/renditions';
import type { OwnSize } from '@heliphon/contracts/house';
import type { LiveFigures } from '../live/live-figures.js';
import type { HouseScope } from '../platform/database.js';
import { refusedField } from '../platform/problems.js';
import { SourceEntity } from '../tables/source.entity.js';

/** A size that would never be made is not kept. @throws ProblemError 422 */
export async function checkOwnSizes(
  scope: HouseScope,
  figures: LiveFigures,
  sizes: readonly OwnSize[],
): Promise<void> {
  const sources = (await scope.find(SourceEntity)).flatMap(({ id }) => {
    const video = figures.sourceOf(id)?.report.video;
    return video && video.frameRateFps > 0 ? [{ ...video, videoBitrateBps: video.bitrateBps }] : [];
  });
  for (const [index, size] of sizes.entries()) {
    const trouble = ownSizeTrouble(size, sources, figures.sizesMostCores);
    const path = `ownSizes.${index}.heightPx`;
    if (trouble) throw refusedField(path, `size-${trouble}`, { name: renditionName(size.heightPx) });
  }
}
