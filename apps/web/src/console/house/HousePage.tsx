import { Outlet } from 'react-router';
import { PartsNav } from '../../ui/PartsNav.js';

const PARTS = [
  { to: '/house', name: 'People' },
  { to: '/house/channels', name: 'Channels' },
  { to: '/house/access', name: 'My access' },
  { to: '/house/look', name: 'Name and look' },
  { to: '/house/record', name: 'Activity record' },
] as const;

/** Our house: who belongs to it, its channels, how one gets in, how it looks, and who changed what. */
export function HousePage() {
  return (
    <div className="px-5 pt-4 pb-8">
      <h1 className="text-[27px]">Our house</h1>
      <PartsNav label="Parts of the house" parts={PARTS} />
      <Outlet />
    </div>
  );
}
