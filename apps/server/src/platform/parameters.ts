import { createParamDecorator, type ExecutionContext, Param, ParseUUIDPipe } from '@nestjs/common';
import type { Request } from 'express';
import type Joi from 'joi';
import type { PageWish } from './database.js';
import { checked } from './joi-pipe.js';
import { ifMatch, pageQuery } from './query.js';

/** Under this a handler's reading of pages or versions is remembered, for the description of the interface. */
export const READS = 'heliphon:reads';
export type Reads = 'page' | 'version';

const requestOf = (host: ExecutionContext): Request => host.switchToHttp().getRequest<Request>();

function remembering(reads: Reads, decorator: ParameterDecorator): ParameterDecorator {
  return (target, name, index) => {
    const known = (Reflect.getMetadata(READS, target, name!) as Reads[] | undefined) ?? [];
    Reflect.defineMetadata(READS, [...known, reads], target, name!);
    decorator(target, name, index);
  };
}

/** The row that a path names: `@Id() id: string`. */
export const Id = (): ParameterDecorator => Param('id', ParseUUIDPipe);

const version = createParamDecorator((_: unknown, host: ExecutionContext): number =>
  ifMatch(requestOf(host).headers['if-match']),
);

/** The version that an edit knows, from `If-Match`: `@KnownVersion() version: number`. */
export const KnownVersion = (): ParameterDecorator => remembering('version', version());

const paging = createParamDecorator((_: unknown, host: ExecutionContext): PageWish => {
  const { after, limit } = requestOf(host).query;
  return pageQuery(after, limit);
});

/** The page of a list that is asked for: `@Paging() page: PageWish`. */
export const Paging = (): ParameterDecorator => remembering('page', paging());

const filter = createParamDecorator((schema: Joi.Schema, host: ExecutionContext): unknown => {
  const { after: _after, limit: _limit, ...wish } = requestOf(host).query;
  return checked(schema, wish);
});

/** What else a list is asked for, checked: `@Filter(schema) filter: T`. */
export const Filter = <T>(schema: Joi.Schema<T>): ParameterDecorator => filter(schema);
