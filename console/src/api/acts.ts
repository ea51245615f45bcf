/** What the console has done by the service. */

import { asked, part, release } from "./addresses";
import { call, get, lines, post } from "./http";
import type {
  Answer,
  Checkpoint,
  DeputyRow,
  FollowingRow,
  FollowUpRow,
  Invited,
  KitCheck,
  KitPut,
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
  PersonEdit,
  PersonRow,
  RequestDetail,
  Routing,
  RoutingRehearsal,
  RulingRow,
  ServerDetail,
  ServerEdit,
  Style,
  StyleEffect,
  UserNotes,
  Verified,
  WaiverRow,
  Way,
  WebhookRow,
} from "./types";

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
