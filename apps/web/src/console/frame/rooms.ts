/** The rooms of the console, in their order. Rooms not yet built are not shown. */
export const ROOMS = [
  { to: '/', name: 'Week' },
  { to: '/sources', name: 'Sources' },
  { to: '/places', name: 'Where it goes' },
  { to: '/archive', name: 'Archive' },
  { to: '/house', name: 'Our house' },
] as const;

/** Reached from the rooms above, and by name. */
export const SIDE_ROOMS = [
  { to: '/series', name: 'Series' },
  { to: '/calendar', name: 'Calendar files' },
  { to: '/house/channels', name: 'Channels' },
  { to: '/archive/files', name: 'Files' },
] as const;
