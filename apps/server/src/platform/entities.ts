import type { HappeningKind, SubjectKind } from '@heliphon/contracts/happenings';
import type { OwnSize, VisitCounter } from '@heliphon/contracts/house';
import { Column, Entity, PrimaryColumn, PrimaryGeneratedColumn } from 'typeorm';
import type { GrantTurns } from '@heliphon/core/access/guarded-grant';
import type { OwnWatchRules } from '@heliphon/core/access/watch-rules';
import type { OwnLook } from '@heliphon/core/appearance/look';
import type { NodeSelf } from '@heliphon/core/control/observations';
import type { Capability, Role } from '@heliphon/core/access/capabilities';
import { Big, Count, Flag, Id, Instant, Json, LongText, Reference, Text, Version } from './columns.js';

@Entity('houses')
export class HouseEntity {
  @Id() id: string;
  @Text(120) name: string;
  @Text(64) zone: string;
  /** What the house says of its look; `null` for nothing. */
  @Json({ nullable: true }) look: OwnLook | null;
  /** What the house says of who may watch; `null` for nothing. */
  @Json({ nullable: true }) watching: OwnWatchRules | null;
  /** When fewer might watch than before; `null`: never. */
  @Json({ nullable: true }) grantTurns: GrantTurns | null;
  @LongText() rules: string;
  /** Which its pages speak, as BCP 47 writes it. */
  @Text(35, { default: 'en-GB' }) language: string;
  /** What viewers read while the picture is away; `null` for the usual words. */
  @Text(160, { nullable: true }) slateWords: string | null;
  /** What viewers hear meanwhile; `null` for nothing. */
  @Reference({ nullable: true }) slateSoundId: string | null;
  /** `null` for none. */
  @Json({ nullable: true }) ownSizes: OwnSize[] | null;
  /** `null` where visits are not counted. */
  @Json({ nullable: true }) visitCounter: VisitCounter | null;
  /** When one of its pages was first seen on a website, and on which. */
  @Instant({ nullable: true }) siteSeenAtMs: number | null;
  @Text(255, { nullable: true }) siteHost: string | null;
  @Instant() createdAtMs: number;
  @Version() version: number;
}

/** People are of the installation; what they may do stands in their memberships. */
@Entity('people')
export class PersonEntity {
  @Id() id: string;
  @Text(254) email: string;
  @Text(120) name: string;
  @Text(255) passwordHash: string;
  @Instant() createdAtMs: number;
  /** The second factor's secret; it counts from `totpSinceMs` on. */
  @LongText({ nullable: true }) sealedTotp: string | null;
  @Instant({ nullable: true }) totpSinceMs: number | null;
}

@Entity('memberships')
export class MembershipEntity {
  @Id() personId: string;
  @Id() houseId: string;
  @Json() roles: Role[];
  /** Wants to hear in the morning what is on. */
  @Flag({ default: 1 }) morningLetter: boolean;
}

/** A session in a browser, or a personal access token: either acts in exactly one house. */
@Entity('credentials')
export class CredentialEntity {
  @Id() id: string;
  @Text(10) kind: 'session' | 'token';
  @Reference() personId: string;
  @Reference() houseId: string;
  @Text(80) name: string;
  @Text(64) secretSha256Hex: string;
  @Instant() createdAtMs: number;
  @Instant() expiresAtMs: number;
  /** What a token may do at most; `null`: whatever its person may. */
  @Json({ nullable: true }) scopes: Capability[] | null;
  /** What a session was begun with, for its owner to recognise. */
  @Text(200) device: string;
  @Instant({ nullable: true }) lastUsedAtMs: number | null;
}

/** Every public address in one table, so that a slug is taken once and a renamed one keeps leading on. */
@Entity('addresses')
export class AddressEntity {
  @PrimaryColumn({ type: 'varchar', length: 100 }) slug: string;
  @Reference() houseId: string;
  @Text(20) kind: 'event' | 'series' | 'channel' | 'clip';
  @Reference() targetId: string;
  @Instant({ nullable: true }) retiredAtMs: number | null;
}

/** What happened, only ever appended: feeds push, history, the activity record and undo. */
@Entity('happenings')
export class HappeningEntity {
  @PrimaryGeneratedColumn({ type: 'bigint' }) id: string;
  @Reference() houseId: string;
  @Text(20) subjectKind: SubjectKind;
  @Reference() subjectId: string;
  @Instant() atMs: number;
  /** A person's id, `clock`, `node` or `system`. */
  @Text(36) by: string;
  @Text(60) kind: HappeningKind;
  /** Of what is written down; an older one is read through an upgrade (`happening-payloads`). */
  @Count({ default: 1 }) version: number;
  @Json() before: unknown;
  @Json() after: unknown;
  /** The happening that took this one back. */
  @Column({ type: 'bigint', nullable: true }) undoneBy: string | null;
}

/** A code for the day the telephone is lost; good once. */
@Entity('recovery_codes')
export class RecoveryCodeEntity {
  @Id() id: string;
  @Reference() personId: string;
  @Text(64) codeSha256Hex: string;
  @Instant({ nullable: true }) usedAtMs: number | null;
}

/** A link by which somebody joins a house, or sets a new password. */
@Entity('invitations')
export class InvitationEntity {
  @Id() id: string;
  @Reference() houseId: string;
  @Text(10) kind: 'join' | 'reset';
  @Text(254) email: string;
  @Text(120) name: string;
  @Json() roles: Role[];
  @Text(64) secretSha256Hex: string;
  @Instant() createdAtMs: number;
  @Instant() expiresAtMs: number;
  @Instant({ nullable: true }) usedAtMs: number | null;
}

/** A letter on its way out; its text carries links that open doors, so it is sealed. */
@Entity('letters')
export class LetterEntity {
  @Id() id: string;
  @Text(254) recipient: string;
  @Text(200) subject: string;
  @LongText() sealedText: string;
  @Count() attempts: number;
  /** `null` once it was sent, or given up. */
  @Instant({ nullable: true }) nextTryAtMs: number | null;
  @Instant({ nullable: true }) sentAtMs: number | null;
  @Text(200, { nullable: true }) lastFault: string | null;
  @Instant() createdAtMs: number;
}

/** An answer to a command given by hand: a repeat, known by the id that its browser made, gets the same. */
@Entity('commands')
export class CommandEntity {
  @Id() eventId: string;
  @Id() id: string;
  @Reference() houseId: string;
  @Text(20) kind: string;
  @Instant() atMs: number;
}

@Entity('media_nodes')
export class MediaNodeEntity {
  @Text(60, { primary: true }) id: string;
  @Text(64) secretSha256Hex: string;
  @Big() lastJournalSeq: number;
  /** In which journal of the node that number counts; `null` before any has come. */
  @Reference({ nullable: true }) journalId: string | null;
  /** A backup was put back since it told what it has kept. */
  @Flag({ default: 0 }) tellsAnew: boolean;
  /** What it said of itself; `null` before it came. */
  @Json({ nullable: true }) self: NodeSelf | null;
  @Instant() addedAtMs: number;
  @Instant({ nullable: true }) lastSeenAtMs: number | null;
}

/** Keys that sign playback grants. */
@Entity('grant_keys')
export class GrantKeyEntity {
  @Text(32, { primary: true }) id: string;
  @LongText() sealedSecret: string;
  @Instant() createdAtMs: number;
}
