import { EventEntity } from '../events/event.entity.js';
import type { HouseScope } from '../platform/database.js';
import { ChatRoomEntity } from './chat.entity.js';

/** The next number in a chat, the first of `count`; the room's row serialises whoever speaks at once. */
export async function nextSeq(scope: HouseScope, eventId: string, count = 1): Promise<number> {
  if (!(await scope.findOne(ChatRoomEntity, { eventId }))) await openRoom(scope, eventId);
  const room = await scope.lock(ChatRoomEntity, { eventId }, 'chat');
  const first = room.lastSeq + 1;
  room.lastSeq += count;
  await scope.save(room);
  return first;
}

/** The first two to speak may both open the room; the second finds it there. */
async function openRoom(scope: HouseScope, eventId: string): Promise<void> {
  await scope.lock(EventEntity, { id: eventId }, 'event');
  if (!(await scope.findOne(ChatRoomEntity, { eventId })))
    await scope.add(ChatRoomEntity, { eventId, lastSeq: 0 });
}
