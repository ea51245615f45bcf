/** What the console asks of the service, as queries and acts. */

import { queryOptions } from "@tanstack/react-query";
import { call, get, post } from "./http";
import type {
  Answer,
  Comparison,
  Connection,
  Items,
  Me,
  Page,
  ReleaseRow,
  RequestDetail,
  RequestRow,
  ServerDetail,
  ServerRow,
} from "./types";

const part = encodeURIComponent;

async function allServers(): Promise<ServerRow[]> {
  const rows: ServerRow[] = [];
  let cursor: string | null = null;
  do {
    const page: Page<ServerRow> = await get(
      `servers?limit=200${cursor ? `&cursor=${part(cursor)}` : ""}`,
    );
    rows.push(...page.results);
    cursor = page.next;
  } while (cursor);
  return rows;
}

const whoAmI = () => get<{ person: Me | null }>("session").then((session) => session.person);

export const queries = {
  me: () => queryOptions({ queryKey: ["me"], queryFn: whoAmI, staleTime: 60_000 }),
  servers: () => queryOptions({ queryKey: ["servers"], queryFn: allServers }),
  server: (slug: string) =>
    queryOptions({
      queryKey: ["server", slug],
      queryFn: () => get<ServerDetail>(`servers/${part(slug)}`),
    }),
  release: (slug: string, version: string) =>
    queryOptions({
      queryKey: ["release", slug, version],
      queryFn: () => get<ReleaseRow>(`servers/${part(slug)}/releases/${part(version)}`),
    }),
  items: (slug: string, version: string) =>
    queryOptions({
      queryKey: ["items", slug, version],
      queryFn: () => get<Items>(`servers/${part(slug)}/releases/${part(version)}/items`),
    }),
  connection: (slug: string, version: string, environment: string) =>
    queryOptions({
      queryKey: ["connection", slug, version, environment],
      queryFn: () =>
        get<Connection>(
          `servers/${part(slug)}/releases/${part(version)}/connection?environment=${part(environment)}`,
        ),
    }),
  comparison: (old: string, now: string) =>
    queryOptions({
      queryKey: ["comparison", old, now],
      queryFn: () => get<Comparison>(`comparison?old=${part(old)}&new=${part(now)}`),
      enabled: Boolean(old && now),
    }),
  requests: (state: string) =>
    queryOptions({
      queryKey: ["requests", state],
      queryFn: () =>
        get<Page<RequestRow>>(`requests?state=${part(state)}`).then((one) => one.results),
    }),
  request: (number: string) =>
    queryOptions({
      queryKey: ["request", number],
      queryFn: () => get<RequestDetail>(`requests/${part(number)}`),
    }),
};

export const acts = {
  signIn: (body: { username: string; password: string }) =>
    post<{ person: Me }>("session", body).then((session) => session.person),
  signOut: () => call<void>("DELETE", "session"),
  answer: (
    number: number,
    body: { answer: Answer; release_digest: string; note: string; desk: string },
  ) => post<RequestDetail>(`requests/${number}/sign-offs`, body),
  publish: (number: number) => post<RequestDetail>(`requests/${number}/publication`),
  takeBack: (number: number) => post<RequestDetail>(`requests/${number}/take-back`),
};
