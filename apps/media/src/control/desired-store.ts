import { createCipheriv, createDecipheriv, hkdfSync, randomBytes } from 'node:crypto';
import { readFile, rename, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { type DesiredState, NO_DESIRED_STATE } from '@heliphon/core/control/desired-state';
import { desiredStateSchema } from '@heliphon/contracts/control.schema';

/** Keeps the last desired state on disk, sealed: it holds keys of others. AES-256-GCM: nonce, tag, cipher. */
export class DesiredStore {
  readonly #path: string;
  readonly #key: Buffer;
  #saving: Promise<void> = Promise.resolve();

  constructor(folder: string, nodeSecret: string) {
    this.#path = join(folder, 'desired.sealed');
    this.#key = Buffer.from(hkdfSync('sha256', nodeSecret, 'heliphon', 'desired-state v1', 32));
  }

  /** Where two come at once, the later one stays. */
  save(state: DesiredState): Promise<void> {
    const saved = this.#saving.then(() => this.#write(state));
    this.#saving = saved.catch(() => undefined);
    return saved;
  }

  /** The state kept; none where there is no file, or where it cannot be opened any more. */
  async load(): Promise<DesiredState> {
    try {
      const file = await readFile(this.#path);
      const decipher = createDecipheriv('aes-256-gcm', this.#key, file.subarray(0, 12));
      decipher.setAuthTag(file.subarray(12, 28));
      const text = Buffer.concat([decipher.update(file.subarray(28)), decipher.final()]).toString();
      const { value, error } = desiredStateSchema.validate(JSON.parse(text));
      return error ? NO_DESIRED_STATE : value;
    } catch {
      return NO_DESIRED_STATE;
    }
  }

  async #write(state: DesiredState): Promise<void> {
    const nonce = randomBytes(12);
    const cipher = createCipheriv('aes-256-gcm', this.#key, nonce);
    const sealed = Buffer.concat([cipher.update(JSON.stringify(state)), cipher.final()]);
    await writeFile(`${this.#path}.next`, Buffer.concat([nonce, cipher.getAuthTag(), sealed]), {
      mode: 0o600,
    });
    await rename(`${this.#path}.next`, this.#path);
  }
}
