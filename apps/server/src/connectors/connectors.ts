import { Inject, Injectable } from '@nestjs/common';
import { Clock } from '../platform/clock.js';
import { CONFIG, type PlatformSettings, type ServerConfig } from '../platform/config.js';
import type { Connector } from './connector.js';
import { SkerryConnector } from './skerry.js';
import { WindlassConnector } from './windlass.js';

/** Every platform that we can speak to: one line here, and one file. */
const KINDS: Readonly<Record<string, new (settings: PlatformSettings, nowMs: () => number) => Connector>> = {
  skerry: SkerryConnector,
  windlass: WindlassConnector,
};

/** The platforms at which this installation is known. */
@Injectable()
export class Connectors {
  readonly all: readonly Connector[];

  /** @throws Error where the settings name a platform that nobody has written a connector for */
  constructor(@Inject(CONFIG) { platforms }: ServerConfig, clock: Clock) {
    this.all = Object.entries(platforms).map(([kind, settings]) => {
      const Kind = KINDS[kind];
      if (!Kind)
        throw new Error(
          `There is no connector for ${kind}; there is one for ${Object.keys(KINDS).join(', ')}.`,
        );
      return new Kind(settings, () => clock.nowMs());
    });
  }

  get(kind: string): Connector | null {
    return this.all.find((connector) => connector.kind === kind) ?? null;
  }

  /** As people know it. */
  nameOf(kind: string): string {
    return this.get(kind)?.facts.name ?? kind;
  }
}
