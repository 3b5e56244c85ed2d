import { planOf } from '@heliphon/core/schedule/event-life';
import type { RotaEvent } from '@heliphon/core/schedule/rota';
import type { EventView } from '@heliphon/contracts/events';

/** An event as the rota lays it out: as planned, with its doors where they really were. */
export function rotaEvent(view: EventView): RotaEvent & { readonly view: EventView } {
  const { id, doorsAtMs, startsAtMs, stopsAtMs } = view;
  return { id, doorsAtMs, startsAtMs, stopsAtMs, hardStopAtMs: planOf(view).hardStopAtMs, view };
}
