import type { HouseScope } from '../platform/database.js';
import { refusedField } from '../platform/problems.js';
import { FileEntity } from '../tables/file.entity.js';

/** How long a film of the house is; 0 for none. @throws ProblemError 422 for what is no film that can be played */
export async function filmLength(
  scope: HouseScope,
  filmId: string | null,
  field = 'filmId',
): Promise<number> {
  if (filmId === null) return 0;
  const film = await scope.findOne(FileEntity, { id: filmId, kind: 'film', state: 'ready' });
  if (!film || film.binnedAtMs !== null || !film.facts?.durationMs) throw refusedField(field, 'file-no-film');
  return film.facts.durationMs;
}
