import { MutationCache, QueryCache, QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { RouterProvider } from "react-router";
import { Problem } from "./api/http";
import { router } from "./app";
import "./index.css";
import { applyTheme, chosenTheme } from "./lib/theme";

applyTheme(chosenTheme());

/** A session that has ended meanwhile is noticed at the first answer that says so, as is a new one. */
function noticeSignOut(error: unknown) {
  if (error instanceof Problem && error.status === 401) askWhoAmI();
}

function noticeSignIn() {
  if (client.getQueryData(["me"]) === null) askWhoAmI();
}

const askWhoAmI = () => client.invalidateQueries({ queryKey: ["me"] });

const client: QueryClient = new QueryClient({
  queryCache: new QueryCache({ onError: noticeSignOut }),
  mutationCache: new MutationCache({ onError: noticeSignOut, onSuccess: noticeSignIn }),
  defaultOptions: {
    queries: {
      staleTime: 5_000,
      networkMode: "always",
      retry: (count, error) =>
        count < 2 && (!(error instanceof Problem) || error.status === 0 || error.status >= 500),
      retryDelay: (count) => 400 * 2 ** count,
    },
    mutations: { networkMode: "always" },
  },
});

const root = document.getElementById("root");
if (root) {
  createRoot(root).render(
    <StrictMode>
      <QueryClientProvider client={client}>
        {/* Fields whose text lives in the address must follow each key at once. */}
        <RouterProvider router={router} useTransitions={false} />
      </QueryClientProvider>
    </StrictMode>,
  );
}
