import { Outlet } from 'react-router';
import { PartsNav } from '../../ui/PartsNav.js';
import { HOUSE_TEXT } from '../../words/console/house.js';

const PARTS = [
  { to: '/house', name: 'People' },
  { to: '/house/channels', name: 'Channels' },
  { to: '/house/access', name: HOUSE_TEXT.myAccess },
  { to: '/house/look', name: HOUSE_TEXT.nameAndLook },
  { to: '/house/language', name: HOUSE_TEXT.language },
  { to: '/house/record', name: HOUSE_TEXT.activityRecord },
] as const;

/** Our house: who belongs to it, its channels, how one gets in, how it looks, and who changed what. */
export function HousePage() {
  return (
    <div className="px-5 pt-4 pb-8">
      <h1 className="text-[27px]">{HOUSE_TEXT.ourHouse}</h1>
      <PartsNav label={HOUSE_TEXT.partsOfTheHouse} parts={PARTS} />
      <Outlet />
    </div>
  );
}
