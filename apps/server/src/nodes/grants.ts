import { createHmac, randomBytes } from 'node:crypto';
import { Injectable } from '@nestjs/common';
import {
  checkGrant,
  formatGrant,
  type Grant,
  type GrantClass,
  liveGrantExpiryMs,
  replayGrantExpiryMs,
  type Signer,
} from '@heliphon/core/access/grant';
import { type GrantTurns, guardedTimes, isTurned } from '@heliphon/core/access/guarded-grant';
import type { RecordingFiles } from '@heliphon/contracts/house';
import type { PublicPlayback } from '@heliphon/contracts/public-event';
import { MediaNodes } from './media-nodes.js';
import { Clock } from '../platform/clock.js';
import { Database } from '../platform/database.js';
import { GrantKeyEntity } from '../platform/entities.js';
import { randomText } from '../platform/ids.js';
import { type SealPlace, Secrets } from '../platform/secrets.js';

const placeOf = (id: string): SealPlace => ({
  houseId: 'installation',
  table: 'grant_keys',
  column: 'sealed_secret',
  id,
});

interface GrantedEvent {
  readonly programmeId: string;
  readonly hardStopAtMs: number;
  readonly grantsValidFromMs: number;
  /** The media node that has it; `null` before its doors. */
  readonly nodeId: string | null;
}

type Playback = Omit<PublicPlayback, 'kind' | 'hasSizes'>;

/** Makes the signed addresses under which the media node plays. */
@Injectable()
export class Grants {
  #keys: { readonly keyId: string; readonly secret: Buffer }[] = [];

  constructor(
    private readonly database: Database,
    private readonly secrets: Secrets,
    private readonly clock: Clock,
    private readonly nodes: MediaNodes,
  ) {}

  /** Reads the signing keys; makes the first. */
  async open(): Promise<void> {
    const manager = this.database.installation;
    if ((await manager.count(GrantKeyEntity)) === 0) {
      const id = randomText(40);
      const sealedSecret = this.secrets.seal(randomBytes(32).toString('base64'), placeOf(id));
      await manager.insert(GrantKeyEntity, { id, sealedSecret, createdAtMs: this.clock.nowMs() });
    }
    const rows = await manager.find(GrantKeyEntity, { order: { createdAtMs: 'DESC' } });
    this.#keys = rows.map(({ id, sealedSecret }) => ({
      keyId: id,
      secret: Buffer.from(this.secrets.open(sealedSecret, placeOf(id)), 'base64'),
    }));
  }

  /** For the desired state. */
  get keys(): readonly { keyId: string; secretBase64: string }[] {
    return this.#keys.map(({ keyId, secret }) => ({ keyId, secretBase64: secret.toString('base64') }));
  }

  /** @param requestHost - `host[:port]` of the request, from which the media address follows unless it is set. */
  live(event: GrantedEvent, grantClass: 'public' | 'desk', requestHost: string): Playback {
    return this.#playback(event, grantClass, liveGrantExpiryMs(event.hardStopAtMs), 'live.m3u8', requestHost);
  }

  replay(event: GrantedEvent, requestHost: string): Playback {
    return this.#playback(
      event,
      'public',
      replayGrantExpiryMs(this.clock.nowMs()),
      'replay.m3u8',
      requestHost,
    );
  }

  /** For those who were let in: soon over, and then given again to those who still may. */
  guarded(
    event: GrantedEvent,
    turns: GrantTurns,
    file: 'live.m3u8' | 'replay.m3u8',
    requestHost: string,
  ): Playback {
    const { validFromMs, expiresAtMs } = guardedTimes(turns, this.clock.nowMs());
    return this.#playback(
      { ...event, grantsValidFromMs: validFromMs },
      'guarded',
      expiresAtMs,
      file,
      requestHost,
    );
  }

  /** Shows that its holder was let in to an event. */
  pass(eventId: string, turns: GrantTurns): string {
    const { validFromMs, expiresAtMs } = guardedTimes(turns, this.clock.nowMs());
    return this.#sign(eventId, 'guarded', validFromMs, expiresAtMs);
  }

  isPass(text: string, eventId: string, turns: GrantTurns): boolean {
    const nowMs = this.clock.nowMs();
    const pass = checkGrant(eventId, text, this.#signer, nowMs, () => 0);
    return pass.ok && !isTurned(pass.value, turns, nowMs);
  }

  /** The house's own way to the files of a recording, for a day. */
  recording(event: GrantedEvent, title: string, requestHost: string): RecordingFiles {
    const expiresAtMs = replayGrantExpiryMs(this.clock.nowMs());
    const address = (file: string): string =>
      this.#playback(event, 'desk', expiresAtMs, file, requestHost).hls;
    return {
      mp4: `${address('recording.mp4')}?name=${encodeURIComponent(title)}`,
      frames: address('frame-'),
      replay: address('replay.m3u8'),
    };
  }

  /** @param nodeId - the node at which the source arrives. */
  picture(sourceId: string, nodeId: string, takenAtMs: number, requestHost: string): string {
    const grant = this.#sign(sourceId, 'source', 0, replayGrantExpiryMs(this.clock.nowMs()));
    const { media } = this.nodes.addressesOf(nodeId, requestHost);
    return `${media}/s/${sourceId}/${grant}/picture.jpg?at=${takenAtMs}`;
  }

  /** For another node that fetches what this one has of a programme. */
  ofNode({ programmeId, grantsValidFromMs }: GrantedEvent, nodeId: string): string {
    const expiresAtMs = replayGrantExpiryMs(this.clock.nowMs());
    const grant = this.#sign(programmeId, 'desk', grantsValidFromMs, expiresAtMs);
    return `${this.nodes.addressesWithin(nodeId).media}/p/${programmeId}/${grant}`;
  }

  #playback(
    event: GrantedEvent,
    grantClass: GrantClass,
    expiresAtMs: number,
    file: string,
    requestHost: string,
  ): Playback {
    const grant = this.#sign(event.programmeId, grantClass, event.grantsValidFromMs, expiresAtMs);
    const { media } = this.nodes.addressesOf(event.nodeId, requestHost);
    const folder = `${media}/p/${event.programmeId}/${grant}`;
    return { hls: `${folder}/${file}`, main: `${folder}/main.m3u8`, expiresAtMs };
  }

  #sign(subjectId: string, grantClass: GrantClass, validFromMs: number, expiresAtMs: number): string {
    const grant: Grant = { class: grantClass, validFromMs, expiresAtMs, keyId: this.#keys[0]!.keyId };
    return formatGrant(subjectId, grant, this.#signer);
  }

  readonly #signer: Signer = (keyId, text) => {
    const key = this.#keys.find((candidate) => candidate.keyId === keyId);
    return key && createHmac('sha256', key.secret).update(text).digest('base64url');
  };
}
