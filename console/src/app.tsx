import { useQuery } from "@tanstack/react-query";
import { Route, Routes } from "react-router";
import { queries } from "./api/shelf";
import { ComparePage } from "./features/compare/page";
import { ReleasePage } from "./features/releases/page";
import { QueuePage } from "./features/requests/queue";
import { RequestPage } from "./features/requests/request";
import { ServerPage } from "./features/servers/server";
import { ServersPage } from "./features/servers/servers";
import { SignInPage } from "./features/session/sign-in";
import { Frame } from "./frame";
import { Empty, Loaded } from "./ui/parts";

export function App() {
  const me = useQuery(queries.me());
  return (
    <Frame me={me.data ?? null}>
      <Loaded query={me}>
        {(person) =>
          person === null ? (
            <SignInPage />
          ) : (
            <Routes>
              <Route path="/" element={<ServersPage />} />
              <Route path="/servers/:slug" element={<ServerPage />} />
              <Route path="/servers/:slug/:version" element={<ReleasePage />} />
              <Route path="/compare" element={<ComparePage />} />
              <Route path="/requests" element={<QueuePage />} />
              <Route path="/requests/:number" element={<RequestPage />} />
              <Route path="*" element={<Empty>There is no page at this address.</Empty>} />
            </Routes>
          )
        }
      </Loaded>
    </Frame>
  );
}
