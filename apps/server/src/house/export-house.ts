import type { EventEmitter } from 'node:events';
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import type { EntityManager } from 'typeorm';
import { ZipFile } from 'yazl';
import { withoutSecrets } from '../activity/without-secrets.js';
import { FileEntity } from '../tables/file.entity.js';
import type { FileFolders } from '../files/file-folders.js';
import { HouseEntity, MembershipEntity, PersonEntity } from '../platform/entities.js';
import { HOUSE_TABLES } from './house-tables.js';

const PAGE = 500;
/** What names people's way in is theirs, not the house's. */
const LEFT_OUT = new Set(['credentials', 'invitations', 'consent-asks']);

/**
 * Everything of a house as a ZIP file: one JSON Lines file a table, the people by name, the posters and files as they are.
 * Written as it is read, so that a house of any size needs no memory. `docs/export.md` describes it.
 */
export function exportHouse(
  manager: EntityManager,
  houseId: string,
  postersFolder: string,
  folders: FileFolders,
): Readable {
  const zip = new ZipFile();
  addLines(zip, 'house.jsonl', houseLines(manager, houseId));
  addLines(zip, 'people.jsonl', peopleLines(manager, houseId));
  for (const { name, entity } of HOUSE_TABLES.filter((table) => !LEFT_OUT.has(table.name))) {
    addLines(
      zip,
      `${name}.jsonl`,
      pages(async (skip) => {
        const rows = await manager.find(entity, { where: { houseId }, skip, take: PAGE });
        return rows.map(withoutSecrets);
      }),
    );
  }
  const output = zip.outputStream as Readable;
  // What goes wrong on the way breaks this answer off, and nothing else.
  const breakOff = (error: Error): void => void output.destroy(error);
  (zip as unknown as EventEmitter).on('error', breakOff);
  addPosters(zip, manager, houseId, postersFolder)
    .then(() => addFiles(zip, manager, houseId, folders))
    .then(() => zip.end(), breakOff);
  return output;
}

async function addPosters(
  zip: ZipFile,
  manager: EntityManager,
  houseId: string,
  folder: string,
): Promise<void> {
  const rows = await manager.query<{ id: string }[]>(
    `SELECT poster_id AS id FROM events WHERE house_id = ? AND poster_id IS NOT NULL
     UNION SELECT poster_id FROM series WHERE house_id = ? AND poster_id IS NOT NULL
     UNION SELECT poster_id FROM recordings WHERE house_id = ? AND poster_id IS NOT NULL`,
    [houseId, houseId, houseId],
  );
  for (const { id } of rows) {
    const path = join(folder, id, '1280.jpg');
    if (existsSync(path)) zip.addFile(path, `posters/${id}.jpg`, { compress: false });
  }
}

async function addFiles(
  zip: ZipFile,
  manager: EntityManager,
  houseId: string,
  folders: FileFolders,
): Promise<void> {
  for (const file of await manager.findBy(FileEntity, { houseId })) {
    const path = folders.original(file);
    if (existsSync(path))
      zip.addFile(path, `files/${file.id}/${archiveName(file.name)}`, { compress: false });
  }
}

/** A name that means a file beside the others to every archive program: no folders, no way up, nothing hidden. */
const archiveName = (name: string): string =>
  name
    .replace(/[^\p{L}\p{N}. _-]/gu, '_')
    .replace(/^[.\s]+/, '_')
    .slice(-120) || '_';

function addLines(zip: ZipFile, name: string, lines: AsyncGenerator<string>): void {
  zip.addReadStreamLazy(name, {}, (give) => give(null, Readable.from(lines)));
}

async function* pages(read: (skip: number) => Promise<unknown[]>): AsyncGenerator<string> {
  for (let skip = 0; ; skip += PAGE) {
    const rows = await read(skip);
    for (const row of rows) yield `${JSON.stringify(row)}\n`;
    if (rows.length < PAGE) return;
  }
}

async function* houseLines(manager: EntityManager, houseId: string): AsyncGenerator<string> {
  yield `${JSON.stringify(await manager.findOneBy(HouseEntity, { id: houseId }))}\n`;
}

async function* peopleLines(manager: EntityManager, houseId: string): AsyncGenerator<string> {
  for (const { personId, roles } of await manager.findBy(MembershipEntity, { houseId })) {
    const person = await manager.findOneByOrFail(PersonEntity, { id: personId });
    yield `${JSON.stringify({ id: person.id, name: person.name, email: person.email, roles })}\n`;
  }
}
