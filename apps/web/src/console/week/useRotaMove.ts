import { useCallback } from 'react';
import { toast } from 'sonner';
import { moveOnRota, type RotaMove } from '@heliphon/core/schedule/move-on-rota';
import type { EventView } from '@heliphon/contracts/events';
import { editEvent } from '../../data/commands.js';
import { toldWithUndo } from '../../ui/undo-toast.js';
import { problemSentence } from '../../words/problems.js';
import { dayAndTime } from '../../words/times.js';

/** Moves an event on the rota, says where it is now, and offers to take it back. */
export function useRotaMove(zone: string): (event: EventView, move: RotaMove) => void {
  return useCallback(
    (event, move) => {
      const where = moveOnRota(event, move);
      if (!where) {
        toast.error(
          'There it cannot stand: it would end before it begins, or at an hour that does not exist.',
        );
        return;
      }
      const change = move.edge === 'end' ? { stopsAtLocal: where.stopsAtLocal } : where;
      editEvent(event.id, event.version, change).then(
        (moved) => {
          const words =
            move.edge === 'end'
              ? `“${moved.title}” now stops ${dayAndTime(moved.stopsAtMs, zone)}.`
              : `“${moved.title}” is now ${dayAndTime(moved.startsAtMs, zone)}.`;
          toldWithUndo(words, event.id);
        },
        (error: unknown) => toast.error(problemSentence(error)),
      );
    },
    [zone],
  );
}
