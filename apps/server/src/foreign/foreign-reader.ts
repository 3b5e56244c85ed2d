import { parentPort, workerData } from 'node:worker_threads';
import { CalendarRefusal, readCalendar } from './read-calendar.js';
import { readEmbeds } from './read-embeds.js';
import type { ForeignAnswer, ForeignText } from './read-foreign.js';

/** A thread of its own in which texts of others are read: one that costs too much costs only this thread. */
function read(wish: ForeignText): ForeignAnswer {
  try {
    if (wish.kind === 'page') return { found: readEmbeds(wish.text) };
    return { found: readCalendar(wish.text, wish.houseZone, wish.nowMs) };
  } catch (error) {
    if (error instanceof CalendarRefusal) return { problem: { code: error.code, params: error.params } };
    throw error;
  }
}

parentPort!.postMessage(read(workerData as ForeignText));
