import { Injectable } from '@nestjs/common';
import { type EntityManager, IsNull, Not } from 'typeorm';
import type { DesiredSource } from '@heliphon/core/control/desired-state';
import { SRT_LIMITS } from '@heliphon/core/ingest/srt-report';
import type { EditSource, SourceKey } from '@heliphon/contracts/sources';
import type { NodeAddresses } from '../nodes/node-addresses.js';
import { randomText } from '../platform/ids.js';
import { ProblemError, refusedField } from '../platform/problems.js';
import { type SealPlace, Secrets } from '../platform/secrets.js';
import { SourceEntity } from '../tables/source.entity.js';

const PASSPHRASE_BITS = 100;

const passphrasePlace = ({ houseId, id }: SourceEntity): SealPlace => ({
  houseId,
  table: 'sources',
  column: 'sealed_passphrase',
  id,
});

/** Ports and passphrases by which sources are reached over SRT. */
@Injectable()
export class SrtPorts {
  constructor(private readonly secrets: Secrets) {}

  /** Opens the lowest port that is free for a source, or gives its own back. */
  async set(
    manager: EntityManager,
    row: SourceEntity,
    srt: NonNullable<EditSource['srt']> | null,
  ): Promise<void> {
    if (srt === null) {
      Object.assign(row, { srtSlot: null, sealedPassphrase: null });
      return;
    }
    if (row.kind !== 'device') throw refusedField('srt', 'source-takes-no-camera');
    row.srtLatencyMs = srt.latencyMs;
    if (row.srtSlot !== null) return;
    const taken = await manager.find(SourceEntity, {
      where: { srtSlot: Not(IsNull()) },
      select: { id: true, srtSlot: true },
    });
    const free = Array.from({ length: SRT_LIMITS.slots }, (_, slot) => slot).find(
      (slot) => !taken.some(({ srtSlot }) => srtSlot === slot),
    );
    if (free === undefined) throw new ProblemError(409, 'srt-ports-taken', { most: SRT_LIMITS.slots });
    row.srtSlot = free;
    this.renew(row);
  }

  /** Another passphrase, where it is reached over SRT at all. */
  renew(row: SourceEntity): void {
    if (row.srtSlot !== null)
      row.sealedPassphrase = this.secrets.seal(randomText(PASSPHRASE_BITS), passphrasePlace(row));
  }

  /** For the desired state. */
  desired(row: SourceEntity): DesiredSource['srt'] {
    const { srtSlot: slot, srtLatencyMs: latencyMs } = row;
    return slot === null ? null : { slot, passphrase: this.#passphraseOf(row), latencyMs };
  }

  /** What has to be typed into an encoder. @param node - how the media node is reached */
  shown(row: SourceEntity, node: NodeAddresses): SourceKey['srt'] {
    const { srtSlot: slot, srtLatencyMs: latencyMs } = row;
    if (slot === null) return null;
    const address = `srt://${node.srtHost}:${node.srtFirstPort + slot}`;
    return { address, passphrase: this.#passphraseOf(row), latencyMs };
  }

  #passphraseOf(row: SourceEntity): string {
    return this.secrets.open(row.sealedPassphrase!, passphrasePlace(row));
  }
}
