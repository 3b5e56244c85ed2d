import type { IncomingHttpHeaders } from 'node:http';
import { Injectable } from '@nestjs/common';
import {
  refusalOf,
  STRANGER,
  type WatchPhase,
  type WatchRefusal,
  type WatchRules,
} from '@heliphon/core/access/watch-rules';
import type { Levels } from '../inherited/levels-of.js';
import { Database, systemContext } from '../platform/database.js';
import { Recogniser } from '../platform/signed-in.js';
import { AdmissionsService } from './admissions.service.js';
import { Countries } from './countries.js';

/** Who asks, as far as their request says. */
export interface Asking {
  readonly headers: IncomingHttpHeaders;
  /** Where it comes from, as far as proxies are trusted; empty where nobody knows. */
  readonly address: string;
  /** The website that shows the page, by its host; `null` on a page of ours. */
  readonly site: string | null;
}

/** Of what somebody wants to see something. */
export interface Guarded {
  readonly houseId: string;
  readonly levels: Levels;
  readonly rules: WatchRules;
  readonly phase: WatchPhase;
}

/** Decides who may watch. What nobody asks for is not looked up. */
@Injectable()
export class Visitors {
  constructor(
    private readonly admissions: AdmissionsService,
    private readonly countries: Countries,
    private readonly recogniser: Recogniser,
    private readonly database: Database,
  ) {}

  /** @param asking - `null` for anybody of whom nothing is known. @returns `null` where they may watch */
  async refusal(
    { houseId, levels, rules, phase }: Guarded,
    asking: Asking | null,
  ): Promise<WatchRefusal | null> {
    const nobody = { ...STRANGER, site: asking?.site ?? null };
    const country = rules.countries && asking ? await this.countries.of(asking.address) : null;
    const first = refusalOf(rules, phase, { ...nobody, country });
    if (!first || !asking) return first;
    if (await this.#isOfHouse(houseId, asking)) return null;
    if (first.why !== 'password' && first.why !== 'invited') return first;
    const scope = this.database.house(systemContext(houseId, 'system'));
    const shown = String(asking.headers['heliphon-admission'] ?? '').split(',');
    const { proofs, crowdedAt } = await this.admissions.proofsOf(
      scope,
      levels,
      shown.map((token) => token.trim()),
    );
    const refusal = refusalOf(rules, phase, { ...nobody, country, proofs });
    return refusal?.why === 'invited' && crowdedAt !== null ? { why: 'devices', most: crowdedAt } : refusal;
  }

  async #isOfHouse(houseId: string, { headers }: Asking): Promise<boolean> {
    return (await this.recogniser.recognise(headers))?.houseId === houseId;
  }
}
