import { type ReactNode, useEffect, useRef } from "react";
import { Link, NavLink, ScrollRestoration, useLocation, useNavigation } from "react-router";
import type { Me } from "./api/types";
import { FindBox } from "./features/find/box";
import { Inbox } from "./features/requests/inbox";
import { useLeaveGuard } from "./ui/unsaved";
import { WhenTouched } from "./ui/when-touched";

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
  return (
    <WhenTouched
      load={() => import("./features/person/menu").then((one) => one.PersonMenu)}
      part={{ me }}
      opens="Enter"
      className="order-2 md:order-5"
      standIn={
        <button
          type="button"
          aria-haspopup="menu"
          aria-expanded="false"
          className="cursor-pointer py-1 text-soft hover:text-ink"
        >
          {me.name}, {me.role} <span aria-hidden="true">▾</span>
        </button>
      }
    />
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
