import { useCallback, useRef } from 'react';
import { toast } from 'sonner';
import { moveOnRota, type RotaMove } from '@heliphon/core/schedule/move-on-rota';
import type { EventView } from '@heliphon/contracts/events';
import { editEvent } from '../../data/events.js';
import { toldWithUndo } from '../../ui/undo-toast.js';
import { problemSentence } from '../../words/problems.js';
import { WEEK_TEXT } from '../../words/console/week.js';
import { dayAndTime } from '@heliphon/contracts/time-words';

/**
 * Moves an event on the rota, says where it is now, and offers to take it back. Moves follow one another: each begins
 * where the one before has led, even while the sheet still shows where it was.
 */
export function useRotaMove(zone: string): (event: EventView, move: RotaMove) => void {
  const queue = useRef(Promise.resolve());
  const newest = useRef(new Map<string, EventView>());
  return useCallback(
    (shown, move) => {
      queue.current = queue.current.then(async () => {
        const known = newest.current.get(shown.id);
        const event = known && known.version > shown.version ? known : shown;
        const where = moveOnRota(event, move);
        if (!where) {
          toast.error(WEEK_TEXT.cannotGoThere);
          return;
        }
        const change = move.edge === 'end' ? { stopsAtLocal: where.stopsAtLocal } : where;
        try {
          const moved = await editEvent(event.id, event.version, change);
          newest.current.set(moved.id, moved);
          const words =
            move.edge === 'end'
              ? WEEK_TEXT.nowStops(moved.title, dayAndTime(moved.stopsAtMs, zone))
              : WEEK_TEXT.isNow(moved.title, dayAndTime(moved.startsAtMs, zone));
          toldWithUndo(words, event.id);
        } catch (error) {
          toast.error(problemSentence(error));
        }
      });
    },
    [zone],
  );
}
