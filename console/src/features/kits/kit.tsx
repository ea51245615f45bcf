/** One kit: what it holds and what that may do, what is wrong, what would move, and how it came to this. */

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { lazy, Suspense, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { acts } from "../../api/acts";
import { queries } from "../../api/queries";
import type { KitBehind, KitDetail, KitLock, LockedItem } from "../../api/types";
import { day, itemPath, plural } from "../../lib/text";
import { FormDialog } from "../../ui/dialog";
import { Follow } from "../../ui/follow";
import { CopyButton, TextArea } from "../../ui/form";
import { HitItems, HitMark } from "../../ui/hits";
import { Mark, type Tone } from "../../ui/marks";
import { Code, Foreign, Heading, Loaded, Trouble } from "../../ui/parts";
import { type Column, DataTable } from "../../ui/table";

const PutDialog = lazy(() => import("./put"));

export function Component() {
  const { name = "" } = useParams();
  const kit = useQuery(queries.kit(name));
  return <Loaded query={kit}>{(found) => <Kit key={found.digest} kit={found} />}</Loaded>;
}

function Kit({ kit }: { kit: KitDetail }) {
  const [doing, setDoing] = useState<"change" | "drop" | null>(null);
  return (
    <>
      <Heading
        title={kit.title}
        aside={
          <>
            <CopyButton text={`tallshelf connect --kit ${kit.name}`}>
              Copy the connect command
            </CopyButton>
            {kit.may_keep ? (
              <>
                <button type="button" className="button" onClick={() => setDoing("change")}>
                  Change
                </button>
                <button
                  type="button"
                  className="button"
                  data-kind="grave"
                  onClick={() => setDoing("drop")}
                >
                  Drop
                </button>
              </>
            ) : null}
          </>
        }
      >
        <span className="font-mono">{kit.name}</span>, {kit.team_title}, {kit.environment}; sees{" "}
        {kit.data_class} data at most.
      </Heading>
      <p className="mb-6 max-w-[72ch]">
        <Foreign text={kit.purpose} />
      </p>
      {kit.proposed ? (
        <p className="mb-6 border-l-4 border-amber bg-amber-wash px-4 py-3">
          {kit.proposed.by} proposes {kit.proposed.raises ? "that it sees " : "another pick. "}
          {kit.proposed.raises ? (
            <>
              <strong>{kit.proposed.data_class}</strong> data.{" "}
            </>
          ) : null}
          <Link to="/kits">
            {kit.proposed.raises
              ? "A second curator answers."
              : "Owners of what it uses are asked."}
          </Link>
        </p>
      ) : null}
      <div className="grid gap-x-10 gap-y-8 lg:grid-cols-[3fr_2fr]">
        <div className="space-y-8">
          <Problems kit={kit} />
          <BehindList kit={kit} />
          <section aria-labelledby="holds">
            <h2 id="holds" className="mb-2 text-xl">
              What it holds
            </h2>
            <DataTable
              label="What it holds"
              columns={COLUMNS}
              rows={kit.lock}
              rowKey={(row) => `${row.server}#${row.item}`}
              sort="item"
            />
          </section>
          <MixUps kit={kit} />
        </div>
        <div className="space-y-8">
          <Budget kit={kit} />
          <Follow about={`kit:${kit.name}`} />
          <History locks={kit.history} />
          <section aria-labelledby="text">
            <h2 id="text" className="mb-2 text-xl">
              As it was put
            </h2>
            <p className="mb-2 text-soft">
              By {kit.put_by} on {day(kit.put_at)}; told: {kit.contacts.join(", ")}.
            </p>
            <Code label="The kit as TOML" text={kit.text} />
          </section>
        </div>
      </div>
      <Suspense>
        {doing === "change" ? (
          <PutDialog text={kit.text} digest={kit.digest} onClose={() => setDoing(null)} />
        ) : null}
      </Suspense>
      <DropDialog name={kit.name} open={doing === "drop"} onClose={() => setDoing(null)} />
    </>
  );
}

function Problems({ kit }: { kit: KitDetail }) {
  if (!kit.problems.length) return null;
  return (
    <section aria-labelledby="problems">
      <h2 id="problems" className="mb-2 text-xl">
        What is wrong with it
      </h2>
      <ul className="space-y-1">
        {kit.problems.map((one) => (
          <li key={`${one.kind} ${one.message}`}>
            <Mark shape={one.kind === "suspended" ? "dashed" : "triangle"} tone="amber">
              {one.kind.replaceAll("-", " ")}
            </Mark>{" "}
            <Foreign text={one.message} />
          </li>
        ))}
      </ul>
    </section>
  );
}

/** The servers of which its picks take another release by now. */
function BehindList({ kit }: { kit: KitDetail }) {
  const client = useQueryClient();
  const move = useMutation({
    mutationFn: (to: string) => acts.moveKit(kit.name, to),
    onSuccess: () => client.invalidateQueries(),
  });
  if (!kit.behind.length) return null;
  return (
    <section aria-labelledby="behind">
      <h2 id="behind" className="mb-2 text-xl">
        What would move
      </h2>
      {move.error ? <Trouble error={move.error} /> : null}
      <ul className="divide-y divide-rule border-y border-rule">
        {kit.behind.map((one) => (
          <li key={one.server} className="py-2">
            <BehindRow
              one={one}
              onMove={
                kit.may_keep && !move.isPending
                  ? () => move.mutate(`${one.server}@${one.takes}`)
                  : null
              }
            />
          </li>
        ))}
      </ul>
    </section>
  );
}

function BehindRow({ one, onMove }: { one: KitBehind; onMove: (() => void) | null }) {
  return (
    <>
      <div className="flex flex-wrap items-baseline gap-x-4 gap-y-1">
        <span className="font-mono font-semibold">{one.server}</span>
        <Link
          to={`/compare?old=${one.server}@${one.holds}&new=${one.server}@${one.takes}`}
          className="font-mono"
        >
          {one.holds} → {one.takes}
        </Link>
        {one.word ? (
          <HitMark word={one.word} />
        ) : (
          <Mark shape="disc" tone="moss">
            fits
          </Mark>
        )}
        {onMove ? (
          <button type="button" className="button ml-auto" data-size="small" onClick={onMove}>
            Move it
          </button>
        ) : null}
      </div>
      <p className="text-sm text-soft">
        {one.why ? (
          <>
            It does not move by itself: <Foreign text={one.why.replaceAll("`", "")} />
          </>
        ) : (
          "It follows by itself."
        )}
      </p>
      <HitItems items={one.hit_items} />
    </>
  );
}

const EFFECTS: Record<LockedItem["effect"], [string, Tone]> = {
  reads: ["ring", "moss"],
  writes: ["half", "amber"],
  destroys: ["square", "brick"],
};

const COLUMNS: Column<LockedItem>[] = [
  {
    key: "item",
    title: "Item",
    value: (row) => `${row.server} ${row.item}`,
    cell: (row) => (
      <>
        <Link
          to={`${itemPath(row.server, row.version)}#${encodeURIComponent(row.item)}`}
          className="font-mono wrap-anywhere"
        >
          <Foreign text={row.item.replace(/^tool:/, "")} />
        </Link>
        <div className="font-mono text-sm text-soft">
          {row.server}@{row.version}
        </div>
      </>
    ),
  },
  {
    key: "does",
    title: "Does",
    value: (row) => Object.keys(EFFECTS).indexOf(row.effect),
    cell: (row) => (
      <>
        <Mark shape={EFFECTS[row.effect][0]} tone={EFFECTS[row.effect][1]}>
          {row.effect}
        </Mark>
        {row.outside ? <div className="text-sm text-soft">reaches outside</div> : null}
      </>
    ),
  },
  { key: "data", title: "Data", value: (row) => row.data_class, cell: (row) => row.data_class },
  {
    key: "tokens",
    title: "Tokens",
    number: true,
    value: (row) => row.tokens,
    cell: (row) => row.tokens.toLocaleString("en"),
  },
];

function MixUps({ kit }: { kit: KitDetail }) {
  if (!kit.mix_ups.length) return null;
  return (
    <section aria-labelledby="mix-ups">
      <h2 id="mix-ups" className="mb-2 text-xl">
        What a model may mix up
      </h2>
      <ul className="space-y-1">
        {kit.mix_ups.map((one) => (
          <li key={`${one.a.server} ${one.a.item} ${one.b.server} ${one.b.item}`}>
            <code>
              {one.a.server}#{one.a.item.replace(/^tool:/, "")}
            </code>{" "}
            and{" "}
            <code>
              {one.b.server}#{one.b.item.replace(/^tool:/, "")}
            </code>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** Tokens against the budget, as a bar and in words. */
function Budget({ kit }: { kit: KitDetail }) {
  const share = kit.budget ? kit.tokens / kit.budget : 0;
  return (
    <section aria-labelledby="budget">
      <h2 id="budget" className="mb-2 text-xl">
        What it takes of a model's context
      </h2>
      <p>
        About {kit.tokens.toLocaleString("en")} tokens
        {kit.budget ? ` of ${kit.budget.toLocaleString("en")}` : "; no budget is set"} for{" "}
        {plural(kit.held_items, "item")}.
      </p>
      {kit.budget ? (
        <div aria-hidden="true" className="mt-2 h-3 border border-rule bg-sheet">
          <div
            className={`h-full ${share > 1 ? "bg-brick" : "bg-moss"}`}
            style={{ width: `${Math.min(100, share * 100)}%` }}
          />
        </div>
      ) : null}
    </section>
  );
}

function History({ locks }: { locks: KitLock[] }) {
  return (
    <section aria-labelledby="history">
      <h2 id="history" className="mb-2 text-xl">
        How it came to this
      </h2>
      <ol className="space-y-2">
        {locks.map((one) => (
          <li key={one.number} className="border-l-2 border-rule pl-3">
            <div>
              {day(one.at)}, {one.by || "by itself"}
              <span className="text-soft">
                {" "}
                · {plural(one.held_items, "item")}, {one.tokens.toLocaleString("en")} tokens
              </span>
            </div>
            <ul className="font-mono text-sm text-soft">
              {one.moves.map((move) => (
                <li key={move.server}>
                  {move.server} {move.before || "new"} → {move.after || "none"}
                  {move.before && move.gained.length ? `, +${move.gained.length}` : ""}
                  {move.after && move.lost.length ? `, −${move.lost.length}` : ""}
                </li>
              ))}
            </ul>
          </li>
        ))}
      </ol>
    </section>
  );
}

function DropDialog({ name, open, onClose }: { name: string; open: boolean; onClose: () => void }) {
  const client = useQueryClient();
  const navigate = useNavigate();
  const drop = useMutation({
    mutationFn: (reason: string) => acts.dropKit(name, reason),
    onSuccess: () => {
      navigate("/kits");
      client.invalidateQueries();
    },
  });
  return (
    <FormDialog
      title={`Drop ${name}`}
      open={open}
      onClose={onClose}
      onSend={(form) => drop.mutate(String(form.get("reason")).trim())}
      send="Drop it"
      grave
      busy={drop.isPending}
      error={drop.error}
    >
      <p>Nobody is told any more of changes that hit it. Its locks are kept.</p>
      <TextArea label="Why" name="reason" required maxLength={2000} />
    </FormDialog>
  );
}
