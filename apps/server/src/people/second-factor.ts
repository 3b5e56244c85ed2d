import { randomBytes } from 'node:crypto';
import { Injectable } from '@nestjs/common';
import { Secret, TOTP } from 'otpauth';
import { IsNull } from 'typeorm';
import type { SecondFactorOffer } from '@heliphon/contracts/people';
import { secondFactorGoneLetter } from '../letters/letter-texts.js';
import { PostOffice } from '../letters/post-office.js';
import { Clock } from '../platform/clock.js';
import { Database } from '../platform/database.js';
import { PersonEntity, RecoveryCodeEntity } from '../platform/entities.js';
import { newId, randomText, sha256Hex } from '../platform/ids.js';
import { ProblemError, refusedField } from '../platform/problems.js';
import { type SealPlace, Secrets } from '../platform/secrets.js';

const RECOVERY_CODES = 10;
const SECRET_BYTES = 20;
/** The step before and the step after count too: telephones' clocks stray. */
const WINDOW = 1;

const placeOf = (id: string): SealPlace => ({
  houseId: 'installation',
  table: 'people',
  column: 'sealed_totp',
  id,
});

/** The second factor: codes that change every 30 s (RFC 6238), and codes for the day the telephone is lost. */
@Injectable()
export class SecondFactor {
  /** The last step that was used, by person: a code is good once. */
  readonly #usedSteps = new Map<string, number>();

  constructor(
    private readonly database: Database,
    private readonly secrets: Secrets,
    private readonly post: PostOffice,
    private readonly clock: Clock,
  ) {}

  /** Makes a secret; it does not count until a first code has confirmed it. */
  async offer(personId: string): Promise<SecondFactorOffer> {
    const person = await this.#person(personId);
    if (person.totpSinceMs !== null) throw new ProblemError(409, 'second-factor-there');
    const secret = new Secret({ buffer: new Uint8Array(randomBytes(SECRET_BYTES)).buffer });
    const sealedTotp = this.secrets.seal(secret.base32, placeOf(personId));
    await this.database.installation.update(PersonEntity, { id: personId }, { sealedTotp });
    return { secret: secret.base32, uri: totpOf(secret.base32, person.email).toString() };
  }

  /** @returns the recovery codes, told once. */
  async confirm(personId: string, code: string): Promise<string[]> {
    const person = await this.#person(personId);
    if (person.totpSinceMs !== null) throw new ProblemError(409, 'second-factor-there');
    if (!person.sealedTotp || !this.#isRight(person, code)) throw refusedField('code', 'code-wrong');
    const codes = Array.from({ length: RECOVERY_CODES }, () => randomText(50).replace(/(.{5})/, '$1-'));
    await this.database.installation.transaction(async (manager) => {
      await manager.update(PersonEntity, { id: personId }, { totpSinceMs: this.clock.nowMs() });
      await manager.delete(RecoveryCodeEntity, { personId });
      const rows = codes.map((text) => ({
        id: newId(),
        personId,
        codeSha256Hex: sha256Hex(text),
        usedAtMs: null,
      }));
      await manager.insert(RecoveryCodeEntity, rows);
    });
    return codes;
  }

  /** Switches it off; anyone who does has to show one more code, and the person gets a letter. */
  async remove(personId: string, code: string): Promise<void> {
    const person = await this.#person(personId);
    if (!(await this.check(person, code))) throw refusedField('code', 'code-wrong');
    await this.database.installation.transaction(async (manager) => {
      await manager.update(PersonEntity, { id: personId }, { sealedTotp: null, totpSinceMs: null });
      await manager.delete(RecoveryCodeEntity, { personId });
      await this.post.write(manager, person.email, secondFactorGoneLetter(person));
    });
  }

  /** A code of the telephone, or one of the recovery codes, which is used up by it. */
  async check(person: PersonEntity, code: string): Promise<boolean> {
    if (/^\d{6}$/.test(code)) return this.#isRight(person, code);
    const used = await this.database.installation.update(
      RecoveryCodeEntity,
      { personId: person.id, codeSha256Hex: sha256Hex(code), usedAtMs: IsNull() },
      { usedAtMs: this.clock.nowMs() },
    );
    return used.affected === 1;
  }

  #isRight(person: PersonEntity, token: string): boolean {
    const secret = this.secrets.open(person.sealedTotp!, placeOf(person.id));
    const totp = totpOf(secret, person.email);
    const timestamp = this.clock.nowMs();
    const delta = totp.validate({ token, timestamp, window: WINDOW });
    if (delta === null) return false;
    const step = TOTP.counter({ timestamp }) + delta;
    if (step <= (this.#usedSteps.get(person.id) ?? 0)) return false;
    this.#usedSteps.set(person.id, step);
    return true;
  }

  #person(id: string): Promise<PersonEntity> {
    return this.database.installation.findOneByOrFail(PersonEntity, { id });
  }
}

const totpOf = (secret: string, label: string): TOTP =>
  new TOTP({ issuer: 'Heliphon', label, secret: Secret.fromBase32(secret) });
