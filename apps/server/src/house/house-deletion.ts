import { AccountTokens } from '../accounts/account-tokens.js';
import { AccountEntity } from '../tables/account.entity.js';
import { readdir, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { Injectable } from '@nestjs/common';
import { verify } from '@node-rs/argon2';
import { type EntityManager, In } from 'typeorm';
import type { DeleteHouse } from '@heliphon/contracts/house';
import { EventEntity } from '../tables/event.entity.js';
import { Posters } from '../files/posters.js';
import { FileEntity } from '../tables/file.entity.js';
import { FileFolders } from '../files/file-folders.js';
import { houseGoneLetter } from '../letters/letter-texts.js';
import { PostOffice } from '../letters/post-office.js';
import { MediaNodes } from '../nodes/media-nodes.js';
import { Clock } from '../platform/clock.js';
import { type Context, Database } from '../platform/database.js';
import { HouseEntity, MembershipEntity, PersonEntity } from '../platform/entities.js';
import { ProblemError, refusedField } from '../platform/problems.js';
import { RecordingEntity, RemovalEntity } from '../tables/recording.entity.js';
import { SeriesEntity } from '../tables/series.entity.js';
import { FarewellEntity } from '../tables/farewell.entity.js';
import { HOUSE_TABLES } from './house-tables.js';

/** Takes a whole house away, for good: rows, files, what media nodes have, and people who belong to no other. */
@Injectable()
export class HouseDeletion {
  constructor(
    private readonly database: Database,
    private readonly folders: FileFolders,
    private readonly posters: Posters,
    private readonly nodes: MediaNodes,
    private readonly post: PostOffice,
    private readonly tokens: AccountTokens,
    private readonly clock: Clock,
  ) {}

  /** @throws ProblemError 422 unless name and password are right, 409 while something is on air. */
  async delete({ houseId, by }: Context, { name, password }: DeleteHouse): Promise<void> {
    const manager = this.database.installation;
    const [house, person] = await Promise.all([
      manager.findOneByOrFail(HouseEntity, { id: houseId }),
      manager.findOneByOrFail(PersonEntity, { id: by }),
    ]);
    if (house.name !== name) throw refusedField('name', 'house-name-wrong');
    if (!(await verify(person.passwordHash, password))) throw refusedField('password', 'password-wrong');
    const { posterIds, accounts } = await manager.transaction(async (inside) => {
      const running = await inside.findOneBy(EventEntity, { houseId, state: 'air' });
      if (running) throw new ProblemError(409, 'house-on-air', { title: running.title });
      const left = {
        posterIds: await posterIdsOf(inside, houseId),
        accounts: await inside.findBy(AccountEntity, { houseId }),
      };
      await this.#tellNodes(inside, houseId);
      const { email } = person;
      const farewell = { houseId, houseName: house.name, email, name: person.name, atMs: this.clock.nowMs() };
      await inside.insert(FarewellEntity, farewell);
      const members = await inside.findBy(MembershipEntity, { houseId });
      for (const { entity } of HOUSE_TABLES) await inside.delete(entity, { houseId });
      await inside.delete(HouseEntity, { id: houseId });
      await deleteHomeless(
        inside,
        members.map(({ personId }) => personId),
      );
      return left;
    });
    await this.#removeFiles(houseId, posterIds);
    await Promise.all(accounts.map((account) => this.tokens.revoke(account)));
  }

  /** Tells the person who deleted a house once every media node has said that nothing of it is left. */
  async sayFarewell(): Promise<void> {
    const manager = this.database.installation;
    for (const { houseId, houseName, email, name } of await manager.find(FarewellEntity, { take: 20 })) {
      if ((await manager.countBy(RemovalEntity, { houseId })) > 0) continue;
      await manager.transaction(async (inside) => {
        const { affected } = await inside.delete(FarewellEntity, { houseId });
        if (affected) await this.post.write(inside, email, houseGoneLetter({ name, houseName }));
      });
    }
  }

  /** Whatever has been opened may lie on a node, kept or not; and so may clips, which have their own folders. */
  async #tellNodes(manager: EntityManager, houseId: string): Promise<void> {
    const events = await manager.find(EventEntity, {
      where: { houseId },
      select: { id: true, programmeId: true, doorsAtMs: true },
    });
    const opened = events.filter(({ doorsAtMs }) => doorsAtMs !== null);
    const clips = await manager.findBy(RecordingEntity, { houseId, kind: 'clip' });
    const rows = [...opened, ...clips].flatMap(({ programmeId }) =>
      this.nodes.ids.map((nodeId) => ({ programmeId, nodeId, houseId, atMs: this.clock.nowMs() })),
    );
    for (const row of rows) await manager.save(RemovalEntity, row);
  }

  async #removeFiles(houseId: string, posterIds: readonly string[]): Promise<void> {
    const uploads = await readdir(this.folders.uploads).catch(() => []);
    const paths = [
      this.folders.ofHouse(houseId),
      ...posterIds.map((id) => join(this.posters.folder, id)),
      ...uploads
        .filter((name) => name.startsWith(`${houseId}.`))
        .map((name) => join(this.folders.uploads, name)),
    ];
    await Promise.all(paths.map((path) => rm(path, { recursive: true, force: true })));
  }
}

/** Pictures of events, series and recordings, and those that were made of files. */
async function posterIdsOf(manager: EntityManager, houseId: string): Promise<string[]> {
  const [events, series, recordings, files] = await Promise.all([
    manager.findBy(EventEntity, { houseId }),
    manager.findBy(SeriesEntity, { houseId }),
    manager.findBy(RecordingEntity, { houseId }),
    manager.findBy(FileEntity, { houseId }),
  ]);
  const shown = [...events, ...series, ...recordings].flatMap(({ posterId }) => posterId ?? []);
  return [...new Set([...shown, ...files.map(({ id }) => id)])];
}

async function deleteHomeless(manager: EntityManager, personIds: readonly string[]): Promise<void> {
  const elsewhere = await manager.findBy(MembershipEntity, { personId: In([...personIds]) });
  const homeless = personIds.filter((id) => !elsewhere.some(({ personId }) => personId === id));
  if (homeless.length > 0) await manager.delete(PersonEntity, { id: In(homeless) });
}
