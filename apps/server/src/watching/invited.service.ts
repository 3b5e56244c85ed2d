import { sayIn } from '@heliphon/core/languages/words';
import { Injectable } from '@nestjs/common';
import Joi from 'joi';
import { IsNull } from 'typeorm';
import { INVITED_LIMITS, readInvitedList } from '@heliphon/core/access/invited-list';
import type { Level } from '@heliphon/core/inherited';
import type { Page } from '@heliphon/contracts/problem';
import type { InvitedView, InviteOutcome, InviteWish } from '@heliphon/contracts/watching';
import { type LevelRow, readLevel } from '../inherited/said-document.js';
import { SpokenLanguages } from '../languages/spoken-languages.js';
import { PostOffice } from '../letters/post-office.js';
import { Clock } from '../platform/clock.js';
import { type Context, Database, type HouseScope, type PageWish } from '../platform/database.js';
import { having, idKey, payload } from '../platform/happening-payloads.js';
import { newId, randomText, sha256Hex } from '../platform/ids.js';
import { ProblemError, refusedField } from '../platform/problems.js';
import { type SealPlace, Secrets } from '../platform/secrets.js';
import { UndoRegistry } from '../platform/undo-registry.js';
import { InvitedEntity } from '../tables/watching.entity.js';
import { pageOf } from '../inherited/page-of.js';
import { turn } from './turn-grants.js';
import { watchLetter } from './watch-letter-text.js';

const SECRET_BITS = 160;
const sealPlace = ({ houseId, id }: Pick<InvitedEntity, 'houseId' | 'id'>): SealPlace => ({
  houseId,
  table: 'invited_viewers',
  column: 'sealed_secret',
  id,
});

const OF_VIEWER = payload(Joi.any(), having<{ readonly invitedId: string }>({ invitedId: idKey.required() }));

/** People who were invited to watch: each with a link of their own, until it is withdrawn. */
@Injectable()
export class InvitedService {
  constructor(
    private readonly database: Database,
    private readonly secrets: Secrets,
    private readonly post: PostOffice,
    private readonly languages: SpokenLanguages,
    private readonly clock: Clock,
    undo: UndoRegistry,
  ) {
    undo.register('viewer-withdrawn', 'events.edit', OF_VIEWER, async (scope, { after }) => {
      const row = await scope.lock(InvitedEntity, { id: after.invitedId }, 'viewer');
      await scope.save(Object.assign(row, { withdrawnAtMs: null }));
    });
  }

  async list(ctx: Context, level: Level, subjectId: string, wish: PageWish): Promise<Page<InvitedView>> {
    const scope = this.database.house(ctx);
    await readLevel(scope, level, subjectId);
    const { rows, next } = await scope.page(InvitedEntity, { by: 'name', where: { subjectId } }, wish);
    return { items: rows.map(view), next };
  }

  /** Invites everybody on a list who is not there yet. @throws ProblemError 422 where there would be too many */
  async invite(
    ctx: Context,
    level: Level,
    subjectId: string,
    wish: InviteWish,
    publicUrl: string,
  ): Promise<InviteOutcome> {
    const { people, unreadableLines } = readInvitedList(wish.list);
    const say = sayIn(await this.languages.ofHouse(ctx.houseId));
    return this.database.inHouse(ctx, async (scope, manager) => {
      const row = await readLevel(scope, level, subjectId);
      // One list at a time: what is there already is not invited twice.
      const house = await scope.lockHouse();
      const there = await scope.find(InvitedEntity, { where: { subjectId } });
      const known = new Map(there.map((one) => [one.email || one.name.toLowerCase(), one]));
      const added = people.filter(({ name, email }) => !known.has(email || name.toLowerCase()));
      if (there.length + added.length > INVITED_LIMITS.people)
        throw refusedField('list', 'viewers-too-many', { most: INVITED_LIMITS.people });
      const nowMs = this.clock.nowMs();
      const rows = added.map(({ name, email }) => {
        const secret = randomText(SECRET_BITS);
        const named = { id: newId(), houseId: ctx.houseId };
        const sealedSecret = this.secrets.seal(secret, sealPlace(named));
        return {
          secret,
          row: {
            ...named,
            level,
            subjectId,
            name,
            email,
            secretSha256Hex: sha256Hex(secret),
            sealedSecret,
            devicesMost: wish.devicesMost,
            invitedAtMs: nowMs,
          },
        };
      });
      await scope.addAll(
        InvitedEntity,
        rows.map(({ row }) => row),
      );
      const address = await this.#addressOf(scope, row, level, publicUrl);
      if (wish.sendsLetters && address)
        for (const { secret, row: invited } of rows)
          if (invited.email)
            await this.post.write(
              manager,
              invited.email,
              watchLetter(say, {
                name: invited.name,
                what: nameOf(row),
                house: house.name,
                link: `${address}#i=${secret}`,
              }),
            );
      if (added.length > 0) {
        const after = { count: added.length };
        await scope.happened({ subjectKind: level, subjectId, kind: 'viewers-invited', after });
      }
      return { added: added.length, alreadyThere: people.length - added.length, unreadableLines };
    });
  }

  /** The link of one of them, to hand it over. @throws ProblemError 409 where there is no page yet */
  async link(ctx: Context, level: Level, subjectId: string, id: string, publicUrl: string): Promise<string> {
    const scope = this.database.house(ctx);
    const row = await readLevel(scope, level, subjectId);
    const invited = await scope.get(InvitedEntity, id, 'viewer');
    const address = await this.#addressOf(scope, row, level, publicUrl);
    if (!address || invited.subjectId !== subjectId) throw new ProblemError(409, 'viewer-no-page');
    return `${address}#i=${this.secrets.open(invited.sealedSecret, sealPlace(invited))}`;
  }

  /** Its viewers are out within a minute. */
  async withdraw(ctx: Context, level: Level, subjectId: string, id: string): Promise<void> {
    await this.database.inHouse(ctx, async (scope, manager) => {
      await readLevel(scope, level, subjectId);
      const where = { id, subjectId, withdrawnAtMs: IsNull() };
      const row = await scope.lock(InvitedEntity, where, 'viewer');
      await scope.save(Object.assign(row, { withdrawnAtMs: this.clock.nowMs() }));
      await turn(scope, manager, this.clock.nowMs(), false);
      const after = { invitedId: id, name: row.name };
      await scope.happened({ subjectKind: level, subjectId, kind: 'viewer-withdrawn', after });
    });
  }

  async #addressOf(
    scope: HouseScope,
    row: LevelRow,
    level: Level,
    publicUrl: string,
  ): Promise<string | null> {
    const slug = 'slug' in row ? row.slug : await pageOf(scope, row, level, this.clock.nowMs());
    return slug && `${publicUrl}/watch/${slug}`;
  }
}

const nameOf = (row: LevelRow): string => ('title' in row ? row.title : row.name);

const view = ({
  id,
  name,
  email,
  devicesMost,
  invitedAtMs,
  lastCameAtMs,
  withdrawnAtMs,
}: InvitedEntity): InvitedView => ({
  id,
  name,
  email,
  devicesMost,
  invitedAtMs,
  lastCameAtMs,
  withdrawnAtMs,
});
