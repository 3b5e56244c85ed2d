import { Body, type PipeTransform } from '@nestjs/common';
import type Joi from 'joi';
import { hasControlCharacters } from '@heliphon/core/text/plain-text';
import { ProblemError, refusedField } from './problems.js';

/** Checks what came in against its contract; every field that is wrong is named. */
export class JoiPipe<T> implements PipeTransform<unknown, T> {
  constructor(private readonly schema: Joi.Schema<T>) {}

  transform(value: unknown): T {
    const controlled = pathOfControl(value, []);
    if (controlled) throw refusedField(controlled.join('.'), 'control-character');
    const result = this.schema.validate(value ?? {}, { abortEarly: false, stripUnknown: false });
    if (!result.error) return result.value;
    const fields = result.error.details.map(({ path, type }) => ({ path: path.join('.'), message: type }));
    throw new ProblemError(422, 'fields-wrong', {}, { fields });
  }
}

/** Where in what came in the first text with a control character stands. */
function pathOfControl(value: unknown, path: readonly string[]): readonly string[] | null {
  if (typeof value === 'string') return hasControlCharacters(value) ? path : null;
  if (typeof value !== 'object' || value === null) return null;
  for (const [name, inner] of Object.entries(value)) {
    const found = pathOfControl(inner, [...path, name]);
    if (found) return found;
  }
  return null;
}

/** A query, checked. @throws ProblemError 422 naming every field that is wrong */
export const checked = <T>(schema: Joi.Schema<T>, value: unknown): T => new JoiPipe(schema).transform(value);

/** The request's body, checked: `@Checked(schema) body: T`. */
export const Checked =
  <T>(schema: Joi.Schema<T>): ParameterDecorator =>
  (target, name, index) => {
    Reflect.defineMetadata(BODY_SCHEMA, schema, target, name!);
    Body(new JoiPipe(schema))(target, name, index);
  };

/** Under this a handler's body contract is remembered, for the description of the interface. */
export const BODY_SCHEMA = 'heliphon:body';
