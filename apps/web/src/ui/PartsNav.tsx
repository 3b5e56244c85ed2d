import { NavLink } from 'react-router';

interface PartsNavProps {
  /** Of what they are the parts: "Parts of the house". */
  readonly label: string;
  readonly parts: readonly { readonly to: string; readonly name: string }[];
}

/** The parts of a room, one beside the other. */
export const PartsNav = ({ label, parts }: PartsNavProps) => (
  <nav aria-label={label} className="mt-2 mb-5 flex flex-wrap gap-1 border-b border-line">
    {parts.map(({ to, name }) => (
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
);
