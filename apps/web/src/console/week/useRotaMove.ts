import { useCallback, useRef } from 'react';
import { toast } from 'sonner';
import { moveOnRota, type RotaMove } from '@heliphon/core/schedule/move-on-rota';
import type { EventView } from '@heliphon/contracts/events';
import { editEvent } from '../../data/commands.js';
import { toldWithUndo } from '../../ui/undo-toast.js';
import { problemSentence } from '../../words/problems.js';
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
          toast.error(
            'There it cannot stand: it would end before it begins, or at an hour that does not exist.',
          );
          return;
        }
        const change = move.edge === 'end' ? { stopsAtLocal: where.stopsAtLocal } : where;
        try {
          const moved = await editEvent(event.id, event.version, change);
          newest.current.set(moved.id, moved);
          const words =
            move.edge === 'end'
              ? `“${moved.title}” now stops ${dayAndTime(moved.stopsAtMs, zone)}.`
              : `“${moved.title}” is now ${dayAndTime(moved.startsAtMs, zone)}.`;
          toldWithUndo(words, event.id);
        } catch (error) {
          toast.error(problemSentence(error));
        }
      });
    },
    [zone],
  );
}
