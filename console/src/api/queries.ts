/** What the console asks of the service. */

import { infiniteQueryOptions, queryOptions } from "@tanstack/react-query";
import { asked, part, release } from "./addresses";
import { get } from "./http";
import type {
  Comparison,
  Connection,
  DeliveryRow,
  DeputyRow,
  DeskRow,
  Ending,
  FollowingRow,
  FollowUpRow,
  Found,
  InboxEntry,
  Items,
  KindOfRequest,
  KitDetail,
  KitMatrix,
  KitRow,
  LedgerEntry,
  LookRow,
  Mail,
  NoticeRow,
  Overlap,
  OverlapGroups,
  OverlapMap,
  Page,
  PersonRow,
  Placed,
  ProposedKit,
  ProposedKnown,
  ReleaseDetail,
  ReleaseHeld,
  RequestDetail,
  RequestRow,
  Routing,
  RoutingRow,
  Rule,
  RulingRow,
  ServerDetail,
  ServerRow,
  Session,
  SessionRow,
  ShelfPicture,
  Style,
  StyleRow,
  Summary,
  Team,
  Timeline,
  TokenRow,
  UserNotes,
  WaiverRow,
  WebhookRow,
} from "./types";

/** Which servers are asked for, by the parameters of the list; what is empty does not count. */
export interface WantedServers {
  q: string;
  team: string;
  state: string;
  tag: string;
  data_class: string;
  transport: string;
}

async function everyPage<Row>(path: string, params: Record<string, string> = {}): Promise<Row[]> {
  const rows: Row[] = [];
  let cursor = "";
  do {
    const page: Page<Row> = await get(`${path}?${asked({ ...params, limit: "200", cursor })}`);
    rows.push(...page.results);
    cursor = page.next ?? "";
  } while (cursor);
  return rows;
}

const session = () => get<Session>("session");
const whoAmI = () => session().then((found) => found.person);

export const queries = {
  me: () =>
    queryOptions({
      queryKey: ["me"],
      queryFn: whoAmI,
      staleTime: 60_000,
      refetchOnWindowFocus: "always",
    }),
  ways: () =>
    queryOptions({
      queryKey: ["ways"],
      queryFn: session,
      staleTime: Number.POSITIVE_INFINITY,
    }),
  rules: () =>
    queryOptions({
      queryKey: ["rules"],
      queryFn: () => get<{ results: Rule[] }>("rules").then((page) => page.results),
      staleTime: Number.POSITIVE_INFINITY,
    }),
  routing: (version: string) =>
    queryOptions({
      queryKey: ["routing", version],
      queryFn: () => get<Routing>(`routing?${asked({ version })}`),
    }),
  routingVersions: () =>
    queryOptions({
      queryKey: ["routing", "all"],
      queryFn: () =>
        get<{ results: RoutingRow[] }>("routing/versions").then((page) => page.results),
    }),
  desks: () =>
    queryOptions({
      queryKey: ["desks"],
      queryFn: () => get<{ results: DeskRow[] }>("desks").then((page) => page.results),
    }),
  style: (version: string) =>
    queryOptions({
      queryKey: ["style", version],
      queryFn: () => get<Style>(`style?${asked({ version })}`),
    }),
  styles: () =>
    queryOptions({
      queryKey: ["style", "all"],
      queryFn: () => get<{ results: StyleRow[] }>("styles").then((page) => page.results),
    }),
  summary: () =>
    queryOptions({
      queryKey: ["findings"],
      queryFn: () => get<Summary>("findings"),
      refetchInterval: (query) => (query.state.data?.progress ? 3_000 : false),
      staleTime: 30_000,
    }),
  places: (rule: string, team: string) =>
    infiniteQueryOptions({
      queryKey: ["findings", rule, team],
      queryFn: ({ pageParam }) =>
        get<Page<Placed>>(`findings/places?${asked({ rule, team, cursor: pageParam })}`),
      initialPageParam: "",
      getNextPageParam: (page) => page.next ?? undefined,
      enabled: rule !== "",
    }),
  waivers: (params: Record<string, string> = {}) =>
    queryOptions({
      queryKey: ["waivers", params],
      queryFn: () => everyPage<WaiverRow>("waivers", params),
    }),
  rulings: (params: Record<string, string>) =>
    queryOptions({
      queryKey: ["rulings", params],
      queryFn: () => everyPage<RulingRow>("rulings", params),
    }),
  teams: () =>
    queryOptions({
      queryKey: ["teams"],
      queryFn: () => get<Page<Team>>("teams").then((page) => page.results),
      staleTime: 60_000,
    }),
  /** The shelf counted by team; the servers themselves too, where they are few. */
  shelf: (wanted: WantedServers) =>
    queryOptions({
      queryKey: ["servers", "shelf", wanted],
      queryFn: () => get<ShelfPicture>(`shelf?${asked({ ...wanted })}`),
    }),
  bay: (wanted: WantedServers) =>
    queryOptions({
      queryKey: ["servers", "bay", wanted],
      queryFn: () => everyPage<ServerRow>("servers", { ...wanted }),
    }),
  serverRows: (wanted: WantedServers, sort: string) =>
    infiniteQueryOptions({
      queryKey: ["servers", "rows", wanted, sort],
      queryFn: ({ pageParam }) =>
        get<Page<ServerRow>>(
          `servers?${asked({ ...wanted, sort, limit: "100", cursor: pageParam })}`,
        ),
      initialPageParam: "",
      getNextPageParam: (page) => page.next ?? undefined,
    }),
  firstServers: (q: string) =>
    queryOptions({
      queryKey: ["servers", "first", q],
      queryFn: () =>
        get<Page<ServerRow>>(`servers?${asked({ q, limit: "20" })}`).then((page) => page.results),
      staleTime: 30_000,
    }),
  server: (slug: string) =>
    queryOptions({
      queryKey: ["server", slug],
      queryFn: () => get<ServerDetail>(`servers/${part(slug)}`),
    }),
  timeline: (slug: string) =>
    queryOptions({
      queryKey: ["server", slug, "timeline"],
      queryFn: () => get<Timeline>(`servers/${part(slug)}/timeline`),
      staleTime: 60_000,
    }),
  release: (slug: string, version: string) =>
    queryOptions({
      queryKey: ["release", slug, version],
      queryFn: () => get<ReleaseDetail>(release(slug, version)),
    }),
  items: (slug: string, version: string) =>
    queryOptions({
      queryKey: ["items", slug, version],
      queryFn: () => get<Items>(`${release(slug, version)}/items`),
    }),
  overlaps: (slug: string, version: string) =>
    queryOptions({
      queryKey: ["overlaps", slug, version],
      queryFn: () =>
        get<{ overlaps: Overlap[] }>(`${release(slug, version)}/overlaps`).then(
          (page) => page.overlaps,
        ),
    }),
  groups: (params: { state: string; class: string; team: string; within: string }) =>
    queryOptions({
      queryKey: ["groups", params],
      queryFn: () => get<OverlapGroups>(`overlaps?${asked({ ...params, limit: "200" })}`),
    }),
  overlapMap: (team: string, server: string) =>
    queryOptions({
      queryKey: ["groups", "map", team, server],
      queryFn: () => get<OverlapMap>(`overlap-map?${asked({ team, server })}`),
    }),
  kits: (params: { q: string; team: string; trouble: string; sort: string }) =>
    infiniteQueryOptions({
      queryKey: ["kits", "rows", params],
      queryFn: ({ pageParam }) =>
        get<Page<KitRow>>(`kits?${asked({ ...params, limit: "100", cursor: pageParam })}`),
      initialPageParam: "",
      getNextPageParam: (page) => page.next ?? undefined,
    }),
  kit: (name: string) =>
    queryOptions({ queryKey: ["kits", name], queryFn: () => get<KitDetail>(`kits/${part(name)}`) }),
  proposedKits: () =>
    queryOptions({
      queryKey: ["kits", "proposed", "all"],
      queryFn: () => get<{ results: ProposedKit[] }>("kit-proposals").then((page) => page.results),
    }),
  kitMatrix: (team: string) =>
    queryOptions({
      queryKey: ["kits", "matrix", team],
      queryFn: () => get<KitMatrix>(`kit-matrix?${asked({ team })}`),
    }),
  serverKits: (slug: string) =>
    queryOptions({
      queryKey: ["server", slug, "kits"],
      queryFn: () =>
        get<{ results: ReleaseHeld[] }>(`servers/${part(slug)}/kits`).then((page) => page.results),
    }),
  ending: (slug: string, version: string, item: string) =>
    queryOptions({
      queryKey: ["server", slug, "ending", version, item],
      queryFn: () => get<Ending>(`servers/${part(slug)}/ending?${asked({ version, item })}`),
      staleTime: 10_000,
    }),
  connection: (slug: string, version: string, environment: string) =>
    queryOptions({
      queryKey: ["connection", slug, version, environment],
      queryFn: () =>
        get<Connection>(`${release(slug, version)}/connection?${asked({ environment })}`),
    }),
  comparison: (old: string, now: string) =>
    queryOptions({
      queryKey: ["comparison", old, now],
      queryFn: () => get<Comparison>(`comparison?${asked({ old, new: now })}`),
      enabled: Boolean(old && now),
    }),
  mine: () =>
    queryOptions({
      queryKey: ["requests", "mine"],
      queryFn: () => get<Page<RequestRow>>("requests?mine=true").then((page) => page.results),
      staleTime: 30_000,
    }),
  kinds: () =>
    queryOptions({
      queryKey: ["request-kinds"],
      queryFn: () =>
        get<{ results: KindOfRequest[] }>("request-kinds").then((page) => page.results),
      staleTime: Number.POSITIVE_INFINITY,
    }),
  proposedKnown: () =>
    queryOptions({
      queryKey: ["known-findings"],
      queryFn: () =>
        get<{ results: ProposedKnown[] }>("known-findings").then((page) => page.results),
    }),
  inbox: () =>
    queryOptions({
      queryKey: ["inbox"],
      queryFn: () => get<{ results: InboxEntry[] }>("inbox").then((page) => page.results),
      staleTime: 30_000,
      refetchInterval: 120_000,
    }),
  notices: () =>
    queryOptions({
      queryKey: ["notices"],
      queryFn: () =>
        get<Page<NoticeRow>>("notices?unread=true&limit=30").then((page) => page.results),
      staleTime: 30_000,
      refetchInterval: 120_000,
    }),
  followUps: (state: string) =>
    queryOptions({
      queryKey: ["follow-ups", state],
      queryFn: () =>
        get<{ results: FollowUpRow[] }>(`follow-ups?${asked({ state })}`).then(
          (page) => page.results,
        ),
    }),
  people: () =>
    queryOptions({
      queryKey: ["people"],
      queryFn: () => get<{ results: PersonRow[] }>("people").then((page) => page.results),
    }),
  deputies: () =>
    queryOptions({
      queryKey: ["deputies"],
      queryFn: () => get<{ results: DeputyRow[] }>("deputies").then((page) => page.results),
    }),
  following: () =>
    queryOptions({
      queryKey: ["following"],
      queryFn: () => get<{ results: FollowingRow[] }>("following").then((page) => page.results),
      staleTime: 60_000,
    }),
  mail: () => queryOptions({ queryKey: ["mail"], queryFn: () => get<Mail>("mail") }),
  webhooks: () =>
    queryOptions({
      queryKey: ["webhooks"],
      queryFn: () => get<{ results: WebhookRow[] }>("webhooks").then((page) => page.results),
    }),
  /** What was sent to a webhook; with 0 to everybody, by mail as well. */
  deliveries: (webhook: number, state: string) =>
    queryOptions({
      queryKey: ["deliveries", webhook, state],
      queryFn: () =>
        get<Page<DeliveryRow>>(
          `${webhook ? `webhooks/${webhook}/deliveries` : "deliveries"}?${asked({ state, limit: "50" })}`,
        ).then((page) => page.results),
      refetchInterval: 5_000,
    }),
  notes: (slug: string, version: string) =>
    queryOptions({
      queryKey: ["notes", slug, version],
      queryFn: () => get<UserNotes>(`${release(slug, version)}/notes`),
    }),
  looks: (slug: string) =>
    queryOptions({
      queryKey: ["looks", slug],
      queryFn: () =>
        get<{ results: LookRow[] }>(`servers/${part(slug)}/looks`).then((page) => page.results),
    }),
  liveRequests: () =>
    queryOptions({
      queryKey: ["requests", "live"],
      queryFn: () => everyPage<RequestRow>("requests", { state: "live" }),
    }),
  requests: (params: { state: string; kind: string; team: string; q: string }) =>
    infiniteQueryOptions({
      queryKey: ["requests", params],
      queryFn: ({ pageParam }) =>
        get<Page<RequestRow>>(`requests?${asked({ ...params, cursor: pageParam })}`),
      initialPageParam: "",
      getNextPageParam: (page) => page.next ?? undefined,
    }),
  request: (number: string) =>
    queryOptions({
      queryKey: ["request", number],
      queryFn: () => get<RequestDetail>(`requests/${part(number)}`),
    }),
  hits: (q: string, kind: string, team: string) =>
    infiniteQueryOptions({
      queryKey: ["find", q, kind, team],
      queryFn: ({ pageParam }) => get<Found>(`find?${asked({ q, kind, team, cursor: pageParam })}`),
      initialPageParam: "",
      getNextPageParam: (page) => page.next ?? undefined,
      enabled: q.trim() !== "",
    }),
  firstHits: (q: string) =>
    queryOptions({
      queryKey: ["find", "first", q],
      queryFn: () => get<Found>(`find?${asked({ q, limit: "7" })}`),
      enabled: q.trim() !== "",
      staleTime: 30_000,
    }),
  ledger: (params: Record<string, string>) =>
    infiniteQueryOptions({
      queryKey: ["ledger", params],
      queryFn: ({ pageParam }) =>
        get<Page<LedgerEntry>>(`ledger?${asked({ ...params, cursor: pageParam })}`),
      initialPageParam: "",
      getNextPageParam: (page) => page.next ?? undefined,
    }),
  tokens: () =>
    queryOptions({
      queryKey: ["tokens"],
      queryFn: () => get<Page<TokenRow>>("tokens").then((page) => page.results),
    }),
  sessions: () =>
    queryOptions({
      queryKey: ["sessions"],
      queryFn: () => get<Page<SessionRow>>("sessions").then((page) => page.results),
    }),
  openapi: () =>
    queryOptions({
      queryKey: ["openapi"],
      queryFn: () => get<unknown>("openapi.json"),
      staleTime: Number.POSITIVE_INFINITY,
    }),
};
