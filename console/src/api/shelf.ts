/** What the console asks of the service, as queries and acts. */

import { infiniteQueryOptions, queryOptions } from "@tanstack/react-query";
import { call, get, lines, post } from "./http";
import type {
  Answer,
  Checkpoint,
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
  Invited,
  Items,
  KindOfRequest,
  KitCheck,
  KitDetail,
  KitMatrix,
  KitPut,
  KitRow,
  LedgerEntry,
  LookRow,
  MadeToken,
  MadeWebhook,
  Mail,
  Me,
  NewPerson,
  NewRequest,
  NewRuling,
  NewServer,
  NewToken,
  NewWaiver,
  NewWebhook,
  NoticeRow,
  Overlap,
  OverlapGroups,
  OverlapMap,
  Page,
  PersonEdit,
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
  RoutingRehearsal,
  Rule,
  RulingRow,
  ServerDetail,
  ServerEdit,
  ServerRow,
  Session,
  SessionRow,
  ShelfPicture,
  Style,
  StyleEffect,
  StyleRow,
  Summary,
  Team,
  Timeline,
  TokenRow,
  UserNotes,
  Verified,
  WaiverRow,
  Way,
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

const part = encodeURIComponent;
const release = (slug: string, version: string) =>
  `servers/${part(slug)}/releases/${part(version)}`;

/** Write the parameters that have a value. */
function asked(params: Record<string, string>): string {
  return new URLSearchParams(Object.entries(params).filter(([, value]) => value)).toString();
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

export const acts = {
  signIn: (body: { username: string; password: string }) =>
    post<{ person: Me }>("session", body).then((session) => session.person),
  readNotices: (upto: number) => post("notices/read", { upto }),
  follow: (body: { about: string; how: Way | "default" }) =>
    call<{ results: FollowingRow[] }>("PUT", "following", { body }),
  setMail: (body: { address?: string; how?: Mail["how"] }) => call<Mail>("PATCH", "mail", { body }),
  confirmMail: (code: string) => post<Mail>("mail/confirmation", { code }),
  makeWebhook: (body: NewWebhook) => post<MadeWebhook>("webhooks", body),
  rotateWebhook: (number: number) => post<MadeWebhook>(`webhooks/${number}/secret`),
  tryWebhook: (number: number) => post<WebhookRow>(`webhooks/${number}/trial`),
  endWebhook: (number: number, reason: string) =>
    post<WebhookRow>(`webhooks/${number}/end`, { reason }),
  resend: (key: string) => post<void>(`deliveries/${part(key)}/resend`),
  leaveNote: (slug: string, version: string, text: string) =>
    post<UserNotes>(`${release(slug, version)}/notes`, { text }),
  answerNote: (number: number, text: string) => post(`user-notes/${number}/answer`, { text }),
  removeNote: (number: number) => call<void>("DELETE", `user-notes/${number}`),
  signOut: () => call<void>("DELETE", "session"),
  enrol: (body: NewServer) => post<ServerDetail>("servers", body),
  edit: (server: ServerDetail, body: ServerEdit) =>
    call<ServerDetail>("PATCH", `servers/${part(server.slug)}`, {
      body,
      headers: { "If-Match": `"${server.record_digest}"` },
    }),
  answerKnown: (id: number, answer: "agree" | "decline", note: string) =>
    post(`known-findings/${id}/answer`, { answer, note }),
  checkKit: (text: string) => post<KitCheck>("kit-check", { text }),
  putKit: (body: { text: string; reason: string }, seen: string) =>
    call<KitPut>("POST", "kits", { body, headers: seen ? { "If-Match": `"${seen}"` } : {} }),
  moveKit: (name: string, to: string) => post(`kits/${part(name)}/moves`, { to }),
  dropKit: (name: string, reason: string) => post(`kits/${part(name)}/drop`, { reason }),
  answerKit: (name: string, answer: "agree" | "decline", note: string) =>
    post(`kits/${part(name)}/answer`, { answer, note }),
  suspend: (body: { server: string; item: string; reason: string }) => post("suspensions", body),
  ask: (body: NewRequest) => post<RequestDetail>("requests", body),
  take: (number: number, handOn: boolean) =>
    post<RequestDetail>(`requests/${number}/taking`, { hand_on: handOn }),
  comment: (
    number: number,
    body: {
      text: string;
      kind: "remark" | "question" | "objection";
      item: string;
      pointer: string;
    },
  ) => post<RequestDetail>(`requests/${number}/comments`, body),
  answerComment: (number: number, comment: number, text: string) =>
    post<RequestDetail>(`requests/${number}/comments/${comment}/answers`, { text }),
  closeFollowUp: (number: number, note: string) =>
    post<FollowUpRow>(`follow-ups/${number}/closing`, { note }),
  nameDeputy: (body: { deputy: string; until: string }) =>
    post<{ results: DeputyRow[] }>("deputies", body),
  verifyLedger: (kept: string) =>
    get<Verified>(`ledger/verification?${asked({ checkpoint: kept.trim() })}`),
  checkpoint: () => get<Checkpoint>("ledger/checkpoint"),
  addPerson: (body: NewPerson) => post<Invited>("people", body),
  changePerson: (username: string, body: PersonEdit) =>
    call<{ results: PersonRow[] }>("PATCH", `people/${part(username)}`, { body }),
  invite: (username: string) => post<Invited>(`people/${part(username)}/invitation`),
  endSessions: (username: string) => call<void>("DELETE", `people/${part(username)}/sessions`),
  makeTokenFor: (username: string, body: NewToken) =>
    post<MadeToken>(`people/${part(username)}/tokens`, body),
  acceptInvite: (body: { code: string; password: string }) => post<void>("invitation", body),
  endDeputy: (number: number) => call<void>("DELETE", `deputies/${number}`),
  answer: (
    number: number,
    body: {
      answer: Answer;
      release_digest: string;
      assessment_digest: string;
      note: string;
      desk: string;
      conditions?: { text: string; owner: string; due: string }[];
      despite?: { gate: string; reason: string }[];
    },
  ) => post<RequestDetail>(`requests/${number}/sign-offs`, body),
  assess: (number: number) => post<RequestDetail>(`requests/${number}/assessment`),
  previewStyle: (text: string, onStep: (done: number, of: number) => void) =>
    lines<StyleEffect | { done: number; of: number }>("style/effect", { text }, (line) => {
      if ("done" in line) onStep(line.done, line.of);
    }) as Promise<StyleEffect>,
  applyStyle: (body: { text: string; note: string; seen: number }) => post<Style>("style", body),
  answerStyle: (version: number, body: { answer: "agree" | "decline"; note: string }) =>
    post<Style>(`styles/${version}/answer`, body),
  tryRouting: (text: string, days: number) =>
    post<RoutingRehearsal>("routing/rehearsal", { text, days }),
  applyRouting: (body: { text: string; note: string; seen: number }) =>
    post<Routing>("routing", body),
  answerRouting: (version: number, body: { answer: "agree" | "decline"; note: string }) =>
    post<Routing>(`routing/versions/${version}/answer`, body),
  rule: (body: NewRuling) => post<RulingRow>("rulings", body),
  answerRuling: (number: number, body: { answer: "agree" | "decline" | "end"; note: string }) =>
    post<RulingRow>(`rulings/${number}/answer`, body),
  askWaiver: (body: NewWaiver) => post<WaiverRow>("waivers", body),
  answerWaiver: (number: number, body: { answer: "grant" | "refuse" | "end"; note: string }) =>
    post<WaiverRow>(`waivers/${number}/answer`, body),
  publish: (number: number) => post<RequestDetail>(`requests/${number}/publication`),
  takeBack: (number: number) => post<RequestDetail>(`requests/${number}/take-back`),
  makeToken: (body: NewToken) => post<MadeToken>("tokens", body),
  endToken: (number: number) => call<void>("DELETE", `tokens/${number}`),
  endSession: (number: number) => call<void>("DELETE", `sessions/${number}`),
  changePassword: (body: { old: string; new: string }) => post<void>("password", body),
};
