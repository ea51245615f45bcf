/** The picture of the shelf: a bay for each team, a spine for each server, walked by the arrow keys. */

import { useQueries } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { Link } from "react-router";
import { queries, type WantedServers } from "../../api/queries";
import type { ShelfPicture } from "../../api/types";
import { useParamsOf } from "../../lib/params";
import {
  type Bay,
  bays as baysOf,
  isWhole,
  LEAST,
  lettering,
  type Mine,
  roomy,
  type Spine,
} from "../../lib/spines";
import { plural } from "../../lib/text";
import { Trouble, Waiting } from "../../ui/parts";
import { SpineCard } from "./card";

/** Room above the tallest spine of a row, for the tab that stands out. */
const HEADROOM = 18;

interface Shown {
  slug: string;
  at: DOMRect;
}

export function Shelf({
  found,
  asked,
  mine,
}: {
  found: ShelfPicture;
  asked: WantedServers;
  mine: Mine;
}) {
  const [read, write] = useParamsOf();
  const [shown, setShown] = useState<Shown | null>(null);
  const [stop, setStop] = useState("");
  const hiding = useRef<ReturnType<typeof setTimeout>>(undefined);
  const open = roomy(found);
  const turned = new Set(read("bays").split(",").filter(Boolean));
  const isOpen = (team: string) => open !== turned.has(team);
  const opened = isWhole(found) ? [] : found.bays.map((bay) => bay.team).filter(isOpen);
  const coming = useQueries({
    queries: opened.map((team) => queries.bay({ ...asked, team })),
  });
  const bays = baysOf(found, mine, (team) => coming[opened.indexOf(team)]?.data);
  const spines = bays.flatMap((bay) => (isOpen(bay.team) ? (bay.spines ?? []) : []));
  const first = spines[0]?.row.slug ?? "";
  const known = spines.some((spine) => spine.row.slug === stop);
  const shownSpine = shown && spines.find((spine) => spine.row.slug === shown.slug);

  function show(spine: Spine, element: Element) {
    clearTimeout(hiding.current);
    setShown({ slug: spine.row.slug, at: element.getBoundingClientRect() });
  }
  function hide() {
    clearTimeout(hiding.current);
    hiding.current = setTimeout(() => setShown(null), 120);
  }
  function turn(team: string) {
    const next = new Set(turned);
    if (!next.delete(team)) next.add(team);
    write({ bays: [...next].sort().join(",") });
  }
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: it only moves the focus among the links in it
    <div
      className="flex flex-wrap items-end gap-y-6"
      onKeyDown={(event) => {
        if (event.key === "Escape") setShown(null);
        else walk(event);
      }}
    >
      {bays.map((bay) =>
        isOpen(bay.team) ? (
          <OpenBay
            key={bay.team}
            bay={bay}
            coming={coming[opened.indexOf(bay.team)]}
            stop={known ? stop : first}
            {...(open ? {} : { onClose: () => turn(bay.team) })}
            onShow={show}
            onHide={hide}
            onStop={setStop}
          />
        ) : (
          <ClosedBay
            key={bay.team}
            bay={bay}
            largest={found.largest.items}
            onOpen={() => turn(bay.team)}
          />
        ),
      )}
      {shown && shownSpine ? (
        <SpineCard
          spine={shownSpine}
          at={shown.at}
          onEnter={() => clearTimeout(hiding.current)}
          onLeave={hide}
        />
      ) : null}
    </div>
  );
}

function OpenBay({
  bay,
  coming,
  stop,
  onClose,
  onShow,
  onHide,
  onStop,
}: {
  bay: Bay;
  coming: { error: Error | null; refetch: () => unknown } | undefined;
  stop: string;
  onClose?: () => void;
  onShow: (spine: Spine, element: Element) => void;
  onHide: () => void;
  onStop: (slug: string) => void;
}) {
  const heading = `bay-${bay.team}`;
  const spines = bay.spines ?? [];
  const tallest = Math.max(LEAST.height, ...spines.map((spine) => spine.height));
  const width = spines.reduce((sum, spine) => sum + spine.width + 3, 28);
  return (
    <section
      aria-labelledby={heading}
      className="grow"
      style={{ flexBasis: `min(100%, ${width}px)` }}
    >
      {bay.spines ? null : coming?.error ? (
        <Trouble error={coming.error} onRetry={() => coming.refetch()} />
      ) : (
        <Waiting />
      )}
      <ul
        className="bay"
        data-bay={bay.team}
        style={{ "--row": `${tallest + HEADROOM}px` } as React.CSSProperties}
      >
        {spines.map((spine) => (
          <li key={spine.row.slug}>
            <Link
              to={`/servers/${spine.row.slug}`}
              className="spine"
              data-spine={spine.row.slug}
              data-state={spine.state}
              {...(spine.row.suspended ? { "data-suspended": true } : {})}
              tabIndex={spine.row.slug === stop ? 0 : -1}
              style={
                {
                  height: spine.height,
                  width: spine.width,
                  "--hue": `var(--hue-${bay.hue})`,
                } as React.CSSProperties
              }
              onMouseEnter={(event) => onShow(spine, event.currentTarget)}
              onMouseLeave={onHide}
              onFocus={(event) => {
                onStop(spine.row.slug);
                onShow(spine, event.currentTarget);
              }}
              onBlur={onHide}
            >
              <SpineMarks spine={spine} />
              <span
                className="spine-name"
                style={{ fontSize: lettering(spine.row.slug, spine.height) }}
              >
                {spine.row.slug}
              </span>
              <span className="font-mono text-sm">
                <span className="sr-only">, items: </span>
                {spine.items}
              </span>
              <span className="sr-only">{said(spine)}</span>
            </Link>
          </li>
        ))}
      </ul>
      <h2 id={heading} className="mt-1.5 px-3.5 text-lg">
        {bay.title}{" "}
        <span className="font-sans text-base font-normal text-soft">
          {plural(bay.counts.servers, "server")}
        </span>
        {onClose ? (
          <button type="button" className="plain ml-3 font-sans text-base" onClick={onClose}>
            Close
          </button>
        ) : null}
      </h2>
    </section>
  );
}

/** What the marks of a spine say, in words. */
function said(spine: Spine): string {
  const words = [
    spine.state === "deprecated" ? "deprecated" : "",
    spine.state === "empty" ? "no release yet" : "",
    spine.row.waiting ? "in review" : "",
    spine.row.suspended ? "suspended" : "",
    spine.mine ? "waits for you" : "",
  ].filter(Boolean);
  return words.length ? `, ${words.join(", ")}` : "";
}

function SpineMarks({ spine }: { spine: Spine }) {
  return (
    <>
      {spine.mine ? (
        <span
          aria-hidden="true"
          className="absolute -top-3 left-1.5 h-4 w-5 rounded-t-xs border border-b-0 border-amber bg-amber-wash"
        />
      ) : null}
      {spine.row.waiting ? (
        <svg
          aria-hidden="true"
          viewBox="0 0 10 30"
          className="absolute top-0 right-1.5 h-8 w-2.5 fill-[#f3e2ae] stroke-[#5c4a1a]"
        >
          <path d="M0 0h10v30l-5-6-5 6z" strokeWidth="1" />
        </svg>
      ) : null}
    </>
  );
}

/** A closed bay: how full it is, as a row of thin edges, and a button that opens it. */
function ClosedBay({ bay, largest, onOpen }: { bay: Bay; largest: number; onOpen: () => void }) {
  const { servers, items, waiting, suspended, deprecated, edges } = bay.counts;
  const marks = [
    [waiting, "in review"],
    [suspended, "suspended"],
    [deprecated, "deprecated"],
    [bay.mine, "waiting for you"],
  ].filter(([number]) => number);
  return (
    <section className="min-w-56 grow basis-64" aria-labelledby={`bay-${bay.team}`}>
      <button
        type="button"
        aria-expanded={false}
        onClick={onOpen}
        className="group block w-full cursor-pointer text-left"
      >
        <span
          aria-hidden="true"
          className="flex h-24 items-end gap-px overflow-hidden border-b-12 border-board px-3.5"
        >
          {edges.map((size, index) => (
            <span
              // biome-ignore lint/suspicious/noArrayIndexKey: an edge is its place and nothing else
              key={index}
              className="min-w-0.5 grow"
              style={{
                height: `${30 + 66 * (size / (largest || 1))}%`,
                maxWidth: 12,
                background: `var(--hue-${bay.hue})`,
              }}
            />
          ))}
        </span>
        <span
          id={`bay-${bay.team}`}
          className="mt-1.5 block px-3.5 font-serif text-lg font-semibold group-hover:underline"
        >
          {bay.title}
        </span>
        <span className="block min-h-12 px-3.5 text-soft">
          {plural(servers, "server")}, {plural(items, "item")}
          {marks.map(([number, word]) => `, ${number} ${word}`).join("")}
        </span>
      </button>
    </section>
  );
}

/** Arrow keys walk from spine to spine, and by bays; Home and End go to the ends. */
function walk(event: React.KeyboardEvent<HTMLElement>) {
  const spines = [...event.currentTarget.querySelectorAll<HTMLElement>("[data-spine]")];
  const here = spines.indexOf(document.activeElement as HTMLElement);
  if (here < 0) return;
  const bayOf = (spine: HTMLElement) => spine.closest<HTMLElement>("[data-bay]")?.dataset.bay;
  const starts = spines.flatMap((spine, index) =>
    index === 0 || bayOf(spine) !== bayOf(spines[index - 1] as HTMLElement) ? [index] : [],
  );
  const to = {
    ArrowRight: here + 1,
    ArrowLeft: here - 1,
    ArrowDown: starts.find((start) => start > here),
    ArrowUp: starts.filter((start) => start < here).at(-1),
    Home: 0,
    End: spines.length - 1,
  }[event.key];
  if (to === undefined || !spines[to]) return;
  event.preventDefault();
  spines[to].focus();
}

export function Legend() {
  const swatch = "inline-block size-4 shrink-0 align-[-3px]";
  return (
    <ul aria-label="Legend" className="mt-6 flex flex-wrap gap-x-6 gap-y-2 px-3.5 text-soft">
      <li>
        <svg
          aria-hidden="true"
          viewBox="0 0 10 16"
          className="mr-1.5 inline-block h-4 w-2.5 fill-[#f3e2ae] stroke-[#5c4a1a] align-[-3px]"
        >
          <path d="M0 0h10v16l-5-5-5 5z" />
        </svg>
        in review
      </li>
      <li>
        <span
          aria-hidden="true"
          className={`${swatch} mr-1.5`}
          style={{
            background:
              "repeating-linear-gradient(135deg, var(--ink) 0 2px, transparent 2px 5px), var(--sheet)",
          }}
        />
        deprecated
      </li>
      <li>
        <span
          aria-hidden="true"
          className={`${swatch} mr-1.5 bg-sheet outline-2 -outline-offset-2 outline-brick outline-dashed`}
        />
        suspended
      </li>
      <li>
        <span
          aria-hidden="true"
          className={`${swatch} mr-1.5 bg-sheet outline-1 -outline-offset-1 outline-soft outline-dotted`}
        />
        no release yet
      </li>
      <li>
        <span
          aria-hidden="true"
          className="mr-1.5 inline-block h-3 w-4 rounded-t-xs border border-b-0 border-amber bg-amber-wash"
        />
        waits for you
      </li>
    </ul>
  );
}
