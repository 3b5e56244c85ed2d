import type { Fault } from '@heliphon/core/faults/fault';
import type { HappeningKind } from '@heliphon/contracts/happenings';
import { type FaultNames, faultSentences } from '@heliphon/contracts/fault-words';
import type { WebhookBody, WebhookKind } from '@heliphon/contracts/webhooks';
import type { HappeningEntity, HouseEntity } from '../platform/entities.js';
import type { EventEntity } from '../tables/event.entity.js';

/** Which happenings a webhook is told of, and as what. */
export const TOLD: Readonly<Partial<Record<HappeningKind, WebhookKind>>> = {
  'event-planned': 'planned',
  'event-air': 'on-air',
  'event-kept': 'ended',
  'recording-kept': 'replay-there',
  'fault-began': 'fault-began',
  'fault-over': 'fault-over',
};

const iso = (ms: number): string => new Date(ms).toISOString();

interface Told {
  readonly happening: Pick<HappeningEntity, 'kind' | 'atMs'>;
  readonly house: Pick<HouseEntity, 'id' | 'name'>;
  readonly event: Pick<EventEntity, 'id' | 'title' | 'startsAtMs' | 'slug'>;
  readonly ownUrl: string;
  readonly fault: { readonly fault: Fault; readonly names: FaultNames } | null;
}

/** What a webhook is told of a happening. */
export function webhookBody({ happening, house, event, ownUrl, fault }: Told): WebhookBody {
  return {
    version: 1,
    kind: TOLD[happening.kind]!,
    at: iso(happening.atMs),
    house: { id: house.id, name: house.name },
    event: {
      id: event.id,
      title: event.title,
      startsAt: iso(event.startsAtMs),
      page: `${ownUrl}/watch/${event.slug}`,
    },
    ...(fault ? { fault: faultBody(fault.fault, fault.names) } : {}),
  };
}

function faultBody(fault: Fault, names: FaultNames): NonNullable<WebhookBody['fault']> {
  const { now, then, help } = faultSentences(fault, names);
  const isOver = fault.toMs !== null;
  return {
    kind: fault.kind,
    about: fault.subjectId || null,
    from: iso(fault.fromMs),
    to: isOver ? iso(fault.toMs) : null,
    sentence: isOver ? then : now,
    help,
    viewerMinutes: Math.round(fault.viewerMs / 6000) / 10,
  };
}
