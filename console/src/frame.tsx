import { Menu, MenuButton, MenuItem, MenuItems } from "@headlessui/react";
import { useMutation } from "@tanstack/react-query";
import { type ReactNode, useEffect, useRef } from "react";
import { Link, NavLink, ScrollRestoration, useLocation, useNavigation } from "react-router";
import { acts } from "./api/acts";
import type { Me } from "./api/types";
import { FindBox } from "./features/find/box";
import { Inbox } from "./features/requests/inbox";
import { useLeaveGuard } from "./ui/unsaved";

export function Frame({ me, children }: { me: Me | null; children: ReactNode }) {
  const navigation = useNavigation();
  useLeaveGuard();
  return (
    <>
      <a
        href="#content"
        className="sr-only z-30 focus:not-sr-only focus:absolute focus:bg-sheet focus:p-3"
      >
        Skip to the content
      </a>
      <header className="border-b-4 border-double border-rule">
        <div className="mx-auto flex max-w-[100rem] flex-wrap items-center gap-x-5 gap-y-3 px-4 py-3 sm:px-9">
          <Link to="/" className="font-serif text-2xl font-semibold text-ink no-underline">
            Tall Shelf
          </Link>
          {me ? (
            <>
              <Pages me={me} />
              <div className="order-4 w-full md:order-3 md:ml-auto md:w-44 2xl:w-72">
                <FindBox />
              </div>
              <Inbox />
              <Person me={me} />
            </>
          ) : null}
        </div>
      </header>
      <main
        id="content"
        tabIndex={-1}
        aria-busy={navigation.state === "loading"}
        className="mx-auto max-w-[100rem] px-4 py-8 outline-none sm:px-9"
      >
        {children}
      </main>
      <FocusOnPage />
      <ScrollRestoration />
    </>
  );
}

function Pages({ me }: { me: Me }) {
  const keeper = me.role === "curator" || me.role === "steward";
  return (
    <nav aria-label="Pages" className="order-3 flex w-full flex-wrap gap-x-5 md:order-2 md:w-auto">
      <PageLink to="/">Shelf</PageLink>
      <PageLink to="/kits">Kits</PageLink>
      <PageLink to="/requests">Requests</PageLink>
      <PageLink to="/compare">Compare</PageLink>
      <PageLink to="/overlaps">Overlaps</PageLink>
      <PageLink to="/style">House style</PageLink>
      {keeper ? <PageLink to="/ledger">Ledger</PageLink> : null}
    </nav>
  );
}

function PageLink({ to, children }: { to: string; children: ReactNode }) {
  return (
    <NavLink
      to={to}
      end={to === "/"}
      className="border-b-2 border-transparent py-1 text-soft no-underline hover:text-ink aria-[current=page]:border-act aria-[current=page]:font-semibold aria-[current=page]:text-ink"
    >
      {children}
    </NavLink>
  );
}

function Person({ me }: { me: Me }) {
  const signOut = useMutation({
    mutationFn: acts.signOut,
    onSuccess: () => window.location.assign("/"), // which drops all that the page holds
  });
  const entry =
    "block w-full cursor-pointer px-4 py-2 text-left text-ink no-underline data-focus:bg-paper data-focus:underline";
  return (
    <Menu>
      <MenuButton className="order-2 cursor-pointer py-1 text-soft hover:text-ink md:order-5">
        {me.name}, {me.role} <span aria-hidden="true">▾</span>
      </MenuButton>
      <MenuItems
        anchor={{ to: "bottom end", gap: 8 }}
        modal={false}
        className="z-10 w-56 border border-rule bg-sheet py-1 shadow-lg outline-none"
      >
        <MenuItem>
          <Link to="/me" className={entry}>
            Your page
          </Link>
        </MenuItem>
        <MenuItem>
          <Link to="/webhooks" className={entry}>
            Webhooks
          </Link>
        </MenuItem>
        {me.role === "steward" ? (
          <MenuItem>
            <Link to="/people" className={entry}>
              People
            </Link>
          </MenuItem>
        ) : null}
        <MenuItem>
          <Link to="/api-reference" className={entry}>
            The API
          </Link>
        </MenuItem>
        <MenuItem>
          <button type="button" className={entry} onClick={() => signOut.mutate()}>
            Sign out
          </button>
        </MenuItem>
      </MenuItems>
    </Menu>
  );
}

/** After a link was followed, the keyboard and the screen reader go on at the new page. */
function FocusOnPage() {
  const { pathname } = useLocation();
  const before = useRef(pathname);
  useEffect(() => {
    if (before.current === pathname) return;
    before.current = pathname;
    document.getElementById("content")?.focus({ preventScroll: true });
  }, [pathname]);
  return null;
}
