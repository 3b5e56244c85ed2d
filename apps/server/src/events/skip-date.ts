import type { HouseScope } from '../platform/database.js';
import { SeriesSkipEntity } from '../tables/series.entity.js';

/** Leaves a date of a series out; done twice it is as done once. */
export async function skipDate(scope: HouseScope, seriesId: string, date: string): Promise<void> {
  await scope.remove(SeriesSkipEntity, { seriesId, date });
  await scope.add(SeriesSkipEntity, { seriesId, date });
}
