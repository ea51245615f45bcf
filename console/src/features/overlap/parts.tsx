/** What all pages about overlaps share. */

import type { ReactNode } from "react";
import { Link } from "react-router";
import type { Overlap } from "../../api/types";
import { itemPath } from "../../lib/text";
import { Mark } from "../../ui/marks";
import { Heading } from "../../ui/parts";
import { Tabs } from "../../ui/tabs";

const CLASSES = {
  "same-job": "does the same job as",
  near: "is near to",
  related: "is related to",
};

export const RULED = {
  "same-meaning": "it means the same",
  distinct: "distinct, they are different jobs",
  "keep-both": "keep both",
  prefer: "prefer one",
  merge: "merge",
};

const PAGES = [
  ["/overlaps", "Work-list"],
  ["/overlap-map", "Map"],
] as const;

export function OverlapHeading({ title, children }: { title: string; children: ReactNode }) {
  return (
    <>
      <Heading title={title}>{children}</Heading>
      <Tabs label="Overlaps" pages={PAGES} />
    </>
  );
}

export function OverlapMark({
  overlap,
  children,
}: {
  overlap: Pick<Overlap, "class">;
  children?: ReactNode;
}) {
  return (
    <Mark shape="circles" tone={overlap.class === "same-job" ? "amber" : "slate"}>
      {CLASSES[overlap.class]}
      {children}
    </Mark>
  );
}

const reference = (side: Overlap["a"]) => `${side.server}#${side.item}`;

export const sidesPath = (one: Pick<Overlap, "a" | "b">): string =>
  `/side-by-side?${new URLSearchParams({ a: reference(one.a), b: reference(one.b) })}`;

/**
 * The overlaps to show beside an item, which stands on either side of them.
 * That siblings of one server are merely near to each other is nothing to act on.
 */
export function overlapsOf(item: string, overlaps: Overlap[]): Overlap[] {
  const own = overlaps.flatMap((one) => {
    const inside = one.a.server === one.b.server;
    if (one.a.item === item) return [one];
    return inside && one.b.item === item ? [{ ...one, a: one.b, b: one.a }] : [];
  });
  return own.filter(
    (one) => one.class === "same-job" || (one.class === "near" && one.a.server !== one.b.server),
  );
}

/** What was ruled, where it acts: of two, which one is to be used. */
export function Ruled({ overlap, own }: { overlap: Overlap; own: Overlap["a"] }) {
  if (!overlap.ruled) return null;
  if (!overlap.preferred) return <p>Ruled: {RULED[overlap.ruled]}.</p>;
  if (overlap.preferred === reference(own) || overlap.preferred === own.server)
    return <p>Ruled: this is the one to use.</p>;
  const [server = "", item = ""] = overlap.preferred.split("#");
  return (
    <p className="mt-1 border-l-4 border-amber bg-amber-wash px-2 py-1">
      Use{" "}
      <Link
        to={item ? itemPath(server, "current", item) : `/servers/${server}`}
        className="font-mono wrap-anywhere"
      >
        {overlap.preferred}
      </Link>{" "}
      instead: that one is preferred.
    </p>
  );
}
