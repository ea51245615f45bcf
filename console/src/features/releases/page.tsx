/** One release: its items as a model reads them, with findings beside the text they are about. */

import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Link, useLocation, useParams } from "react-router";
import { queries } from "../../api/queries";
import type { Items, Overlap, ReleaseDetail } from "../../api/types";
import { useParamsOf } from "../../lib/params";
import { paged } from "../../lib/rows";
import { day, plural, short, when } from "../../lib/text";
import { SearchField } from "../../ui/form";
import { LevelMark, Mark, StateMark } from "../../ui/marks";
import { Empty, Foreign, Heading, Loaded } from "../../ui/parts";
import { Pager } from "../../ui/table";
import { AskDialog } from "../requests/ask";
import { Waiving } from "../style/waive";
import { overlapsOf } from "../overlap/parts";
import { Findings, type AskOfItem, ItemSheet } from "./item";
import { ReleaseKits } from "./kits";
import { Notes } from "./notes";

const PAGE = 60;

export function Component() {
  const { slug = "", version = "" } = useParams();
  const release = useQuery(queries.release(slug, version));
  const items = useQuery(queries.items(slug, version));
  const overlaps = useQuery(queries.overlaps(slug, version));
  const server = useQuery(queries.server(slug));
  const [asked, setAsked] = useState<AskOfItem | null>(null);
  const asks = server.data?.may_ask && server.data.current_version === version;
  return (
    <>
      <Loaded query={release}>{(found) => <Head release={found} />}</Loaded>
      {release.data ? (
        <Loaded query={items}>
          {(found) => (
            <Waiving value={{ server: slug, may: Boolean(server.data?.may_edit.length) }}>
              <Contents
                items={found}
                overlaps={overlaps.data ?? []}
                onAsk={asks ? setAsked : null}
              />
            </Waiving>
          )}
        </Loaded>
      ) : null}
      {release.data ? <Notes server={slug} version={version} /> : null}
      <AskDialog wish={asked ? { ...asked, server: slug } : null} onClose={() => setAsked(null)} />
    </>
  );
}

function Head({ release }: { release: ReleaseDetail }) {
  const server = useQuery(queries.server(release.server));
  const [act, setAct] = useState<"deprecate" | "withdraw" | null>(null);
  const may = server.data?.may_ask;
  const older = server.data?.releases ?? [];
  const base = older[older.findIndex((one) => one.version === release.version) + 1];
  return (
    <>
      <Heading
        name={`${release.server} ${release.version}`}
        title={
          <>
            <Link
              to={`/servers/${release.server}`}
              className="text-ink no-underline hover:underline"
            >
              {release.server}
            </Link>{" "}
            <span className="font-mono text-2xl">{release.version}</span>
          </>
        }
        aside={
          <>
            {base ? (
              <Link
                className="button"
                to={`/compare?old=${release.server}@${base.version}&new=${release.server}@${release.version}`}
              >
                Compare with {base.version}
              </Link>
            ) : null}
            {may && release.state === "published" ? (
              <button type="button" className="button" onClick={() => setAct("deprecate")}>
                Ask to deprecate
              </button>
            ) : null}
            {may && ["published", "deprecated"].includes(release.state) ? (
              <button type="button" className="button" onClick={() => setAct("withdraw")}>
                Ask to withdraw
              </button>
            ) : null}
          </>
        }
      >
        <StateMark state={release.state} />{" "}
        <span className="ml-2">
          {plural(release.item_count, "item")}, about {release.tokens.toLocaleString("en")} tokens;
          submitted by {release.submitted_by} on {when(release.submitted_at)}, {release.origin},
          digest <span className="font-mono">{short(release.digest)}</span>
        </span>
      </Heading>
      {release.suspensions.map((one) => (
        <p key={one.id} className="mb-4 border-l-4 border-brick bg-brick-wash px-4 py-3">
          <Mark shape="diamond" tone="brick">
            suspended
          </Mark>{" "}
          since {day(one.at)}, {one.item ? <Foreign text={one.item} /> : "the whole server"}:{" "}
          <Foreign text={one.reason} />
        </p>
      ))}
      {release.despite.map((one) => (
        <p key={`${one.gate} ${one.by}`} className="mb-4 border-l-4 border-amber px-4 py-2">
          {one.by} agreed despite {one.gate.replaceAll("-", " ")}: “<Foreign text={one.reason} />”
        </p>
      ))}
      {release.end_reason ? (
        <p className="mb-6 border-l-4 border-amber bg-amber-wash px-4 py-3">
          {release.state === "withdrawn" ? "Withdrawn" : "Deprecated"}
          {release.ended_at ? ` on ${day(release.ended_at)}` : ""}:{" "}
          <Foreign text={release.end_reason} />.
          {release.sunset_at ? ` It is not to be used after ${day(release.sunset_at)}.` : ""}
          {release.replacement ? (
            <>
              {" "}
              Use{" "}
              <Link to={`/servers/${release.replacement.replace("@", "/")}`}>
                {release.replacement}
              </Link>{" "}
              instead.
            </>
          ) : null}
        </p>
      ) : null}
      <ReleaseKits server={release.server} version={release.version} base={base?.version} />
      <AskDialog
        wish={act ? { kind: act, server: release.server, version: release.version } : null}
        onClose={() => setAct(null)}
      />
    </>
  );
}

function Contents({
  items,
  overlaps,
  onAsk,
}: {
  items: Items;
  overlaps: Overlap[];
  onAsk: ((asked: AskOfItem) => void) | null;
}) {
  const [read, write] = useParamsOf();
  const { hash } = useLocation();
  const wanted = read("item").toLowerCase();
  const shown = items.items.filter((item) =>
    `${item.name} ${item.description}`.toLowerCase().includes(wanted),
  );
  const linked = shown.findIndex((item) => hash === `#${encodeURIComponent(item.item)}`);
  const asked = Number(read("page"));
  const page = paged(shown, asked || (linked < 0 ? 1 : Math.floor(linked / PAGE) + 1), PAGE);
  useEffect(() => {
    if (!hash) return;
    document.getElementById(decodeURIComponent(hash.slice(1)))?.scrollIntoView();
  }, [hash]);
  return (
    <div className="grid gap-8 lg:grid-cols-[16rem_1fr]">
      <nav
        aria-label="Items"
        className="lg:sticky lg:top-4 lg:max-h-[94vh] lg:self-start lg:overflow-y-auto"
      >
        <SearchField
          label="Name or words"
          value={read("item")}
          onSearch={(item) => write({ item, page: null })}
        />
        <TokenBars items={items} shown={page.rows} />
      </nav>
      <div className="space-y-6">
        {items.instructions ? (
          <p className="max-w-prose border-l-4 border-rule pl-4">
            <span className="text-soft">Instructions to the model: </span>
            <Foreign text={items.instructions} />
          </p>
        ) : null}
        <Findings findings={items.findings} />
        {items.items.length === 0 ? <Empty>This release declares no item.</Empty> : null}
        {items.items.length > 0 && shown.length === 0 ? (
          <Empty>No item has “{wanted}”.</Empty>
        ) : null}
        {page.rows.map((item) => (
          <ItemSheet
            key={`${item.item} ${item.digest}`}
            item={item}
            overlaps={overlapsOf(item.item, overlaps)}
            onAsk={onAsk}
          />
        ))}
        <Pager
          label="Pages of items"
          page={page.page}
          pages={page.pages}
          rows={shown.length}
          noun="item"
          onPage={(next) => write({ page: String(next) })}
        />
        <p className="text-sm text-soft">
          Tokens: {items.token_method}.{" "}
          <a href={`/api/v1/servers/${items.server}/releases/${useParams().version}/snapshot`}>
            The whole snapshot as JSON
          </a>
        </p>
      </div>
    </div>
  );
}

/** Where the tokens go, item by item, with the worst finding of each. */
function TokenBars({ items, shown }: { items: Items; shown: Items["items"] }) {
  const largest = Math.max(1, ...items.items.map((item) => item.tokens));
  return (
    <ul className="mt-3 hidden space-y-0.5 lg:block">
      {shown.map((item) => {
        const worst = (["error", "warning", "note"] as const).find((level) =>
          item.findings.some((one) => one.level === level && !one.known && !one.waived),
        );
        return (
          <li key={`${item.item} ${item.digest}`}>
            <a
              href={`#${encodeURIComponent(item.item)}`}
              className="block py-1 no-underline hover:underline"
            >
              <span className="flex items-baseline justify-between gap-2">
                <span className="font-mono text-sm wrap-anywhere">
                  <Foreign text={item.name || "(no name)"} />
                </span>
                <span className="flex shrink-0 items-center gap-1 text-sm text-soft">
                  {worst ? <LevelMark level={worst} /> : null}
                  {item.tokens}
                  <span className="sr-only"> tokens</span>
                </span>
              </span>
              <span
                aria-hidden="true"
                className="block h-1 bg-board"
                style={{ width: `${(100 * item.tokens) / largest}%` }}
              />
            </a>
          </li>
        );
      })}
    </ul>
  );
}
