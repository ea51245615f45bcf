/** Who did what, newest first; filters live in the address. */

import { useInfiniteQuery } from "@tanstack/react-query";
import { type FormEvent, Fragment } from "react";
import { Link } from "react-router";
import { queries } from "../../api/queries";
import type { LedgerEntry, LedgerEvent } from "../../api/types";
import { useParamsOf } from "../../lib/params";
import { short } from "../../lib/text";
import { Select } from "../../ui/form";
import { Foreign, Heading, Json, Loaded, NoMatches } from "../../ui/parts";
import { Scrolling } from "../../ui/table";
import { Shown } from "./shown";

/** Every event of the ledger; one that the service adds and this lacks fails the type check. */
const WORDS: Record<LedgerEvent, string> = {
  "release-submitted": "release submitted",
  "snapshot-replaced": "snapshot replaced",
  "signed-off": "signed off",
  reassessed: "reassessed",
  "request-taken-back": "request taken back",
  "release-published": "release published",
  "release-declined": "release declined",
  "release-deprecated": "release deprecated",
  "item-deprecated": "item deprecated",
  "item-kept": "item kept after all",
  "release-withdrawn": "release withdrawn",
  "item-purged": "item purged",
  "release-adopted": "release adopted",
  suspended: "suspended",
  "suspension-lifted": "suspension lifted",
  "data-class-changed": "data class changed",
  "version-scheme-changed": "version scheme changed",
  "request-opened": "request opened",
  "request-changed": "request changed",
  "request-declined": "request declined",
  "request-taken": "request taken",
  "request-handed-on": "request handed on",
  commented: "commented",
  "follow-up-closed": "follow-up closed",
  "deputy-named": "deputy named",
  "deputy-ended": "deputy ended",
  "desk-reminded": "desk reminded",
  "request-risen": "request escalated to a lead",
  "server-enrolled": "server enrolled",
  "server-edited": "server edited",
  "rules-changed": "rules changed",
  "style-proposed": "house style proposed",
  "style-declined": "house style declined",
  "style-in-force": "house style in force",
  "waiver-asked": "waiver asked for",
  "waiver-granted": "waiver granted",
  "waiver-refused": "waiver refused",
  "waiver-ended": "waiver ended",
  "ruling-proposed": "ruling proposed",
  "ruling-in-force": "ruling in force",
  "ruling-declined": "ruling declined",
  "ruling-ended": "ruling ended",
  "waiver-bound": "waiver bound to its text",
  "known-proposed": "accepted findings proposed",
  "known-accepted": "findings accepted as known",
  "known-declined": "accepted findings declined",
  "known-bound": "accepted findings bound to their texts",
  "chain-keyed": "chain keyed",
  restored: "restored from a backup",
  "tables-taken": "tables taken in",
  "known-shrunk": "accepted findings fixed",
  "rules-proposed": "routing rules proposed",
  "rules-declined": "routing rules declined",
  "team-added": "team added",
  "desk-added": "desk added",
  "desk-joined": "desk joined",
  "person-added": "person added",
  "person-invited": "person invited",
  "person-changed": "person changed",
  "issuer-known": "known to the issuer",
  "desk-left": "desk left",
  "desk-led": "desk led by another",
  "token-made": "token made",
  "token-ended": "token ended",
  "password-changed": "password changed",
  "session-ended": "session ended",
  "kit-put": "kit put",
  "kit-raise-proposed": "kit proposed to see more",
  "kit-raise-declined": "kit not let see more",
  "kit-moved": "kit moved",
  "kit-dropped": "kit dropped",
  "kit-put-asked": "kit waits for owners",
  "use-allowed": "use allowed",
  "use-changed": "use asks from now on",
  "note-left": "note left",
  "note-answered": "note answered",
  "note-removed": "note removed",
  "webhook-made": "webhook made",
  "webhook-rotated": "webhook given a new secret",
  "webhook-ended": "webhook ended",
  "waiver-due": "waiver about to end",
  "follow-up-due": "follow-up due",
  "last-day-nears": "last day nears",
  "drift-seen": "drift seen",
  "drift-over": "runs as approved again",
};

export function Component() {
  const [read, write] = useParamsOf();
  const asked = { event: read("event"), subject: read("subject"), actor: read("actor") };
  const ledger = useInfiniteQuery(queries.ledger(asked));
  function submit(event: FormEvent<HTMLFormElement>) {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    write({
      subject: String(form.get("subject")).trim(),
      actor: String(form.get("actor")).trim(),
    });
  }
  return (
    <>
      <Heading title="Ledger">
        Every act, in order. Each entry carries the hash of the one before it.
      </Heading>
      <Shown />
      <form
        key={`${asked.subject} ${asked.actor}`}
        onSubmit={submit}
        className="mb-6 grid grid-cols-2 items-end gap-4 sm:grid-cols-4 lg:max-w-4xl"
      >
        <Select
          label="Event"
          choices={[["", "all"], ...Object.entries(WORDS)]}
          value={asked.event}
          onChange={(event) => write({ event: event.target.value })}
        />
        <label>
          <span className="mb-1 block">Server, account or desk</span>
          <input name="subject" defaultValue={asked.subject} className="field font-mono" />
        </label>
        <label>
          <span className="mb-1 block">Done by</span>
          <input name="actor" defaultValue={asked.actor} className="field font-mono" />
        </label>
        <button type="submit" className="button" data-kind="main">
          Show
        </button>
      </form>
      <Loaded query={ledger}>
        {({ pages }) => {
          const entries = pages.flatMap((page) => page.results);
          return entries.length === 0 ? (
            <NoMatches />
          ) : (
            <>
              <Entries entries={entries} />
              {ledger.hasNextPage ? (
                <button
                  type="button"
                  className="button mt-4"
                  disabled={ledger.isFetchingNextPage}
                  onClick={() => ledger.fetchNextPage()}
                >
                  Older
                </button>
              ) : null}
            </>
          );
        }}
      </Loaded>
    </>
  );
}

function Entries({ entries }: { entries: LedgerEntry[] }) {
  const cell = "border-b border-rule px-4 py-2 align-top";
  return (
    <Scrolling label="Ledger">
      <table className="w-full min-w-[52rem] border-collapse text-left">
        <thead>
          <tr className="text-soft">
            {["No.", "When (UTC)", "Event", "About", "By", "Hash"].map((name) => (
              <th key={name} scope="col" className="border-b-2 border-rule px-4 py-2 font-medium">
                {name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {entries.map((one) => (
            <tr key={one.number}>
              <td className={`${cell} tabular-nums`}>{one.number}</td>
              <td className={`${cell} whitespace-nowrap`}>
                {one.at.slice(0, 16).replace("T", " ")}
              </td>
              <td className={`${cell} font-semibold whitespace-nowrap`}>
                {one.event.replaceAll("-", " ")}
              </td>
              <td className={cell}>
                <Subject entry={one} />
                <details>
                  <summary className="text-sm">Whole entry</summary>
                  <Json label={`Entry ${one.number}`} value={one.body} />
                </details>
              </td>
              <td className={cell}>
                <span className="font-mono text-sm">{one.actor}</span>
                <div className="text-xs text-soft">{one.via}</div>
              </td>
              <td className={`${cell} font-mono text-xs text-soft`}>{short(one.hash)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </Scrolling>
  );
}

function Subject({ entry }: { entry: LedgerEntry }) {
  const body = entry.body as Record<string, unknown>;
  const [version, request, reason] = [body.version, body.request, body.reason ?? body.note];
  return (
    <>
      {typeof body.server === "string" ? (
        <Link to={`/servers/${entry.subject}`} className="font-mono">
          {entry.subject}
        </Link>
      ) : (
        <span className="font-mono">{entry.subject}</span>
      )}
      {typeof version === "string" ? <span className="font-mono"> {version}</span> : null}
      {typeof request === "number" ? (
        <Fragment>
          {", "}
          <Link to={`/requests/${request}`}>request {request}</Link>
        </Fragment>
      ) : null}
      {typeof reason === "string" && reason ? (
        <div className="text-sm text-soft">
          <Foreign text={reason} />
        </div>
      ) : null}
    </>
  );
}
