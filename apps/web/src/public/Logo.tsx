import type { ResolvedLook } from '@heliphon/core/appearance/palette';
import { useLight } from './light.js';

/** The logo of a look. In the dark it has its own; one that has none stands on a plate of the day's. */
export function Logo({ look }: { look: ResolvedLook }) {
  const isNight = useLight(look) === 'night';
  const url = isNight ? (look.nightLogoUrl ?? look.logoUrl) : look.logoUrl;
  if (!url) return null;
  const plate = isNight && !look.nightLogoUrl ? { background: look.palette.sheet, padding: 4 } : undefined;
  return <img src={url} alt="" data-look="logo" className="public-logo" style={plate} />;
}
