import { Column, DefaultNamingStrategy, type ColumnOptions, PrimaryColumn, VersionColumn } from 'typeorm';

/** `startsAtMs` in code is `starts_at` in the database, where it is no number; durations keep their unit. */
export class SnakeCase extends DefaultNamingStrategy {
  override columnName(propertyName: string, customName: string | undefined): string {
    return (
      customName ??
      propertyName
        .replace(/(\bat|At|From|Until|Since)Ms$/, '$1')
        .replace(/[A-Z]/g, (letter) => `_${letter.toLowerCase()}`)
    );
  }
}

const ID: ColumnOptions = { type: 'char', length: 36 };

export const Id = (): PropertyDecorator => PrimaryColumn(ID as never);
export const Reference = (options: ColumnOptions = {}): PropertyDecorator => Column({ ...ID, ...options });
export const Text = (length: number, options: ColumnOptions = {}): PropertyDecorator =>
  Column({ type: 'varchar', length, ...options });
/** What is not given is left to the database. */
const toFlag = (value: unknown): unknown => (typeof value === 'boolean' ? Number(value) : value);
export const LongText = (options: ColumnOptions = {}): PropertyDecorator =>
  Column({ type: 'text', ...options });
export const Flag = (options: ColumnOptions = {}): PropertyDecorator =>
  Column({ type: 'tinyint', transformer: { to: toFlag, from: Boolean }, ...options });
export const Count = (options: ColumnOptions = {}): PropertyDecorator => Column({ type: 'int', ...options });
export const Version = (): PropertyDecorator => VersionColumn({ type: 'int' });

/** An instant: UTC ms in code, `datetime(3)` in the database. */
export const Instant = (options: ColumnOptions = {}): PropertyDecorator =>
  Column({
    type: 'datetime',
    precision: 3,
    transformer: {
      to: (ms: number | null | undefined) => (typeof ms === 'number' ? new Date(ms) : ms),
      from: (date: Date | null) => date?.getTime() ?? null,
    },
    ...options,
  });

const NOW = 'CURRENT_TIMESTAMP(3)';
/** When the row was last changed; the database sees to it. */
export const ChangedAt = (): PropertyDecorator =>
  Instant({ insert: false, update: false, default: () => NOW, onUpdate: NOW });

/** A number with some places after its point; the driver hands it over as text. */
export const Decimal = (precision: number, scale: number): PropertyDecorator =>
  Column({
    type: 'decimal',
    precision,
    scale,
    transformer: { to: (value: number) => value, from: Number },
  });

/** A whole number beyond 32 bits; the driver hands it over as text. */
export const Big = (options: ColumnOptions = {}): PropertyDecorator =>
  Column({ type: 'bigint', transformer: { to: (value: number) => value, from: Number }, ...options });

export const Json = (options: ColumnOptions = {}): PropertyDecorator =>
  Column({ type: 'simple-json', ...options });
