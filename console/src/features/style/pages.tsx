/** The pages of the house style, and the way from one to the other. */

import { NavLink } from "react-router";
import { Heading } from "../../ui/parts";

const PAGES = [
  ["/style", "In force"],
  ["/rules", "Rules"],
  ["/findings", "Findings"],
  ["/waivers", "Waivers"],
] as const;

export function StyleHeading({ title, children }: { title: string; children: React.ReactNode }) {
  return (
    <>
      <Heading title={title}>{children}</Heading>
      <nav
        aria-label="House style"
        className="mb-6 flex flex-wrap gap-x-6 gap-y-1 border-b border-rule"
      >
        {PAGES.map(([to, words]) => (
          <NavLink
            key={to}
            to={to}
            className="-mb-px border-b-2 border-transparent py-1.5 text-soft no-underline hover:text-ink aria-[current=page]:border-act aria-[current=page]:font-semibold aria-[current=page]:text-ink"
          >
            {words}
          </NavLink>
        ))}
      </nav>
    </>
  );
}
