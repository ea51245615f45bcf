import { useMutation, useQueryClient } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { Link, NavLink } from "react-router";
import { acts } from "./api/shelf";
import type { Me } from "./api/types";

const PAGES = [
  { to: "/", name: "Servers" },
  { to: "/requests", name: "Requests" },
  { to: "/compare", name: "Compare" },
];

export function Frame({ me, children }: { me: Me | null; children: ReactNode }) {
  return (
    <>
      <a
        href="#content"
        className="sr-only focus:not-sr-only focus:absolute focus:bg-sheet focus:p-3"
      >
        Skip to the content
      </a>
      <header className="border-b-4 border-double border-rule">
        <div className="mx-auto flex max-w-7xl flex-wrap items-baseline gap-x-8 gap-y-2 px-4 py-4 sm:px-9">
          <Link to="/" className="font-serif text-2xl font-semibold text-ink no-underline">
            Tall Shelf
          </Link>
          {me ? (
            <nav aria-label="Pages" className="flex flex-wrap gap-x-6">
              {PAGES.map((page) => (
                <NavLink
                  key={page.to}
                  to={page.to}
                  end={page.to === "/"}
                  className="border-b-2 border-transparent py-1 text-soft no-underline hover:text-ink aria-[current=page]:border-act aria-[current=page]:font-semibold aria-[current=page]:text-ink"
                >
                  {page.name}
                </NavLink>
              ))}
            </nav>
          ) : null}
          {me ? <Person me={me} /> : null}
        </div>
      </header>
      <main id="content" className="mx-auto max-w-7xl px-4 py-8 sm:px-9">
        {children}
      </main>
    </>
  );
}

function Person({ me }: { me: Me }) {
  const client = useQueryClient();
  const signOut = useMutation({
    mutationFn: acts.signOut,
    onSuccess: () => {
      client.setQueryData(["me"], null);
      client.removeQueries({ predicate: (query) => query.queryKey[0] !== "me" });
    },
  });
  return (
    <p className="ml-auto text-soft">
      {me.name}, {me.role}{" "}
      <button
        type="button"
        onClick={() => signOut.mutate()}
        className="ml-2 cursor-pointer text-act underline decoration-rule underline-offset-4"
      >
        Sign out
      </button>
    </p>
  );
}
