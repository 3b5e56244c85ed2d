import { createCipheriv, createDecipheriv, createHash, randomBytes } from 'node:crypto';
import { chmod, readFile, writeFile } from 'node:fs/promises';
import { Injectable } from '@nestjs/common';

/** What a sealed value is bound to: moved to another row or column it cannot be opened. */
export interface SealPlace {
  readonly houseId: string;
  readonly table: string;
  readonly column: string;
  readonly id: string;
}

const KEY_BYTES = 32;

/** Seals keys and passwords of others with AES-256-GCM, as `v1.keyId.nonce.cipher` in base64url. */
@Injectable()
export class Secrets {
  private constructor(
    private readonly keyId: string,
    private readonly key: Buffer,
  ) {}

  /**
   * Reads the key file; makes it at the first start.
   * @param isFirstStart - when the database already holds sealed values a missing key is a fault, not a start.
   */
  static async open(path: string, isFirstStart: boolean): Promise<Secrets> {
    let key = await readFile(path).catch(() => null);
    if (!key) {
      if (!isFirstStart) {
        throw new Error(
          `The key file ${path} is missing. Put it back from your backup: without it no key or password can be read.`,
        );
      }
      key = randomBytes(KEY_BYTES);
      await writeFile(path, key, { mode: 0o600, flag: 'wx' });
      await chmod(path, 0o600);
    }
    if (key.byteLength !== KEY_BYTES) throw new Error(`The key file ${path} has to hold ${KEY_BYTES} bytes.`);
    return new Secrets(createHash('sha256').update(key).digest('hex').slice(0, 8), key);
  }

  seal(text: string, place: SealPlace): string {
    const nonce = randomBytes(12);
    const cipher = createCipheriv('aes-256-gcm', this.key, nonce).setAAD(boundTo(place));
    const sealed = Buffer.concat([cipher.update(text, 'utf8'), cipher.final(), cipher.getAuthTag()]);
    return `v1.${this.keyId}.${nonce.toString('base64url')}.${sealed.toString('base64url')}`;
  }

  /** @throws Error when it was sealed with another key, for another place, or changed. */
  open(sealed: string, place: SealPlace): string {
    const [version, keyId, nonce, cipher] = sealed.split('.');
    if (version !== 'v1' || keyId !== this.keyId || !nonce || !cipher)
      throw new Error('Sealed with another key');
    const bytes = Buffer.from(cipher, 'base64url');
    const decipher = createDecipheriv('aes-256-gcm', this.key, Buffer.from(nonce, 'base64url')).setAAD(
      boundTo(place),
    );
    decipher.setAuthTag(bytes.subarray(-16));
    return Buffer.concat([decipher.update(bytes.subarray(0, -16)), decipher.final()]).toString('utf8');
  }
}

const boundTo = (place: SealPlace): Buffer =>
  Buffer.from([place.houseId, place.table, place.column, place.id].join('\n'));
