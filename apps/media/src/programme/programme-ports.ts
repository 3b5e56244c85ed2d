import type { Observation } from '@heliphon/core/control/observations';
import type { Clock } from '../clock.js';
import type { ChildProcesses } from '../processes/child-processes.js';
import type { LadderBudget } from '../renditions/ladder-budget.js';
import type { SourceConnection } from '../ingest/source-connection.js';
import type { NodeSlates } from '../slate/node-slates.js';

export interface ProgrammeIdentity {
  readonly programmeId: string;
  readonly houseId: string;
}

/** What a programme gets from its node. */
export interface ProgrammePorts {
  readonly clock: Clock;
  readonly slates: NodeSlates;
  readonly children: ChildProcesses;
  readonly ladderBudget: LadderBudget;
  /** Places may be on this machine or in its network. */
  readonly innerPlaces: boolean;
  readonly observe: (observation: Observation) => void;
  /** The connection that has a source now. */
  readonly connectionOf: (sourceId: string) => SourceConnection | undefined;
}
