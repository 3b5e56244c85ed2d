import type { HouseLook } from '@heliphon/contracts/house';
import type { HouseEntity } from '../platform/entities.js';

/** What a public page wears. */
export const lookOf = ({ name, zone, logoSvg, accent, accentWarm, rules }: HouseEntity): HouseLook => ({
  name,
  zone,
  logoSvg,
  accent,
  accentWarm,
  rules,
});
