/** Two items side by side: what they share is plain, what only one of them has is marked. */

import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { queries } from "../../api/queries";
import type { Item, Line, Overlap } from "../../api/types";
import { useParamsOf } from "../../lib/params";
import { ownWords } from "../../lib/sides";
import { itemPath } from "../../lib/text";
import { Empty, Foreign, Heading, Loaded } from "../../ui/parts";
import { OverlapMark, RULED } from "./parts";

const parts = (reference: string) => {
  const [server = "", ...item] = reference.split("#");
  return { server, item: item.join("#") };
};

export function Component() {
  const [read] = useParamsOf();
  const [a, b] = [parts(read("a")), parts(read("b"))];
  const left = useQuery({ ...queries.items(a.server, "current"), enabled: a.server !== "" });
  const right = useQuery({ ...queries.items(b.server, "current"), enabled: b.server !== "" });
  const overlaps = useQuery({ ...queries.overlaps(a.server, "current"), enabled: a.server !== "" });
  if (!a.server || !b.server) {
    return (
      <>
        <Heading title="Side by side" />
        <Empty>Come here from an overlap: this page shows two items beside each other.</Empty>
      </>
    );
  }
  return (
    <>
      <Heading title="Side by side">
        <Link to="/overlaps">Overlaps</Link>
      </Heading>
      <Loaded query={left}>
        {(mine) => (
          <Loaded query={right}>
            {(yours) => (
              <Sides
                a={{ ...a, found: mine.items.find((one) => one.item === a.item) }}
                b={{ ...b, found: yours.items.find((one) => one.item === b.item) }}
                overlap={overlaps.data?.find(
                  (one) =>
                    one.a.item === a.item && one.b.server === b.server && one.b.item === b.item,
                )}
              />
            )}
          </Loaded>
        )}
      </Loaded>
    </>
  );
}

interface Side {
  server: string;
  item: string;
  found: Item | undefined;
}

function Sides({ a, b, overlap }: { a: Side; b: Side; overlap: Overlap | undefined }) {
  return (
    <>
      {overlap ? <Verdict overlap={overlap} /> : null}
      <div className="grid gap-px bg-rule md:grid-cols-2">
        <Page side={a} other={b.found} />
        <Page side={b} other={a.found} />
      </div>
      <p className="mt-3 text-sm text-soft">
        <mark>Marked</mark> is what only one of them says or takes.
      </p>
    </>
  );
}

function Verdict({ overlap }: { overlap: Overlap }) {
  return (
    <div className="mb-4 grid gap-x-10 gap-y-2 border border-rule bg-sheet p-4 lg:grid-cols-2">
      <div>
        <OverlapMark overlap={overlap}>
          {" "}
          the other, {overlap.score.toFixed(2)}
          {overlap.ruled ? `; ruled: ${RULED[overlap.ruled]}` : ""}
        </OverlapMark>
        <ul className="list-disc pl-5">
          {overlap.reasons.map((one) => (
            <li key={one}>
              <Foreign text={one} />
            </li>
          ))}
        </ul>
      </div>
      <div>
        <p className="text-soft">
          {Object.entries(overlap.signals)
            .map(([name, value]) => `${name} ${Math.round(100 * value)} %`)
            .join(", ")}{" "}
          alike
          {overlap.stands_in === null
            ? ""
            : `; the second could ${overlap.stands_in ? "" : "not "}stand in for the first`}
          {overlap.class === "same-job" && !overlap.ruled && overlap.newcomer
            ? `; the ${overlap.newcomer === "a" ? "first" : "second"} came later: its releases wait for a ruling`
            : ""}
        </p>
        <ul className="list-disc pl-5">
          {overlap.differences.map((one) => (
            <li key={one}>
              <Foreign text={one} />
            </li>
          ))}
        </ul>
      </div>
    </div>
  );
}

function Page({ side, other }: { side: Side; other: Item | undefined }) {
  const item = side.found;
  return (
    <article className="bg-sheet p-4 sm:p-6" aria-label={`${side.server} ${side.item}`}>
      <p className="text-soft">{side.server}</p>
      <h2 className="font-mono text-lg break-all">
        <Link to={itemPath(side.server, "current", side.item)}>
          <Foreign text={item?.name || side.item} />
        </Link>
      </h2>
      {item ? (
        <>
          <p className="mt-2 max-w-prose">
            <Words text={item.description} other={other?.description ?? ""} />
          </p>
          <Members title="takes" lines={item.parameters} other={other?.parameters ?? []} />
          <Members title="returns" lines={item.results} other={other?.results ?? []} />
        </>
      ) : (
        <p className="mt-2 text-soft">The current release has it no more.</p>
      )}
    </article>
  );
}

function Words({ text, other }: { text: string; other: string }) {
  return ownWords(text, other).map((piece) =>
    piece.own ? (
      <mark key={piece.at}>
        <Foreign text={piece.text} />
      </mark>
    ) : (
      <Foreign key={piece.at} text={piece.text} />
    ),
  );
}

function Members({ title, lines, other }: { title: string; lines: Line[]; other: Line[] }) {
  if (lines.length === 0) return <p className="mt-4 text-sm text-soft">{title} nothing said</p>;
  const there = new Map(other.map((one) => [one.name, one.type]));
  return (
    <section className="mt-4" aria-label={title}>
      <h3 className="font-sans text-sm font-normal text-soft">{title}</h3>
      <ul>
        {lines.map((line) => {
          const type = there.get(line.name);
          return (
            <li key={line.pointer} className="py-1">
              <span className="font-mono font-semibold wrap-anywhere">
                {type === undefined ? (
                  <mark>
                    <Foreign text={line.name} />
                  </mark>
                ) : (
                  <Foreign text={line.name} />
                )}
              </span>{" "}
              <span className="font-mono text-sm text-soft">
                {type !== undefined && type !== line.type ? (
                  <mark>
                    <Foreign text={line.type} />
                  </mark>
                ) : (
                  <Foreign text={line.type} />
                )}
                {line.required ? "" : ", optional"}
              </span>
              <span className="block text-sm">
                <Foreign text={line.description} />
              </span>
            </li>
          );
        })}
      </ul>
    </section>
  );
}
