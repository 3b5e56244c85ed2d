import type { PublicHouse } from '@heliphon/contracts/house';
import type { HouseEntity } from '../platform/entities.js';

/** What everybody may know of a house. */
export const publicHouse = ({ name, zone, rules, visitCounter }: HouseEntity): PublicHouse => ({
  name,
  zone,
  rules,
  visitCounter,
});
