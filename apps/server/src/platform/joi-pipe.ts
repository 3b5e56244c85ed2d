import { Body, type PipeTransform } from '@nestjs/common';
import type Joi from 'joi';
import { ProblemError } from './problems.js';

/** Checks what came in against its contract; every field that is wrong is named. */
export class JoiPipe<T> implements PipeTransform<unknown, T> {
  constructor(private readonly schema: Joi.Schema<T>) {}

  transform(value: unknown): T {
    const result = this.schema.validate(value ?? {}, { abortEarly: false, stripUnknown: false });
    if (!result.error) return result.value;
    const fields = result.error.details.map(({ path, type }) => ({ path: path.join('.'), message: type }));
    throw new ProblemError(422, 'fields-wrong', {}, { fields });
  }
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
