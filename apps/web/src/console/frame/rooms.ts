import { FRAME_TEXT } from '../../words/console/frame.js';

/** The rooms of the console, in their order. Rooms not yet built are not shown. */
export const ROOMS = [
  { to: '/', name: FRAME_TEXT.roomNames.week },
  { to: '/sources', name: FRAME_TEXT.roomNames.sources },
  { to: '/places', name: FRAME_TEXT.roomNames.places },
  { to: '/archive', name: FRAME_TEXT.roomNames.archive },
  { to: '/house', name: FRAME_TEXT.roomNames.house },
] as const;

/** Reached from the rooms above, and by name. */
export const SIDE_ROOMS = [
  { to: '/series', name: FRAME_TEXT.roomNames.series },
  { to: '/calendar', name: FRAME_TEXT.roomNames.calendar },
  { to: '/house/channels', name: FRAME_TEXT.roomNames.channels },
  { to: '/archive/files', name: FRAME_TEXT.roomNames.files },
  { to: '/wall', name: FRAME_TEXT.roomNames.wall },
] as const;
