import type { OutletThere } from '../connectors/connector.js';
import type { HouseScope } from '../platform/database.js';
import { newId } from '../platform/ids.js';
import { OutletEntity } from '../tables/account.entity.js';

/** Takes up what the consent covers now; what is used here stays chosen, also while it is away. */
export async function keepOutlets(
  scope: HouseScope,
  accountId: string,
  there: readonly OutletThere[],
): Promise<void> {
  const known = new Map(
    (await scope.find(OutletEntity, { where: { accountId } })).map((outlet) => [outlet.idThere, outlet]),
  );
  const fresh = there.filter(({ id }) => !known.has(id));
  await scope.addAll(
    OutletEntity,
    fresh.map(({ id: idThere, kind, name, hasLetIn }) => ({
      id: newId(),
      accountId,
      idThere,
      kind,
      name,
      hasLetIn,
      isChosen: false,
      isThere: true,
    })),
  );
  for (const { id: idThere, name, hasLetIn } of there) {
    const outlet = known.get(idThere);
    known.delete(idThere);
    if (!outlet) continue;
    if (outlet.name !== name || outlet.hasLetIn !== hasLetIn || !outlet.isThere)
      await scope.save(Object.assign(outlet, { name, hasLetIn, isThere: true }));
  }
  for (const gone of known.values())
    if (gone.isThere) await scope.save(Object.assign(gone, { isThere: false }));
}
