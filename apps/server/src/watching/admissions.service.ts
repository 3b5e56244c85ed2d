import { timingSafeEqual } from 'node:crypto';
import { Injectable } from '@nestjs/common';
import { In, IsNull, LessThan, MoreThan, Not } from 'typeorm';
import { WATCH_PASSWORD_RULES } from '@heliphon/core/access/token-bucket';
import { foldPassword } from '@heliphon/core/access/watch-rules';
import type { Admitted, AdmitWish } from '@heliphon/contracts/watching';
import type { Levels } from '../inherited/levels-of.js';
import { Clock } from '../platform/clock.js';
import { Database, type HouseScope, systemContext } from '../platform/database.js';
import { newId, randomText, sha256Hex } from '../platform/ids.js';
import { ProblemError } from '../platform/problems.js';
import { Buckets, Limiter } from '../platform/shared/limits.js';
import { AdmissionEntity, InvitedEntity } from '../tables/watching.entity.js';
import { passwordOf, WatchPasswordsService } from './watch-passwords.service.js';

const SECRET_BITS = 160;
/** A browser shows at most so many: it has been let in to several things. */
const MOST_SHOWN = 10;
const TOKEN = /^ha_[0-9a-z]{20,60}$/;
/** A page asks every quarter of a minute; one that has not for so long watches no more. */
const IN_USE_MS = 60_000;
/** Written down no more often. */
const SEEN_EVERY_MS = 20_000;

/** A browser that has not been here for so long is asked again. */
const KEPT_MS = 180 * 24 * 3_600_000;

/** What somebody has shown for an event. */
export interface Proofs {
  readonly proofs: readonly ('password' | 'invited')[];
  /** Their invitation is in use on as many devices as it may be; `null`: it is not. */
  readonly crowdedAt: number | null;
}

/** Lets people in who know the password or were invited, and knows them again by what their browser keeps. */
@Injectable()
export class AdmissionsService {
  readonly #fromAddress: Limiter;
  readonly #fromAnywhere: Limiter;

  constructor(
    private readonly database: Database,
    private readonly passwords: WatchPasswordsService,
    private readonly clock: Clock,
    buckets: Buckets,
  ) {
    this.#fromAddress = new Limiter(buckets, 'watch password', WATCH_PASSWORD_RULES.address);
    this.#fromAnywhere = new Limiter(buckets, 'watch password anywhere', WATCH_PASSWORD_RULES.anywhere);
  }

  /** @throws ProblemError 403 where it does not open the event, 429 after too many tries */
  async admit(houseId: string, levels: Levels, wish: AdmitWish, address: string): Promise<Admitted> {
    const scope = this.database.house(systemContext(houseId, 'system'));
    const subjectId = levels.at(-1)!.row.id;
    const from = `${address} ${subjectId}`;
    await this.#fromAddress.require(from, 'watch-too-many-tries');
    await this.#fromAnywhere.require(subjectId, 'watch-too-many-tries');
    const shown =
      wish.password === undefined
        ? await this.#byInvitation(scope, levels, wish.invitation ?? '')
        : await this.#byPassword(scope, levels, wish.password);
    await this.#fromAddress.giveBack(from);
    await this.#fromAnywhere.giveBack(subjectId);
    const token = `ha_${randomText(SECRET_BITS)}`;
    await scope.add(AdmissionEntity, {
      id: newId(),
      ...shown,
      secretSha256Hex: sha256Hex(token),
      seenAtMs: this.clock.nowMs(),
    });
    return { token };
  }

  /** What the tokens are worth for an event; each is noted to be in use. */
  async proofsOf(scope: HouseScope, levels: Levels, tokens: readonly string[]): Promise<Proofs> {
    const hashes = tokens
      .filter((token) => TOKEN.test(token))
      .slice(0, MOST_SHOWN)
      .map(sha256Hex);
    if (hashes.length === 0) return { proofs: [], crowdedAt: null };
    const rows = await scope.find(AdmissionEntity, { where: { secretSha256Hex: In(hashes) } });
    const proofs: Proofs['proofs'][number][] = [];
    const byPassword = rows.filter(({ kind }) => kind === 'password');
    if (byPassword.length > 0) {
      const password = await passwordOf(scope, levels);
      const known = byPassword.find(
        ({ subjectId, passwordChangedAtMs }) =>
          password?.subjectId === subjectId && password.changedAtMs === passwordChangedAtMs,
      );
      if (known) {
        proofs.push('password');
        await this.#note(scope, known);
      }
    }
    let crowdedAt: number | null = null;
    const ids = levels.map(({ row }) => row.id);
    for (const admission of rows.filter(
      ({ kind, subjectId }) => kind === 'invited' && ids.includes(subjectId),
    )) {
      const invited = await scope.findOne(InvitedEntity, {
        id: admission.invitedId!,
        withdrawnAtMs: IsNull(),
      });
      if (!invited) continue;
      if (await this.#isCrowded(scope, invited, admission)) crowdedAt = invited.devicesMost;
      else {
        proofs.push('invited');
        await this.#note(scope, admission);
      }
    }
    return { proofs, crowdedAt: proofs.includes('invited') ? null : crowdedAt };
  }

  /** Forgets browsers that have not been here for a long time. */
  async tidy(): Promise<void> {
    const unseen = { seenAtMs: LessThan(this.clock.nowMs() - KEPT_MS) };
    await this.database.installation.delete(AdmissionEntity, unseen);
  }

  async #byPassword(scope: HouseScope, levels: Levels, given: string): Promise<Partial<AdmissionEntity>> {
    const row = await passwordOf(scope, levels);
    if (!row || !isSame(this.passwords.open(row), given)) throw new ProblemError(403, 'watch-password-wrong');
    return { kind: 'password', subjectId: row.subjectId, passwordChangedAtMs: row.changedAtMs };
  }

  async #byInvitation(scope: HouseScope, levels: Levels, secret: string): Promise<Partial<AdmissionEntity>> {
    const invited = await scope.findOne(InvitedEntity, {
      secretSha256Hex: sha256Hex(secret),
      subjectId: In(levels.map(({ row }) => row.id)),
      withdrawnAtMs: IsNull(),
    });
    if (!invited) throw new ProblemError(403, 'watch-invitation-unknown');
    return { kind: 'invited', subjectId: invited.subjectId, invitedId: invited.id };
  }

  /** Those who watch already stay; somebody who comes besides waits until one of them has gone. */
  async #isCrowded(scope: HouseScope, invited: InvitedEntity, { id }: AdmissionEntity): Promise<boolean> {
    const inUse = MoreThan(this.clock.nowMs() - IN_USE_MS);
    const others = { invitedId: invited.id, id: Not(id), seenAtMs: inUse };
    return (await scope.count(AdmissionEntity, others)) >= invited.devicesMost;
  }

  async #note(scope: HouseScope, admission: AdmissionEntity): Promise<void> {
    const nowMs = this.clock.nowMs();
    if (nowMs - admission.seenAtMs < SEEN_EVERY_MS) return;
    await scope.save(Object.assign(admission, { seenAtMs: nowMs }));
    const { invitedId } = admission;
    const invited = invitedId && (await scope.findOne(InvitedEntity, { id: invitedId }));
    if (invited) await scope.save(Object.assign(invited, { lastCameAtMs: nowMs }));
  }
}

const isSame = (one: string, other: string): boolean =>
  timingSafeEqual(Buffer.from(sha256Hex(foldPassword(one))), Buffer.from(sha256Hex(foldPassword(other))));
