import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import {
  createBrowserRouter,
  Outlet,
  type RouteObject,
  useLocation,
  useRouteError,
} from "react-router";
import { queries } from "./api/queries";
import { InvitationPage } from "./features/session/invitation";
import { SignInPage } from "./features/session/sign-in";
import { ShelfPage } from "./features/shelf/page";
import { Frame } from "./frame";
import { Empty, Heading, Loaded, Trouble, Waiting } from "./ui/parts";
import { anythingUnsaved } from "./ui/unsaved";

/** A page that is loaded when it is first opened. */
const page = (path: string, load: () => Promise<{ Component: () => React.ReactNode }>) =>
  ({
    path,
    lazy: load,
    HydrateFallback: Waiting,
    errorElement: <Broken />,
  }) satisfies RouteObject;

export const router = createBrowserRouter([
  {
    path: "/",
    element: <Shell />,
    errorElement: <Broken />,
    HydrateFallback: Waiting,
    children: [
      { index: true, element: <ShelfPage />, errorElement: <Broken /> },
      page("find", () => import("./features/find/page")),
      page("servers/:slug", () => import("./features/servers/page")),
      page("servers/:slug/:version", () => import("./features/releases/page")),
      page("compare", () => import("./features/compare/page")),
      page("requests", () => import("./features/requests/queue")),
      page("requests/:number", () => import("./features/requests/page")),
      page("follow-ups", () => import("./features/requests/follow-ups")),
      page("kits", () => import("./features/kits/page")),
      page("kits/:name", () => import("./features/kits/kit")),
      page("kit-matrix", () => import("./features/kits/matrix")),
      page("overlaps", () => import("./features/overlap/page")),
      page("overlap-map", () => import("./features/overlap/map")),
      page("side-by-side", () => import("./features/overlap/sides")),
      page("style", () => import("./features/style/page")),
      page("findings", () => import("./features/style/findings")),
      page("waivers", () => import("./features/style/waivers")),
      page("routing", () => import("./features/routing/page")),
      page("rules", () => import("./features/style/rules")),
      page("ledger", () => import("./features/ledger/page")),
      page("people", () => import("./features/people/page")),
      page("webhooks", () => import("./features/webhooks/page")),
      page("me", () => import("./features/person/page")),
      page("api-reference", () => import("./features/api/page")),
      { path: "*", element: <Nowhere /> },
    ],
  },
]);

function Shell() {
  const me = useQuery(queries.me());
  return (
    <Frame me={me.data ?? null}>
      <Loaded query={me}>
        {(person) =>
          person || anythingUnsaved() ? (
            <>
              {person ? null : <SignedOut />}
              <Outlet />
            </>
          ) : (
            <Door />
          )
        }
      </Loaded>
    </Frame>
  );
}

/** Over a page that cannot go yet, since something typed into it would go with it. */
function SignedOut() {
  return (
    <div role="alert" className="mb-6 border-l-4 border-brick bg-brick-wash px-4 py-3">
      You are signed out.{" "}
      <a href="/" target="_blank" rel="noopener">
        Sign in in another window
      </a>
      , then go on here: what you have typed is still there.
    </div>
  );
}

/** What stands before the shelf: signing in, or choosing a password by an invitation. */
function Door() {
  const client = useQueryClient();
  useEffect(() => {
    // Nothing of whoever was signed in stays for the next.
    client.removeQueries({
      predicate: (query) => !["me", "ways"].includes(String(query.queryKey[0])),
    });
  }, [client]);
  return useLocation().pathname === "/invitation" ? <InvitationPage /> : <SignInPage />;
}

function Nowhere() {
  return (
    <>
      <Heading title="Nothing here" />
      <Empty>There is no page at this address.</Empty>
    </>
  );
}

/** What stands where a page could not be drawn: its code did not load, or it failed. */
function Broken() {
  const error = useRouteError();
  const unloaded = error instanceof TypeError && /import|fetch|module/i.test(error.message);
  return (
    <>
      <Heading title="This page did not open" />
      <Trouble error={error} onRetry={() => window.location.reload()}>
        {unloaded
          ? "Its code could not be loaded: the service may be gone, or was just upgraded."
          : "Reload it; if it stays so, tell a steward what you did."}
      </Trouble>
    </>
  );
}
