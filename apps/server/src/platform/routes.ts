import { RequestMethod } from '@nestjs/common';
import type { DiscoveryService, MetadataScanner } from '@nestjs/core';
import type Joi from 'joi';
import { type Need, NEED } from './need.js';
import { BODY_SCHEMA } from './joi-pipe.js';
import { READS, type Reads } from './parameters.js';

/** One route of the HTTP interface, as its handler declares it. */
export interface Route {
  readonly method: string;
  /** With parameters as `:name`. */
  readonly path: string;
  readonly name: string;
  readonly need: Need | undefined;
  readonly body: Joi.Schema | undefined;
  readonly reads: readonly Reads[];
}

/** All routes of all controllers. */
export function routesOf(discovery: DiscoveryService, scanner: MetadataScanner): Route[] {
  return discovery.getControllers().flatMap(({ instance, metatype }) => {
    const prototype = Object.getPrototypeOf(instance) as Record<string, () => unknown>;
    const base = String(Reflect.getMetadata('path', metatype!));
    return scanner.getAllMethodNames(prototype).flatMap((name): Route[] => {
      const handler = prototype[name]!;
      if (!Reflect.hasMetadata('path', handler)) return [];
      const own = String(Reflect.getMetadata('path', handler));
      return [
        {
          method: RequestMethod[Reflect.getMetadata('method', handler) as RequestMethod],
          path: `/${[base, own]
            .map((part) => part.replace(/^\/|\/$/g, ''))
            .filter(Boolean)
            .join('/')}`,
          name: `${metatype!.name}.${name}`,
          need: Reflect.getMetadata(NEED, handler) as Need | undefined,
          body: Reflect.getMetadata(BODY_SCHEMA, prototype, name) as Joi.Schema | undefined,
          reads: (Reflect.getMetadata(READS, prototype, name) as Reads[] | undefined) ?? [],
        },
      ];
    });
  });
}
