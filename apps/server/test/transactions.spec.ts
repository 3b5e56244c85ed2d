import { afterAll, beforeAll, expect, test } from '@jest/globals';
import type { SourceView } from '@heliphon/contracts/sources';
import { Database, systemContext } from '../src/platform/database.js';
import { SourceEntity } from '../src/tables/source.entity.js';
import { type HouseClient, ServerDriver } from './driver.js';

let server: ServerDriver;
let house: HouseClient;
beforeAll(async () => {
  server = await ServerDriver.start();
  house = await server.house();
});
afterAll(() => server.stop());

test('two who wait for each other both come to their end: one of them begins again', async () => {
  const rows: SourceView[] = [await house.source('One'), await house.source('Other')];
  const database = server.app.get(Database);
  let begun = 0;
  let bothHoldOne: () => void;
  const crossed = new Promise<void>((resolve) => (bothHoldOne = resolve));
  const rename = (first: SourceView, second: SourceView, name: string): Promise<void> =>
    database.transaction(systemContext(house.houseId, 'system'), async (scope) => {
      const one = await scope.lock(SourceEntity, { id: first.id }, 'source');
      begun += 1;
      if (begun === 2) bothHoldOne();
      await crossed;
      const other = await scope.lock(SourceEntity, { id: second.id }, 'source');
      for (const row of [one, other]) await scope.save(Object.assign(row, { name: `${row.name} ${name}` }));
    });
  await Promise.all([rename(rows[0]!, rows[1]!, 'a'), rename(rows[1]!, rows[0]!, 'b')]);
  expect(begun).toBe(3);
  const names = await Promise.all(
    rows.map(async ({ id }) => (await database.installation.findOneByOrFail(SourceEntity, { id })).name),
  );
  for (const name of names) expect(name.split(' ').slice(1).sort()).toEqual(['a', 'b']);
});

test('what fails for another reason is not tried again', async () => {
  let tries = 0;
  const work = server.app.get(Database).transaction(systemContext(house.houseId, 'system'), () => {
    tries += 1;
    throw new Error('No');
  });
  await expect(work).rejects.toThrow('No');
  expect(tries).toBe(1);
});
