import { NavLink, Outlet } from 'react-router';

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
      <nav aria-label="Parts of the house" className="mt-2 mb-5 flex flex-wrap gap-1 border-b border-line">
        {PARTS.map(({ to, name }) => (
          <NavLink
            key={to}
            to={to}
            end
            className="-mb-px border-b-[3px] border-transparent px-2.5 py-1.5 text-ink-soft hover:text-ink aria-[current=page]:border-pine aria-[current=page]:font-semibold aria-[current=page]:text-ink"
          >
            {name}
          </NavLink>
        ))}
      </nav>
      <Outlet />
    </div>
  );
}
