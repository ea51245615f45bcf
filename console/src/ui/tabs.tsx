/** Pages that belong together, and the way from one to the other. */

import { NavLink } from "react-router";

export function Tabs({
  label,
  pages,
}: {
  label: string;
  pages: readonly (readonly [to: string, words: string])[];
}) {
  return (
    <nav aria-label={label} className="mb-6 flex flex-wrap gap-x-6 gap-y-1 border-b border-rule">
      {pages.map(([to, words]) => (
        <NavLink
          key={to}
          to={to}
          end
          className="-mb-px border-b-2 border-transparent py-1.5 text-soft no-underline hover:text-ink aria-[current=page]:border-act aria-[current=page]:font-semibold aria-[current=page]:text-ink"
        >
          {words}
        </NavLink>
      ))}
    </nav>
  );
}
