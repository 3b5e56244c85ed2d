import Joi from 'joi';
import type { HappeningKind } from '@heliphon/contracts/happenings';
import type { HappeningEntity } from './entities.js';
import { ProblemError } from './problems.js';

/** What was written down of a happening. */
export interface Recorded<B = unknown, A = unknown> {
  readonly before: B;
  readonly after: A;
}

/** Turns what an older version wrote down into what the next one does. */
type Upgrade = (older: Recorded) => Recorded;

/** Kinds whose payload has changed since it was first written down, each with a step for every change. */
const UPGRADES: Partial<Record<HappeningKind, readonly Upgrade[]>> = {
  // Colours became a look of their own, which is taken back by itself.
  'house-edited': [({ before, after }) => ({ before: withoutColours(before), after: withoutColours(after) })],
};

function withoutColours(change: unknown): unknown {
  const { accent: _accent, accentWarm: _warm, ...rest } = change as Record<string, unknown>;
  return rest;
}

/** The version in which a kind is written down today. */
export const versionOf = (kind: HappeningKind): number => 1 + (UPGRADES[kind]?.length ?? 0);

/** What was written down in `version`, as the last of the steps makes it. */
export const upgraded = (recorded: Recorded, version: number, steps: readonly Upgrade[]): Recorded =>
  steps.slice(version - 1).reduce<Recorded>((older, upgrade) => upgrade(older), recorded);

/** The payload of a kind that is read again, as its row is today; keys that are not named are kept. */
export interface Payload<B, A> {
  read(row: Pick<HappeningEntity, 'kind' | 'version' | 'before' | 'after'>): Recorded<B, A>;
}

/** @param before - what has to be there of it; `after` likewise. */
export function payload<B = unknown, A = unknown>(
  before: Joi.Schema<B> = Joi.any(),
  after: Joi.Schema<A> = Joi.any(),
): Payload<B, A> {
  const schema = Joi.object<Recorded<B, A>, true>({ before, after } as never);
  return {
    read({ kind, version, ...row }) {
      const { before, after } = upgraded(row, version, UPGRADES[kind] ?? []);
      const { value, error } = schema.validate({ before, after }, { convert: false });
      // Written by a version that nobody can read any more.
      if (error) throw new ProblemError(409, 'not-to-be-undone');
      return value;
    },
  };
}

/** Rows or views that have at least these keys. */
export const having = <T>(keys: { readonly [K in keyof T]?: Joi.Schema }): Joi.ObjectSchema<T> =>
  Joi.object<T>(keys as Joi.SchemaMap<T>)
    .unknown()
    .required();

export const idKey = Joi.string().uuid();
export const textKey = Joi.string().allow('');
