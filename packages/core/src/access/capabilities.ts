export const ROLES = ['owner', 'producer', 'operator', 'moderator', 'treasurer'] as const;
export type Role = (typeof ROLES)[number];

const ALL: readonly Role[] = ROLES;
const MAKERS: readonly Role[] = ['owner', 'producer'];
const DESK: readonly Role[] = ['owner', 'producer', 'operator'];

/** Who may do what: one row a capability. Every route and every socket message names one. */
export const CAPABILITY_ROLES = {
  'house.read': ALL,
  'house.edit': ['owner'],
  'people.read': ALL,
  'people.edit': ['owner'],
  'activity.read': ALL,
  'events.read': ALL,
  'events.edit': MAKERS,
  'events.move': DESK,
  'sources.read': ALL,
  'sources.edit': MAKERS,
  /** Measures a line, sends a camera's picture, lets guests in. */
  'sources.connect': DESK,
  'keys.read': DESK,
  'keys.renew': DESK,
  'destinations.read': ALL,
  'destinations.edit': MAKERS,
  'files.read': ALL,
  'files.edit': MAKERS,
  'recordings.read': ALL,
  'recordings.edit': MAKERS,
  'chat.read': ALL,
  'chat.moderate': ['owner', 'producer', 'operator', 'moderator'],
  'programme.watch': ALL,
} as const satisfies Record<string, readonly Role[]>;

export type Capability = keyof typeof CAPABILITY_ROLES;

/** True when one of the roles carries the capability. */
export function can(roles: readonly Role[], capability: Capability): boolean {
  const allowed: readonly Role[] = CAPABILITY_ROLES[capability];
  return roles.some((role) => allowed.includes(role));
}
