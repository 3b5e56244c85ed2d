import type { Capability, Role } from '@heliphon/core/access/capabilities';

/** What each role may do, in a few words. */
export const ROLE_WORDS: Readonly<Record<Role, { readonly name: string; readonly may: string }>> = {
  owner: { name: 'Owner', may: 'everything, including people' },
  producer: { name: 'Producer', may: 'everything except people' },
  operator: { name: 'Operator', may: 'the desk, keys and chat' },
  moderator: { name: 'Moderator', may: 'the chat' },
  treasurer: { name: 'Treasurer', may: 'can see everything' },
};

export const CAPABILITY_WORDS: Readonly<Record<Capability, string>> = {
  'house.read': 'read the house',
  'house.edit': 'change, export and delete the house',
  'people.read': 'read who belongs to it',
  'people.edit': 'invite people and give roles',
  'activity.read': 'read the activity record',
  'events.read': 'read events',
  'events.edit': 'plan and change events',
  'events.move': 'open doors, go on air, end',
  'sources.read': 'read sources',
  'sources.edit': 'add and change sources',
  'sources.connect': 'measure a line, send a camera’s picture, let guests in',
  'keys.read': 'see keys',
  'keys.renew': 'renew keys',
  'destinations.read': 'read places',
  'destinations.edit': 'add and change places',
  'files.read': 'see and download files',
  'files.edit': 'upload, rename and bin files',
  'recordings.read': 'read and download recordings',
  'recordings.edit': 'rename, bin and delete recordings',
  'chat.read': 'read chats',
  'chat.moderate': 'moderate chats',
  'programme.watch': 'watch before the public does',
};
