import { Entity } from 'typeorm';
import type { Level } from '@heliphon/core/inherited';
import { Count, Id, Instant, LongText, Reference, Text } from '../platform/columns.js';

/** The password of a house, a channel, a series or an event, which is told to viewers. */
@Entity('watch_passwords')
export class WatchPasswordEntity {
  @Id() id: string;
  @Reference() houseId: string;
  @Text(10) level: Level;
  @Reference() subjectId: string;
  @LongText() sealedPassword: string;
  @Instant() changedAtMs: number;
}

/** Somebody who was invited to watch what a house, a channel, a series or an event shows. */
@Entity('invited_viewers')
export class InvitedEntity {
  @Id() id: string;
  @Reference() houseId: string;
  @Text(10) level: Level;
  @Reference() subjectId: string;
  @Text(120) name: string;
  /** Empty where the link is handed over by other means. */
  @Text(254) email: string;
  @Text(64) secretSha256Hex: string;
  @LongText() sealedSecret: string;
  /** On how many devices at once they may watch. */
  @Count() devicesMost: number;
  @Instant() invitedAtMs: number;
  @Instant({ nullable: true }) lastCameAtMs: number | null;
  @Instant({ nullable: true }) withdrawnAtMs: number | null;
}

/** A browser that was let in; only the hash of what it shows is kept. */
@Entity('admissions')
export class AdmissionEntity {
  @Id() id: string;
  @Reference() houseId: string;
  @Text(10) kind: 'password' | 'invited';
  /** Of what the password is, or to what the invitation. */
  @Reference() subjectId: string;
  @Reference({ nullable: true }) invitedId: string | null;
  @Text(64) secretSha256Hex: string;
  /** When the password that was entered had been set: once it is changed, the admission is worth nothing. */
  @Instant({ nullable: true }) passwordChangedAtMs: number | null;
  @Instant() seenAtMs: number;
}
